// A picture that is taken along: while the file comes, its HTML with its description goes to the
// clipboard.
import { tell } from './notice.js';
import { own } from './own.js';

document.addEventListener('submit', async (e) => {
  const id = e.target.dataset?.take;
  if (!id) return;
  e.preventDefault();
  const how = new URLSearchParams(new FormData(e.target));
  const says = e.target.querySelector('.take-says');
  says.textContent = 'The file is being made…';
  const res = await fetch(own(`/pictures/${id}/take/words?${how}`), { headers: { 'HX-Request': 'true' } });
  if (!res.ok) {
    says.textContent = '';
    document.getElementById('notice').outerHTML = await res.text();
    return;
  }
  const taken = await res.json();
  const size = `${taken.name}, ${taken.width} × ${taken.height}.`;
  try {
    await navigator.clipboard.writeText(taken.html);
    says.textContent = `${size} Its HTML, with the description, is on the clipboard.`;
  } catch {
    const text = Object.assign(document.createElement('textarea'), { value: taken.html, readOnly: true, rows: 3 });
    text.setAttribute('aria-label', 'Its HTML, with the description');
    says.replaceChildren(`${size} Copy its HTML from here:`, text);
    text.select();
    tell('', 'The clipboard is closed to this page.', 'Copy the HTML from the field.');
  }
  location.href = own(`/pictures/${id}/take?${how}`); // a download: the screen stays
});

// Who types a width means it.
document.addEventListener('input', (e) => {
  const form = e.target.closest?.('[data-take]');
  if (form && e.target.name === 'width' && e.target.value) form.elements.slot.value = '';
});
