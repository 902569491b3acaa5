// The calendar of spots: the ends of a banner's line are dragged to other days, or moved by keys.
import { on } from './keys.js';
import { own } from './own.js';

const screen = () => document.getElementById('banners');
const number = (name) => Number(screen().dataset[name]);

// dayAt is the day so many days after the first of the calendar.
function dayAt(n) {
  const day = new Date(`${screen().dataset.first}T00:00:00Z`);
  day.setUTCDate(day.getUTCDate() + n);
  return day.toISOString().slice(0, 10);
}
const said = (day) =>
  new Date(`${day}T00:00:00Z`).toLocaleDateString('en-GB', {
    weekday: 'long',
    day: 'numeric',
    month: 'long',
    year: 'numeric',
    timeZone: 'UTC',
  });

// place moves an end to a day on the drawing, and tells which day that is. An end is the edge of
// a day: the first day begins at it, the last one ends there. null leaves it open.
function place(end, at) {
  const line = end.closest('.banner-line');
  const last = end.dataset.end === 'last';
  const other = Number(last ? line.dataset.from : line.dataset.to);
  const n = at === null ? null : last ? Math.max(at, other + 1) : Math.min(at, other - 1);
  const shown = Math.min(Math.max(n ?? (last ? number('days') : 0), 0), number('days'));
  line.dataset[last ? 'to' : 'from'] = shown;
  line.dataset[last ? 'last' : 'first'] = n === null ? '' : dayAt(last ? n - 1 : n);
  const x = number('left') + shown * number('day');
  end.querySelector('.tick').setAttribute('d', `M${x} ${line.dataset.y - 7}V${Number(line.dataset.y) + 7}`);
  const from = number('left') + line.dataset.from * number('day'),
    to = number('left') + line.dataset.to * number('day');
  line.querySelector('.span').setAttribute('d', `M${from} ${line.dataset.y}H${to}`);
  const day = line.dataset[last ? 'last' : 'first'];
  const text = day ? said(day) : 'open';
  end.setAttribute('aria-valuenow', shown);
  end.setAttribute('aria-valuetext', text);
  document.getElementById('moving').textContent = `${end.getAttribute('aria-label')}: ${text}`;
}

let waiting = null;
function keep(end) {
  const { banner, first, last } = end.closest('.banner-line').dataset;
  waiting = null;
  htmx
    .ajax('POST', own(`/banners/${banner}/days`), {
      target: '#banners',
      select: '#banners',
      swap: 'outerHTML',
      values: { first, last, from: screen().dataset.first },
    })
    .then(() => document.getElementById(end.id)?.focus());
}
// keepSoon waits for the next key, so that a row of keys is one step.
function keepSoon(end) {
  clearTimeout(waiting?.timer);
  waiting = { end, timer: setTimeout(() => keep(end), 600) };
}
addEventListener('focusout', (e) => {
  if (!waiting || waiting.end !== e.target.closest?.('.end')) return;
  clearTimeout(waiting.timer);
  keep(waiting.end);
});

// ---- by hand ----
let held = null;
const dayOf = (e) => {
  const svg = document.getElementById('calendar');
  const at = new DOMPoint(e.clientX, e.clientY).matrixTransform(svg.getScreenCTM().inverse());
  return Math.round((at.x - number('left')) / number('day'));
};
addEventListener('pointerdown', (e) => {
  const end = e.target.closest('.end');
  if (!end || e.button !== 0) return;
  e.preventDefault();
  end.focus();
  end.setPointerCapture(e.pointerId);
  const { first, last } = end.closest('.banner-line').dataset;
  held = { end, was: `${first} ${last}` };
});
addEventListener('pointermove', (e) => {
  if (held) place(held.end, dayOf(e));
});
addEventListener('pointerup', () => {
  const was = held;
  held = null;
  if (!was) return;
  const { first, last } = was.end.closest('.banner-line').dataset;
  if (`${first} ${last}` !== was.was) keep(was.end);
});
addEventListener('pointercancel', () => {
  held = null;
});

// ---- by keys ----
const move = (by) => {
  const end = document.activeElement?.closest('.end');
  if (!end) return false;
  const line = end.closest('.banner-line');
  place(end, Number(end.dataset.end === 'last' ? line.dataset.to : line.dataset.from) + by);
  keepSoon(end);
};
on('ArrowLeft', () => move(-1));
on('ArrowRight', () => move(1));
on('PageUp', () => move(-7));
on('PageDown', () => move(7));
on('Delete', () => {
  const end = document.activeElement?.closest('.end');
  if (!end) return false;
  place(end, null);
  keepSoon(end);
});
on('n', () => document.getElementById('title')?.focus());
