// Keys that every station shares: ? for the list, g and a letter to go, and
// letters that press the button which names them in data-key.
import './connection.js';
import { isTyping } from './typing.js';

const stations = { a: '/arrivals', b: '/bench', p: '/pages', l: '/live', r: '/ruler', s: '/shelves', h: '/rules' };
let going = false;

addEventListener('keydown', (e) => {
  const undo = (e.ctrlKey || e.metaKey) && e.key.toLowerCase() === 'z';
  if (undo && !isTyping(e.target)) { e.preventDefault(); press(e.shiftKey ? 'r' : 'u'); return; }
  if (e.ctrlKey || e.metaKey || e.altKey) return;
  if (e.key === 'Escape' && !document.querySelector('dialog[open]')) { press('Escape'); return; }
  if (isTyping(e.target)) return;
  if (e.key === '?') { document.getElementById('keys')?.showModal(); return; }
  if (going && stations[e.key]) { location.href = stations[e.key]; return; }
  going = e.key === 'g';
  if (going) { setTimeout(() => { going = false; }, 1500); return; }
  if (press(e.key)) e.preventDefault();
});

function press(key) {
  const button = document.querySelector(`[data-key="${CSS.escape(key)}"]:not([disabled])`);
  button?.click();
  return Boolean(button);
}

// A proposal fills the field it is for.
addEventListener('click', (e) => {
  const button = e.target.closest?.('[data-fill]');
  if (!button) return;
  const field = button.form.elements[button.dataset.fill];
  field.value = button.textContent;
  field.dispatchEvent(new Event('change', { bubbles: true }));
});

addEventListener('click', (e) => {
  if (e.target.closest?.('[data-close]')) document.getElementById('notice').replaceChildren();
});

// What was sent may be redrawn by its own answer, however many others are under
// way.
let sent = null;
document.addEventListener('htmx:beforeSwap', (e) => {
  const elt = e.detail.requestConfig.elt;
  sent = elt.closest?.('form') ?? elt;
});

// What was unfolded stays unfolded.
document.addEventListener('htmx:oobBeforeSwap', (e) => {
  for (const open of e.detail.target.querySelectorAll('details[id][open]')) e.detail.fragment?.getElementById?.(open.id)?.setAttribute('open', '');
});

// A part of the screen that somebody is typing in is not taken when an answer
// would redraw it: what was typed is never lost. What somebody else did (it comes
// to the tools) leaves it alone before the first letter, too.
document.addEventListener('htmx:oobBeforeSwap', (e) => {
  const here = document.activeElement;
  const target = e.detail.target;
  if (isTyping(here) && !sent?.contains(here) && target !== here && target.contains(here) && (here.value !== here.defaultValue || sent?.id === 'tools') && !e.detail.fragment?.querySelector?.('.finding.stop')) {
    e.detail.shouldSwap = false;
  }
});
