// A list of pictures or pages has a key that leads into it; arrow keys lead on from there. Where
// things stand beside each other, up and down lead to the one above and below.
import { on, wayOf } from './keys.js';

const marked = () => document.querySelector('[data-list]');
const items = () =>
  [...(marked()?.querySelectorAll(marked().dataset.list) ?? [])].filter((el) => el.checkVisibility());
const middle = (el) => {
  const b = (el.closest('li, tr') ?? el).getBoundingClientRect();
  return { x: b.left + b.width / 2, y: b.top + b.height / 2, h: b.height };
};

function step(e) {
  const all = items(),
    at = all.indexOf(document.activeElement);
  if (at < 0) return false;
  const [dx, dy] = wayOf(e);
  let to = all[at + dx];
  if (dy) {
    const from = middle(all[at]);
    // The nearest row in that way, and in it what stands nearest.
    const beyond = all.filter((el) => (middle(el).y - from.y) * dy > from.h / 4);
    const row = beyond.map((el) => Math.abs(middle(el).y - from.y));
    const next = Math.min(...row);
    to = beyond
      .filter((_, i) => row[i] < next + from.h / 4)
      .sort((a, b) => Math.abs(middle(a).x - from.x) - Math.abs(middle(b).x - from.x))[0];
  }
  to?.focus();
  return true;
}
on('w', () => {
  const to = items()[0];
  to?.focus();
  return Boolean(to);
});
on('ArrowLeft ArrowRight ArrowUp ArrowDown', step);
