// The Bench: its hands, its keys, and what belongs to no hand of its own.
import { bench, id } from './stage.js';
import './view.js'; // first: its hands come before all others
import './straighten.js';
import './veils.js';
import './faces.js';
import './frame.js';
import './compare.js';
import './together.js';
import { reveal } from './thumb.js';
import { on } from './keys.js';
import { own } from './own.js';

on('Enter', (e) => {
  if (e.target.closest?.('button, a, summary')) return false;
  next();
});
for (const [key, field] of [
  ['f', 'frame'],
  ['n', 'name'],
  ['d', 'alt'],
])
  on(key, () => {
    reveal(document.getElementById(field));
    document.getElementById(field).focus();
  });
on(',', () => beside(-1));
on('.', () => beside(1));

// beside goes to a picture before or after this one in the batch.
function beside(by) {
  const links = [...document.querySelectorAll('.batch a')];
  const here = links.findIndex((a) => a.hasAttribute('aria-current'));
  const to = links[here + by];
  if (to) location.href = to.href;
}

// next goes on to what lacks something; the ratio that the hand was held to comes
// along.
function next() {
  location.href = own(`/bench/${id}/next?${new URLSearchParams({ ratio: document.getElementById('ratio').value })}`);
}

// A picture that one has come to from the one before is held to its ratio, too. Any other is
// held to that of its slot.
const ratio = document.getElementById('ratio'),
  before = new URLSearchParams(location.search).get('ratio');
if (before && ratio.value === '' && [...ratio.options].some((o) => o.value === before)) ratio.value = before;

// In the fields of name and description, Ctrl+Enter keeps what was typed and goes on.
bench.addEventListener('keydown', (e) => {
  if (e.key !== 'Enter' || !(e.ctrlKey || e.metaKey) || !e.target.matches('#name, #alt')) return;
  e.preventDefault();
  e.target.blur();
  const settled = () => {
    if (!document.querySelector('.htmx-request')) {
      document.removeEventListener('htmx:afterOnLoad', settled);
      next();
    }
  };
  if (document.querySelector('.htmx-request'))
    document.addEventListener('htmx:afterOnLoad', () => setTimeout(settled));
  else settled();
});

// Fields send themselves when they change; Enter must not send them twice.
bench.addEventListener('submit', (e) => e.preventDefault());
