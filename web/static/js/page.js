// A page: keys that lead from gap to gap, from words to words and from finding to
// finding, and that move blocks.
import './finish.js';
import './page-drag.js';
import './page-panel.js';
import './page-roam.js';
import './page-together.js';
import { on } from './keys.js';
import { own } from './own.js';

for (const [key, what] of [
  ['i', '.gap'],
  ['w', '[data-write]'],
  ['f', '#findings a, #findings button'],
]) {
  on(key, () => {
    const all = [...document.querySelectorAll(what)];
    all[(all.indexOf(document.activeElement) + 1) % all.length]?.focus();
  });
}
on('Alt+ArrowUp', () => moveHeld(-1));
on('Alt+ArrowDown', () => moveHeld(1));

// moveHeld moves the current block.
function moveHeld(by) {
  const held = document.activeElement.closest?.('[data-block]');
  if (!held || !screen().works) return false;
  const { block } = held.dataset,
    grip = held.querySelector('.grip') ? '.grip' : '.hold';
  htmx
    .ajax('POST', own(`/pages/${screen().id}/move`), {
      values: { block, by },
      target: '#page-screen',
      swap: 'outerHTML',
    })
    .then(() => document.querySelector(`[data-block="${block}"] ${grip}`)?.focus());
  return true;
}

// When the tray opens, the hand is in it; when a picture is placed, it is seen.
document.addEventListener('htmx:afterSwap', () => {
  const open = document.querySelector('#placing');
  if (!open) return;
  const focus = document.activeElement;
  if (!focus || focus === document.body)
    (
      document.querySelector('#finish-alt') ??
      open.querySelector('.tray :checked') ??
      open.querySelector('.in-tray input, .in-tray button, .tray a') ??
      open.querySelector('input:not([type=hidden])')
    )?.focus();
});

// What is being written is kept in the browser, too, until the server has it: a
// lost connection or a closed lid loses nothing.
const screen = () => document.getElementById('page-screen').dataset;
const draftOf = (form) => `mivlet-words-${screen().id}-${form.elements.block.value}`;
document.addEventListener('input', (e) => {
  const form = e.target.name === 'text' && e.target.closest('.write'); // the editor writes into it
  if (form)
    localStorage.setItem(draftOf(form), JSON.stringify({ text: e.target.value, mark: form.elements.mark.value }));
});
document.addEventListener('htmx:afterRequest', (e) => {
  const form = e.detail.requestConfig.elt.closest?.('.write'); // it has left the page by now
  if (form && e.detail.successful) localStorage.removeItem(draftOf(form));
});
function pickUp() {
  const form = document.querySelector('.write');
  if (!form) return;
  const field = form.elements.text;
  if (document.activeElement !== field) field.focus();
  if (!form.dataset.begun) field.setSelectionRange(field.value.length, field.value.length);
  form.dataset.begun = 'yes';
  const kept = JSON.parse(localStorage.getItem(draftOf(form)) ?? 'null');
  if (kept && !form.querySelector('.clash')) Object.assign(field, { value: kept.text });
  if (kept) form.elements.mark.value = form.querySelector('.clash') ? form.elements.mark.value : kept.mark;
}
document.addEventListener('htmx:afterSettle', pickUp);
pickUp();
document.addEventListener('keydown', (e) => {
  if (e.key === 'Enter' && (e.ctrlKey || e.metaKey || e.target.matches('input')) && e.target.closest('.write')) {
    e.preventDefault();
    e.target.blur();
  }
});

// Who types an address chooses that the picture leads there, before the form is sent.
document.addEventListener(
  'change',
  (e) => {
    const choice = e.target.id && e.target.value && document.querySelector(`[data-needs="${e.target.id}"]`);
    if (choice) choice.checked = true;
  },
  true,
);

// A choice that needs a field leads to it, and waits until it is filled.
document.addEventListener(
  'change',
  (e) => {
    const need = e.target.dataset?.needs && document.getElementById(e.target.dataset.needs);
    if (!need || need.value) return;
    e.stopPropagation();
    need.focus();
  },
  true,
);

// Where a finding leads is brought into view. On a narrow screen the panel stands below the page:
// there it is what is brought into view when it opens for something else.
let shown = '';
document.addEventListener('htmx:afterSettle', (e) => {
  if (e.target.closest?.('.panel')) return; // only a part of the panel came
  const held = document.querySelector('.placed.held'),
    write = document.querySelector('.write'),
    what = held ? `${held.dataset.block}:${held.dataset.nth}` : '',
    opened = what !== shown;
  shown = what;
  const below = matchMedia('(max-width: 1100px)').matches;
  if (write || !below) (write ?? held)?.scrollIntoView({ block: 'nearest' });
  else if (held && opened) document.getElementById('panel').scrollIntoView();
});
