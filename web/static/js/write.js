// Words are written where they stand: a click on them begins there. The editor is fetched when
// somebody begins to write for the first time; without it, or on request, a text field does.
import { own } from './own.js';

let point = null; // where the hand clicked

const screen = () => document.getElementById('page-screen').dataset;
const get = (at) =>
  htmx.ajax('GET', own(`/pages/${screen().id}${at}`), { target: '#page-screen', swap: 'outerHTML' });

// open has something written: a block, the title, or what stands at a picture, such as
// caption:7f3a:0, whose panel opens, too.
function open(what) {
  const [kind, block, nth] = what.split(':');
  return get(block ? `/placement?${new URLSearchParams({ block, nth, write: what })}` : `?write=${kind}`);
}

// close ends the writing; the panel of a picture stays.
function close(what) {
  const [, block, nth] = what.split(':');
  return get(block ? `/placement?${new URLSearchParams({ block, nth })}` : '');
}

// A click on words writes there, unless something was chosen to be copied, or it was on a link.
document.addEventListener('click', (e) => {
  const words = e.target.closest?.('.words-text, .words-beside, .words-heading, [data-writes]');
  if (!words || e.target.closest('a, button, input, textarea, select, form')) return;
  if (!words.dataset.writes && !words.querySelector('[data-write]')) return;
  if (String(getSelection()) !== '') return;
  point = { x: e.clientX, y: e.clientY };
  begin(words.dataset.writes ?? words.dataset.block);
});

// begin opens what is to be written, once what is on its way has come.
function begin(what) {
  if (document.querySelector('.htmx-request'))
    document.addEventListener('htmx:afterSettle', () => open(what), { once: true });
  else open(what);
}

async function settle() {
  const field = document.querySelector('.write textarea[data-words]');
  if (!field || field.dataset.mounted) return;
  field.dataset.mounted = 'yes';
  const here = point,
    help = field.form.querySelector('.write-help');
  point = null;
  const write = field.form.querySelector('[data-as-words]');
  write.hidden = localStorage.getItem('mivlet-write-as-text') !== 'yes';
  if (!write.hidden) return;
  // Where it cannot be had, as the connection is lost, the text is written as text.
  const editor = await import('./words/editor.js').catch(() => null);
  if (!field.isConnected || !editor) return;
  if (editor.mount(field, here)) help.hidden = true;
  else help.prepend('This text has something that can only be written as text. ');
}
document.addEventListener('htmx:afterSettle', settle);
settle();

document.addEventListener('as-text', (e) => {
  const block = e.target.elements.block.value;
  e.target.elements.text.dispatchEvent(new Event('change', { bubbles: true }));
  begin(block);
});
document.addEventListener('click', (e) => {
  if (!e.target.closest?.('[data-as-words]')) return;
  localStorage.removeItem('mivlet-write-as-text');
  begin(e.target.closest('form').elements.block.value);
});
document.addEventListener('unchanged', (e) => close(e.target.elements.block.value));
// A line that nobody changed is left as it was; Escape leaves one, too, as it was.
document.addEventListener('focusout', (e) => {
  const { form } = e.target;
  if (!e.target.matches('.write > input[name=text], .write-line label textarea')) return;
  if (e.target.value !== e.target.defaultValue || form.querySelector('.clash')) return;
  if (e.relatedTarget?.matches('a, button, input, select, textarea, summary')) return;
  setTimeout(() => {
    if (form.isConnected && !form.contains(document.activeElement)) close(form.elements.block.value);
  });
});
document.addEventListener('keydown', (e) => {
  if (e.key !== 'Escape' || !e.target.matches('.write > input[name=text], .write-line label textarea')) return;
  e.stopPropagation();
  e.target.value = e.target.defaultValue;
  e.target.dispatchEvent(new Event('input', { bubbles: true })); // what is kept in the browser goes, too
  close(e.target.form.elements.block.value);
});
// Escape gives the hand back to the block.
document.addEventListener('left', (e) => {
  const block = e.target.elements.block.value;
  document.addEventListener(
    'htmx:afterSettle',
    () => document.querySelector(`:is([data-block="${block}"], [data-writes="${block}"]) [data-write]`)?.focus(),
    { once: true },
  );
});
