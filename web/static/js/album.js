// An album on its screen: pictures are dragged along their line, or moved by keys; files that
// are dropped come to its end.
import { follow, ghostOf, isDrag, notClicked } from './ghost.js';
import { on } from './keys.js';
import { listen } from './line.js';
import { tell } from './notice.js';
import { carriesFiles, sendTo } from './send-file.js';
import { own } from './own.js';

const screen = () => document.getElementById('album');
const data = () => screen().dataset;
const items = () => [...document.querySelectorAll('#hung > li')];
const redraw = (verb, what, values) =>
  htmx.ajax(verb, own(`/albums/${data().id}${what}`), {
    target: '#album',
    select: '#album',
    swap: 'outerHTML',
    values,
  });

// ---- by hand ----
let held = null;
addEventListener('pointerdown', (e) => {
  const item = e.target.closest('#hung > li');
  if (e.button !== 0 || !item || !data().works || e.target.closest('input, button')) return;
  held = { item, from: [e.clientX, e.clientY], ghost: null };
});
addEventListener(
  'pointermove',
  (e) => {
    if (!held) return;
    if (!held.ghost) {
      if (!isDrag(held.from, e)) return;
      held.ghost = ghostOf(held.item.querySelector('img').src);
      document.body.classList.add('dragging');
    }
    e.preventDefault();
    follow(held.ghost, e);
    aim(e);
  },
  { passive: false },
);

// aim marks the picture before which what is dragged would hang; behind the last it is the line.
function aim(e) {
  held.to = null;
  for (const i of items()) i.classList.remove('before', 'after');
  const near = document.elementFromPoint(e.clientX, e.clientY)?.closest('#hung > li');
  if (!near || near === held.item) return;
  const r = near.getBoundingClientRect();
  const after = e.clientX > r.left + r.width / 2;
  near.classList.add(after ? 'after' : 'before');
  const before = after ? near.nextElementSibling : near;
  held.to = { before: before?.dataset.picture ?? 0 };
}

function drop() {
  held?.ghost?.remove();
  for (const i of items()) i.classList.remove('before', 'after');
  held = null;
  document.body.classList.remove('dragging');
}
addEventListener('pointerup', () => {
  const was = held;
  drop();
  if (!was?.ghost) return;
  notClicked();
  if (was.to) redraw('POST', '/move', { picture: was.item.dataset.picture, before: was.to.before });
});
addEventListener('pointercancel', drop);
addEventListener('dragstart', (e) => {
  if (e.target.closest('#hung')) e.preventDefault();
});

// ---- by keys ----
const current = () => document.activeElement?.closest('#hung > li');
const step = (by) => {
  const all = items();
  const to = all[all.indexOf(current()) + by] ?? (current() ? null : all[0]);
  to?.focus();
  return Boolean(to);
};
const move = (by) => {
  const item = current();
  if (!item || !data().works) return false;
  redraw('POST', '/move', { picture: item.dataset.picture, by });
};
on('ArrowLeft', () => step(-1));
on('ArrowRight', () => step(1));
on('Alt+ArrowLeft', () => move(-1));
on('Alt+ArrowRight', () => move(1));
on('c', () => {
  const field = current()?.querySelector('[name=caption]');
  field?.focus();
  return Boolean(field);
});
on('l', () => {
  current()?.querySelector('.act-lead')?.click();
});
on('Delete', () => {
  const item = current();
  const next = item?.nextElementSibling ?? item?.previousElementSibling;
  if (!item || !data().works) return false;
  redraw('POST', '/out', { picture: item.dataset.picture }).then(
    () => next && document.getElementById(next.id)?.focus(),
  );
});
// Enter in a caption keeps it, and goes on to the next one.
document.addEventListener('keydown', (e) => {
  if (e.key !== 'Enter' || e.target.name !== 'caption' || !e.target.closest('#hung')) return;
  e.preventDefault();
  const next = e.target.closest('li').nextElementSibling?.querySelector('[name=caption]');
  if (next) next.focus();
  else e.target.blur();
});
// Enter in a description saves it: a description is one line.
document.addEventListener('keydown', (e) => {
  if (e.key === 'Enter' && e.target.id === 'alt' && !e.shiftKey) {
    e.preventDefault();
    e.target.form.requestSubmit();
  }
});
document.addEventListener('htmx:afterSettle', () => document.getElementById('alt')?.focus());

// ---- what a finding is about ----
document.addEventListener('click', (e) => {
  const about = e.target.closest('[data-show]')?.dataset.show.split(' ');
  if (!about) return;
  for (const i of items()) i.classList.toggle('meant', about.includes(i.dataset.picture));
  document.querySelector('#hung .meant')?.focus();
});

// ---- files ----
async function land(files) {
  let came = 0;
  for (const file of files) {
    document.getElementById('landing').textContent = `${file.name} is on its way…`;
    if (await sendTo(`/albums/${data().id}/land`, file)) came += 1;
  }
  if (came) await redraw('GET', '');
  const say = document.getElementById('landing');
  if (say) say.textContent = came ? `${came} came in.` : '';
}
document.addEventListener('change', (e) => {
  if (e.target.id === 'album-files') land([...e.target.files]);
});
const carries = (e) => carriesFiles(e) && data().works;
addEventListener('dragover', (e) => {
  if (carries(e)) e.preventDefault();
});
addEventListener('drop', (e) => {
  if (!carries(e)) return;
  e.preventDefault();
  const files = [...e.dataTransfer.files];
  if (files.length) land(files);
  else tell('bad', 'Nothing was taken.', 'Drop files from a folder.');
});

// ---- others ----
let waiting;
listen(`/albums/${data().id}/here`, {
  events: {
    here: (told) => {
      const here = document.getElementById('here');
      if (here) here.textContent = told;
    },
    state: (version) => {
      clearTimeout(waiting);
      const draw = () => {
        if (version === data().version) return;
        if (
          document.querySelector('.htmx-request, #describing') ||
          held?.ghost ||
          document.activeElement?.name === 'caption'
        )
          waiting = setTimeout(draw, 700);
        else redraw('GET', '');
      };
      waiting = setTimeout(draw, 700);
    },
  },
  closed: () => {
    const here = document.getElementById('here');
    if (here) here.textContent = '';
  },
});
