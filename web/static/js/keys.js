// The one registry of keys. A screen's list of keys (behind ?) is the only one: a script may
// take no key that it does not tell of. What nothing takes presses the button that names
// the key in data-key.
import './connection.js';
import './say.js';
import { isTyping } from './typing.js';
import { own } from './own.js';

const listed = new Set([...document.querySelectorAll('#keys [data-press]')].map((k) => k.dataset.press));
const acts = new Map(); // what was registered for a key, first come, first asked

// on has keys do something on this screen, wherever nobody types and no dialog is open.
// act returns false where it has nothing to do at the moment: the next one is asked then.
// The other modifiers of a named key (Shift, and Alt where the name has none) are act's to
// look at.
export function on(keys, act) {
  for (const key of keys.split(' ')) {
    if (!listed.has(key)) throw new Error(`The list of keys does not tell of ${key}.`);
    acts.set(key, [...(acts.get(key) ?? []), act]);
    for (const k of document.querySelectorAll(`#keys [data-press="${CSS.escape(key)}"]`)) k.dataset.taken = 'yes';
  }
}

// nameOf is the name of what was pressed: the key, after Alt+ or Ctrl+ where they are held.
function nameOf(e) {
  const key = e.key === ' ' ? 'Space' : e.key === '−' ? '-' : e.key;
  return `${e.altKey ? 'Alt+' : ''}${e.ctrlKey || e.metaKey ? 'Ctrl+' : ''}${key}`;
}

// wayOf is the way that an arrow key points, as steps to the right and down; undefined for others.
export const wayOf = (e) => ({ ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] })[e.key];

// Who speaks to the machine, or whose hands tremble, can turn single letters and signs off
// (WCAG 2.1, 2.1.4 Character Key Shortcuts); this browser keeps that.
const lettersOff = () => localStorage.getItem('mivlet-letters') === 'off';
const letters = document.getElementById('letter-keys');
if (letters) letters.checked = !lettersOff();
letters?.addEventListener('change', () => localStorage.setItem('mivlet-letters', letters.checked ? 'on' : 'off'));

// run asks what was registered for a key, then the buttons; it reports whether one acted.
function run(name, e) {
  const all = [...(acts.get(name) ?? []), ...(/^[1-9]$/.test(name) ? (acts.get('Digit') ?? []) : [])];
  return all.some((act) => act(e) !== false) || press(name);
}

addEventListener('keydown', (e) => {
  if (e.defaultPrevented || document.querySelector('dialog[open]')) return;
  const name = nameOf(e);
  // Escape leads out of a field, too.
  if (name === 'Escape') {
    run(name, e);
    return;
  }
  if (isTyping(e.target) || (lettersOff() && [...name].length === 1)) return;
  if (name.toLowerCase() === 'ctrl+z') {
    e.preventDefault();
    press(e.shiftKey ? 'r' : 'u');
    return;
  }
  if (run(name, e)) e.preventDefault();
});

// fold closes the menu or form that lies open around the hand, innermost first, and gives the
// hand to what opens it again; else a menu that lies over the screen. What was typed in it stays.
function fold(hand) {
  const open = hand.closest?.('details[open]') ?? document.querySelector('.who[open]');
  if (!open) return false;
  open.open = false;
  open.querySelector('summary').focus();
  return true;
}

// A menu over the screen closes when the hand goes elsewhere.
addEventListener('pointerdown', (e) => {
  for (const menu of document.querySelectorAll('.who[open]')) if (!menu.contains(e.target)) menu.open = false;
});

function press(key) {
  const button = document.querySelector(`[data-key="${CSS.escape(key)}"]:not([disabled])`);
  button?.click();
  return Boolean(button);
}

// ---- on every screen ----
const stations = {
  a: '/arrivals',
  b: '/bench',
  p: '/pages',
  l: '/live',
  f: '/findings',
  r: '/ruler',
  s: '/shelves',
  h: '/rules',
  n: '/banners',
};
let going = false;
addEventListener(
  'keydown',
  (e) => {
    const to = going && !isTyping(e.target) && stations[e.key];
    going = false;
    if (!to) return;
    e.stopImmediatePropagation();
    location.href = own(to);
  },
  true,
);
if (listed.has('g')) {
  on('g', () => {
    going = true;
    setTimeout(() => {
      going = false;
    }, 1500);
  });
  on('Escape', (e) => fold(e.target)); // before what a screen does with it
  on('?', () => document.getElementById('keys').showModal());
}

addEventListener('click', (e) => {
  if (e.target.closest?.('[data-keys]')) document.getElementById('keys').showModal();
});

// A proposal fills the field it is for.
addEventListener('click', (e) => {
  const button = e.target.closest?.('[data-fill]');
  if (!button) return;
  const field = button.form.elements[button.dataset.fill];
  field.value = button.textContent;
  field.dispatchEvent(new Event('change', { bubbles: true }));
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
  for (const open of e.detail.target.querySelectorAll('details[id][open]'))
    e.detail.fragment?.getElementById?.(open.id)?.setAttribute('open', '');
});
let unfolded = [];
document.addEventListener('htmx:beforeSwap', (e) => {
  unfolded = [...e.detail.target.querySelectorAll('details[id][open]')].map((open) => open.id);
});
document.addEventListener('htmx:afterSwap', () => {
  for (const id of unfolded) document.getElementById(id)?.setAttribute('open', '');
});

// Whether a field holds something else than it came with.
function changed(field) {
  if (field.tagName !== 'SELECT') return field.value !== field.defaultValue;
  const options = [...field.options];
  return field.value !== (options.find((o) => o.defaultSelected) ?? options[0])?.value;
}

// A part of the screen that somebody is typing in is not taken when an answer
// would redraw it: what was typed is never lost. What somebody else did (it comes
// to the tools) leaves it alone before the first letter, too.
document.addEventListener('htmx:oobBeforeSwap', (e) => {
  const here = document.activeElement;
  const target = e.detail.target;
  if (
    isTyping(here) &&
    !sent?.contains(here) &&
    target !== here &&
    target.contains(here) &&
    (changed(here) || sent?.id === 'tools') &&
    !e.detail.fragment?.querySelector?.('.finding.stop')
  ) {
    e.detail.shouldSwap = false;
  }
});
