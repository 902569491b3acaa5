// All albums: a ZIP that is chosen becomes one.
import { on } from './keys.js';
import { sendFile } from './send-file.js';

document.addEventListener('change', async (e) => {
  if (e.target.id !== 'zip' || !e.target.files.length) return;
  const file = e.target.files[0],
    say = document.getElementById('bringing');
  say.textContent = `${file.name} is on its way…`;
  await sendFile(`/albums/zip?${new URLSearchParams({ section: e.target.form.section.value })}`, file);
  say.textContent = '';
  e.target.value = '';
});
on('n', () => document.getElementById('title')?.focus());
