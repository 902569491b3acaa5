// Pictures are dragged from the tray onto covers. The same pointer events serve mouse, touch
// and pen; ticking and buttons do the same from the keyboard.
import { follow, ghostOf, isDrag, notClicked } from './ghost.js';
import { on } from './keys.js';
import { tell } from './notice.js';
import { carriesFiles, sendTo } from './send-file.js';
import { own } from './own.js';

let held = null;

addEventListener('pointerdown', (e) => {
  const from = e.target.closest('[data-picture]');
  if (e.button !== 0 || !from) return;
  held = {
    picture: from.dataset.picture,
    image: from.querySelector('img').src,
    from: [e.clientX, e.clientY],
    ghost: null,
  };
});

addEventListener(
  'pointermove',
  (e) => {
    if (!held) return;
    if (!held.ghost) {
      if (!isDrag(held.from, e)) return;
      held.ghost = ghostOf(held.image);
    }
    e.preventDefault();
    follow(held.ghost, e);
    document.querySelector('.cover-tile.aimed')?.classList.remove('aimed');
    under(e)?.classList.add('aimed');
  },
  { passive: false },
);

const under = (e) => document.elementFromPoint(e.clientX, e.clientY)?.closest('.cover-tile[data-page]');

addEventListener('pointerup', (e) => {
  const was = held;
  held = null;
  if (!was?.ghost) return;
  was.ghost.remove();
  document.querySelector('.cover-tile.aimed')?.classList.remove('aimed');
  notClicked(); // and so not ticked
  const page = under(e)?.dataset.page;
  if (page)
    htmx.ajax('POST', own(`/covers/${page}`), {
      target: '#covers',
      select: '#covers',
      swap: 'outerHTML',
      values: { picture: was.picture },
    });
});

// A file from the desktop is taken in, and stands for the page that it is dropped on.
addEventListener('dragover', (e) => {
  if (!carriesFiles(e)) return;
  e.preventDefault();
  document.querySelector('.cover-tile.aimed')?.classList.remove('aimed');
  under(e)?.classList.add('aimed');
});
addEventListener('drop', async (e) => {
  if (!carriesFiles(e)) return;
  e.preventDefault();
  document.querySelector('.cover-tile.aimed')?.classList.remove('aimed');
  const page = under(e)?.dataset.page;
  const file = e.dataTransfer.files[0];
  if (!page || !file) {
    tell('bad', 'Nothing was taken.', 'Drop it on a cover.');
    return;
  }
  const answer = await sendTo(`/pages/${page}/land?as=cover`, file);
  if (answer) htmx.ajax('GET', own('/covers'), { target: '#covers', select: '#covers', swap: 'outerHTML' });
});

on('/', () => document.getElementById('find').focus());
on('b', () => document.querySelector('.covers-head .views a:not([aria-current])[href*="/covers"]')?.click());

addEventListener('pointercancel', () => {
  held?.ghost?.remove();
  held = null;
});
