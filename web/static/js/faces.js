// Faces that were found in the picture: outlined and numbered on the stage when somebody
// asks, with what can be done about each in a list. Finding never covers by itself.
import { afterAnswer } from './answer.js';
import { id, part, post, unit } from './stage.js';
import { onView } from './view.js';
import { on } from './keys.js';
import { own } from './own.js';

const layer = document.getElementById('faces');
const panel = document.getElementById('faces-found');
const remembered = 'faces-asked'; // the next picture of the batch carries on
let faces = [],
  closer = false,
  open = false;

const says = { open: 'can be seen', covered: 'covered', left: 'may be seen' };

function button(text, label, act, key) {
  const b = document.createElement('button');
  Object.assign(b, { type: 'button', className: 'quiet', textContent: text, onclick: act });
  if (label) b.setAttribute('aria-label', label);
  if (key) b.dataset.does = key;
  return b;
}

// send asks for something to be done about some faces. A list of one name is sent as it is.
function send(how, which) {
  post('faces', { how, face: which.map((f) => f.id) });
}

function item(f, n) {
  const li = document.createElement('li'),
    words = document.createElement('label'),
    tick = document.createElement('input');
  Object.assign(li, { tabIndex: 0, className: f.state });
  li.setAttribute('aria-label', `Face ${n}, ${says[f.state]}`);
  Object.assign(tick, { type: 'checkbox', value: f.id });
  if (f.state === 'open') words.append(tick);
  words.append(`${n} ${says[f.state]}`);
  li.append(words);
  if (f.state === 'open')
    li.append(
      button('Cover', `Cover face ${n}`, () => send('cover', [f]), 'c'),
      button('Soften', `Soften face ${n}`, () => send('soften', [f]), 's'),
      button('Allow', `Allow face ${n}`, () => send('allow', [f]), 'a'),
    );
  if (f.state === 'left') li.append(button('Take back', `Face ${n} may not be seen`, () => send('forbid', [f]), 'a'));
  li.onfocus = li.onmouseenter = () => layer.children[n - 1]?.classList.add('pointed');
  li.onblur = li.onmouseleave = () => layer.children[n - 1]?.classList.remove('pointed');
  li.onkeydown = (e) => {
    const b = e.target === li && !e.ctrlKey && !e.metaKey && li.querySelector(`[data-does="${e.key}"]`);
    if (!b) return;
    e.preventDefault();
    e.stopPropagation();
    b.click();
  };
  return li;
}

function outline(f, i) {
  const g = part('g', { class: `face-found ${f.state}` }),
    u = unit();
  part('rect', { x: f.x, y: f.y, width: f.width, height: f.height, rx: f.width / 6 }, g);
  part(
    'text',
    { x: f.x + f.width / 2, y: f.y - 5 * u, 'font-size': 14 * u, 'text-anchor': 'middle' },
    g,
  ).textContent = i + 1;
  return g;
}

function draw() {
  if (!open) {
    layer.replaceChildren();
    panel.replaceChildren();
    return;
  }
  layer.replaceChildren(...faces.map(outline));
  const told = document.createElement('p'),
    list = document.createElement('ol'),
    held = panel.contains(document.activeElement)
      ? [...panel.querySelectorAll('li')].indexOf(document.activeElement.closest('li'))
      : -1;
  const free = faces.filter((f) => f.state === 'open');
  told.className = 'aside';
  told.setAttribute('role', 'status');
  told.textContent = faces.length
    ? `${faces.length} ${faces.length === 1 ? 'face' : 'faces'}, ` +
      `${free.length ? `${free.length} can be seen` : 'all dealt with'}. `
    : 'No face was found. Look for yourself all the same: ' +
      'a face that is small, turned away or half hidden can be missed. ';
  if (free.length > 1)
    told.append(
      button('Cover all but the ticked ones', '', () => {
        const kept = [...panel.querySelectorAll('input:checked')].map((t) => t.value);
        send(
          'cover',
          free.filter((f) => !kept.includes(f.id)),
        );
      }),
      ' ',
    );
  if (closer) told.append(button('Look closer', 'Look closer, for small faces', lookCloser), ' ');
  told.append(
    button('Close', 'Close the list of faces', () => {
      open = false;
      sessionStorage.removeItem(remembered);
      draw();
      document.getElementById('find-faces')?.focus();
    }),
  );
  list.className = 'line-list face-list';
  list.append(...faces.map((f, i) => item(f, i + 1)));
  panel.replaceChildren(told, list);
  if (held >= 0) list.children[Math.min(held, faces.length - 1)]?.focus();
}

// lookCloser takes some seconds: all of the picture's own pixels are looked at.
async function lookCloser(e) {
  Object.assign(e.target, { disabled: true, textContent: 'Looking closer…' });
  await post('faces/closer', {});
  if (e.target.isConnected) Object.assign(e.target, { disabled: false, textContent: 'Look closer' });
}

async function ask() {
  if (!open) return;
  if (!panel.firstChild) panel.innerHTML = '<p class="aside" role="status">Looking for faces…</p>';
  const res = await fetch(own(`/bench/${id}/faces`)).catch(() => null);
  if (!res?.ok) {
    const said = res ? await res.text() : 'Mivlet does not answer. Try again in a moment.';
    panel.innerHTML = '<p class="aside" role="alert"></p>';
    panel.firstChild.textContent = said;
    return;
  }
  const told = await res.json().catch(() => null); // whoever leaves in the middle of it needs no answer
  if (!told) return;
  ({ faces, closer } = told);
  draw();
}

document.addEventListener('click', (e) => {
  if (e.target.id !== 'find-faces') return;
  open = true;
  sessionStorage.setItem(remembered, 'yes');
  ask().then(() => panel.querySelector('li')?.focus());
});

// A number leads to the face that bears it.
on('Digit', (e) => {
  const li = open && panel.querySelectorAll('li')[Number(e.key) - 1];
  if (!li) return false;
  li.focus();
});

afterAnswer(ask);
onView(() => {
  if (open) layer.replaceChildren(...faces.map(outline));
});
if (sessionStorage.getItem(remembered)) {
  open = true;
  ask();
}
