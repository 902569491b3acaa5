// A banner on its screen: a file that is dropped becomes its picture.
import { on } from './keys.js';
import { tell } from './notice.js';
import { carriesFiles, sendTo } from './send-file.js';
import { own } from './own.js';

const data = () => document.getElementById('banner').dataset;

async function land(file) {
  document.getElementById('landing').textContent = `${file.name} is on its way…`;
  const came = await sendTo(`/banners/${data().id}/land`, file);
  if (came)
    await htmx.ajax('GET', own(`/banners/${data().id}`), { target: '#banner', select: '#banner', swap: 'outerHTML' });
  const say = document.getElementById('landing');
  if (say) say.textContent = came ? `${file.name} came in.` : '';
}
document.addEventListener('change', (e) => {
  if (e.target.id === 'banner-file' && e.target.files.length) land(e.target.files[0]);
});
const carries = (e) => carriesFiles(e) && data().works;
addEventListener('dragover', (e) => {
  if (carries(e)) e.preventDefault();
});
addEventListener('drop', (e) => {
  if (!carries(e)) return;
  e.preventDefault();
  const [file, another] = e.dataTransfer.files;
  if (file && !another) land(file);
  else tell('bad', 'Nothing was taken.', 'A banner has one picture: drop one file from a folder.');
});
on('w', () => document.getElementById('why-page')?.focus());

// ---- what is typed while an answer is on its way stays, and is sent after it ----
const form = () => document.getElementById('banner-form');
const valueOf = (f) => (f.type === 'checkbox' ? f.checked : f.value);
const values = () => new Map([...form().elements].filter((f) => f.id).map((f) => [f.id, valueOf(f)]));
let sent = null,
  late = null;
document.addEventListener('htmx:beforeRequest', (e) => {
  if (e.detail.elt === form()) sent = values();
});
document.addEventListener('htmx:beforeSwap', (e) => {
  if (!sent || e.detail.target.id !== 'banner' || !e.detail.shouldSwap) return;
  const here = document.activeElement;
  late = {
    fields: [...values()].filter(([id, value]) => sent.get(id) !== value),
    here: form().contains(here) ? here.id : '',
    at: here?.selectionStart,
  };
  sent = null;
});
document.addEventListener('htmx:afterSettle', () => {
  if (!late || !form()) return;
  const { fields, here, at } = late;
  late = null;
  for (const [id, value] of fields) {
    const f = document.getElementById(id);
    if (f) f[f.type === 'checkbox' ? 'checked' : 'value'] = value;
  }
  const back = here && document.getElementById(here);
  if (back) {
    back.focus();
    if (at !== undefined && at !== null) back.setSelectionRange(at, at);
  }
  const more = () => form().dispatchEvent(new Event('change', { bubbles: true }));
  if (fields.some(([id]) => id !== here)) more();
  else if (fields.length) back.addEventListener('blur', more, { once: true });
});
