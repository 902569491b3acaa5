// On a phone the steps of the walk are shown one at a time, under the picture: a bar at the foot
// of the window, under the thumb, chooses among them.
import { afterAnswer } from './answer.js';
import { bench } from './stage.js';

const order = ['fit', 'frame', 'hide', 'name', 'describe', 'place'];
const bar = () => document.getElementById('thumb');

function show(step) {
  bench.dataset.shows = step;
  mark();
}

function mark() {
  for (const b of bar().querySelectorAll('[data-show]'))
    b.setAttribute('aria-pressed', b.dataset.show === bench.dataset.shows);
}

// reveal shows the step that an element is in, so that it can have the focus.
export function reveal(el) {
  const step = el?.closest('.step')?.id.replace('step-', '');
  if (order.includes(step)) show(step);
}

// The first is where an address leads, else what is not done yet.
const named = () => order.find((step) => location.hash === `#step-${step}`);
const undone = () => order.find((step) => document.querySelector(`#step-${step} h2 .stop`));
show(named() ?? undone() ?? 'place');

addEventListener('hashchange', () => {
  if (named()) show(named());
});
bench.addEventListener('click', (e) => {
  const to = e.target.closest('[data-show]')?.dataset.show;
  if (to) show(to);
});
afterAnswer(mark);
