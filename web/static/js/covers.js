// Pictures are dragged from the tray onto covers. The same pointer events serve mouse, touch
// and pen; ticking and buttons do the same from the keyboard.
import { on } from './keys.js';

const slack = 6; // px that a hand may tremble
let held = null;

addEventListener('pointerdown', (e) => {
  const from = e.target.closest('[data-picture]');
  if (e.button !== 0 || !from) return;
  held = {
    picture: from.dataset.picture,
    image: from.querySelector('img'),
    from: [e.clientX, e.clientY],
    ghost: null,
  };
});

addEventListener(
  'pointermove',
  (e) => {
    if (!held) return;
    if (!held.ghost) {
      if (Math.hypot(e.clientX - held.from[0], e.clientY - held.from[1]) < slack) return;
      held.ghost = held.image.cloneNode();
      held.ghost.className = 'ghost';
      document.body.append(held.ghost);
    }
    e.preventDefault();
    held.ghost.style.translate = `${e.clientX + 10}px ${e.clientY + 10}px`;
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
  addEventListener('click', (click) => click.preventDefault(), { once: true, capture: true }); // no tick
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
