// Words are written where they stand: a click on them begins there. The editor is fetched when
// somebody begins to write for the first time; without it, or on request, a text field does.
let point = null; // where the hand clicked

const screen = () => document.getElementById('page-screen').dataset;
const open = (block) =>
  htmx.ajax('GET', `/pages/${screen().id}${block ? `?write=${block}` : ''}`, {
    target: '#page-screen',
    swap: 'outerHTML',
  });

// A click on words writes there, unless something was chosen to be copied, or it was on a link.
document.addEventListener('click', (e) => {
  const words = e.target.closest?.('.words-text, .words-beside, .words-heading');
  if (!words || !words.querySelector('[data-write]') || e.target.closest('a, button, input, textarea, select, form'))
    return;
  if (String(getSelection()) !== '') return;
  point = { x: e.clientX, y: e.clientY };
  begin(words.dataset.block);
});

// begin opens a block to be written, once what is on its way has come.
function begin(block) {
  if (document.querySelector('.htmx-request'))
    document.addEventListener('htmx:afterSettle', () => open(block), { once: true });
  else open(block);
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
  const { mount } = await import('./words/editor.js');
  if (!field.isConnected) return;
  if (mount(field, here)) help.hidden = true;
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
document.addEventListener('unchanged', () => open(''));
// Escape gives the hand back to the block.
document.addEventListener('left', (e) => {
  const block = e.target.elements.block.value;
  document.addEventListener(
    'htmx:afterSettle',
    () => document.querySelector(`.words[data-block="${block}"] [data-write]`)?.focus(),
    { once: true },
  );
});
