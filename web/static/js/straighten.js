// Straightening: with the slider, live, or with a line drawn along the horizon.
import { on as onKey } from './keys.js';
import { bench, stage, plane, onLetGo, part, set, slant, under } from './stage.js';

const slider = () => document.getElementById('straighten');

// show lays the picture at an angle while the slider moves.
function show(degrees) {
  document.getElementById('degrees').textContent = `${Number(degrees).toFixed(1)}°`;
  slant(degrees);
}
document.addEventListener('input', (e) => {
  if (e.target.id === 'straighten') show(e.target.value);
});

let on = false,
  from = null,
  line = null;

function draws(yes) {
  on = yes;
  bench.classList.toggle('hiding', yes);
  document.getElementById('horizon').setAttribute('aria-pressed', yes);
}
document.addEventListener('click', (e) => {
  if (e.target.id === 'horizon') draws(!on);
});
onKey('Escape', () => {
  if (!on) return false;
  draws(false);
});

stage.addEventListener(
  'pointerdown',
  (e) => {
    if (!on || e.button !== 0) return;
    e.stopImmediatePropagation();
    e.preventDefault();
    stage.setPointerCapture(e.pointerId);
    from = under(e, plane);
    line = part('line', { class: 'horizon' }, plane);
  },
  true,
);

stage.addEventListener(
  'pointermove',
  (e) => {
    if (!from) return;
    e.stopImmediatePropagation();
    const p = under(e, plane);
    set(line, { x1: from.x, y1: from.y, x2: p.x, y2: p.y });
  },
  true,
);

onLetGo(() => {
  if (from) {
    from = null;
    line.remove();
  }
});

stage.addEventListener(
  'pointerup',
  (e) => {
    if (!from) return;
    e.stopImmediatePropagation();
    const p = under(e, plane),
      [dx, dy] = [p.x - from.x, p.y - from.y];
    from = null;
    line.remove();
    draws(false);
    if (Math.hypot(dx, dy) < 20) return;
    // A line along something upright straightens as well.
    const angle = (Math.atan2(dy, dx) * 180) / Math.PI,
      off = angle - 90 * Math.round(angle / 90);
    const input = slider();
    input.value = Number(input.value) - off; // the slider keeps it within its ends
    show(input.value);
    input.dispatchEvent(new Event('change', { bubbles: true }));
  },
  true,
);
