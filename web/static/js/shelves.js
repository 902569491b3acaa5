// Shelves: ticks and what is done with the ticked ones.
import './list.js';
import { on } from './keys.js';
const hall = document.getElementById('shelves');
const boxes = () => [...document.querySelectorAll('#acts input[name=picture]')];

function count() {
  const n = boxes().filter((b) => b.checked).length;
  document.getElementById('chosen-count').textContent = n;
  document.getElementById('acts-bar').hidden = n === 0;
  const all = document.getElementById('all');
  all.checked = n > 0 && n === boxes().length;
}
document.addEventListener('change', (e) => {
  if (e.target.id === 'all')
    boxes().forEach((b) => {
      b.checked = e.target.checked;
    });
  if (e.target.closest('.sort')) e.target.form.submit();
  count();
});
let last = null;
document.addEventListener('click', (e) => {
  if (e.target.matches('[data-clear]')) document.getElementById('plan').replaceChildren();
  if (!e.target.matches('#acts input[name=picture]')) return;
  const all = boxes();
  if (e.shiftKey && last) {
    // a stretch at once
    const [a, b] = [all.indexOf(last), all.indexOf(e.target)].sort((x, y) => x - y);
    all.slice(a, b + 1).forEach((box) => {
      box.checked = e.target.checked;
    });
  }
  last = e.target;
  count();
});
on('/', () => document.getElementById('search').focus());
on('t', () => document.getElementById('all').click());
on(',', () => document.getElementById('before')?.click());
on('.', () => document.getElementById('after')?.click());
document.addEventListener('htmx:afterSwap', (e) => {
  if (e.target.id === 'plan') e.target.scrollIntoView({ block: 'nearest' });
});
if (hall) count();
