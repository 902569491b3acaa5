// A button copies what stands in a field.
import { say } from './say.js';

document.addEventListener('click', async (e) => {
  const field = document.getElementById(e.target.closest?.('[data-copies]')?.dataset.copies);
  if (!field) return;
  field.select(); // for Ctrl+C, where a page may not write to the clipboard
  try {
    await navigator.clipboard.writeText(field.value);
    say('Copied.');
  } catch {
    say('Press Ctrl+C to copy it.');
  }
});
