// Pictures are dragged from the tray onto covers. The same pointer events serve mouse, touch
// and pen; ticking and buttons do the same from the keyboard.
import { follow, ghostOf, isDrag, notClicked } from './ghost.js';
import { on } from './keys.js';

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
    htmx.ajax('POST', `/covers/${page}`, {
      target: '#covers',
      select: '#covers',
      swap: 'outerHTML',
      values: { picture: was.picture },
    });
});

on('/', () => document.getElementById('find').focus());
on('b', () => document.querySelector('.covers-head .views a:not([aria-current])[href^="/covers"]')?.click());

addEventListener('pointercancel', () => {
  held?.ghost?.remove();
  held = null;
});
