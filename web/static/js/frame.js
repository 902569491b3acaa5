// The Bench's hand on the frame: drawing, moving and sizing it, and pulling the
// picture about beneath it. What is drawn is what is sent: whole pixels of the
// upright original. All figures come from the server.
import { dimension, extension, lead, stretch } from './dimension.js';
import { afterAnswer } from './answer.js';
import {
  stage,
  plane,
  W,
  H,
  SW,
  SH,
  id,
  asSeen,
  onLetGo,
  part,
  post,
  seen,
  set,
  unit,
  under,
  newest,
} from './stage.js';
import { saySoon } from './say.js';
import * as rectangle from './rectangle.js';
import { onView, settle as settleView, slide } from './view.js';
import { own } from './own.js';

const group = document.getElementById('frame');
const shade = document.getElementById('shade');
const dims = document.getElementById('stage-dims');
const toDims = Array.from({ length: 4 }, () => extension(0, 0, 0, 0));
const across = dimension(0, 0, 1, 0, '', 1),
  down = dimension(0, 0, 0, 1, '', 1);
dims.append(...toDims, across, down);

const body = part('rect', { class: 'body' }, group);
const thirds = Array.from({ length: 6 }, (_, i) => part('line', { class: i < 4 ? 'third' : 'third centre' }, group));
const least = part('rect', { class: 'least' }, group);
const corners = ['corner under', 'corner'].map((kind) => part('path', { class: kind }, group));
const edges = { nw: [0, 0], n: [0.5, 0], ne: [1, 0], e: [1, 0.5], se: [1, 1], s: [0.5, 1], sw: [0, 1], w: [0, 0.5] };
const grips = Object.fromEntries(
  Object.keys(edges).map((k) => {
    const g = part('rect', { class: `grip ${k}` }, group);
    g.dataset.edge = k;
    return [k, g];
  }),
);
const figures = () => document.getElementById('figures').dataset;

let frame = read();
let last = { ...frame };
let grab = null;

// read takes the frame that the server last told.
function read() {
  const [x, y, w, h] = figures().frame.split(' ').map(Number);
  return { x, y, w, h };
}

function draw() {
  const { x, y, w, h } = frame;
  const u = unit();
  set(body, { x, y, width: w, height: h });
  shade.setAttribute('d', `M0 0H${W}V${H}H0zM${x} ${y}V${y + h}H${x + w}V${y}z`);
  const arm = Math.min(18 * u, w / 3, h / 3);
  const marks =
    `M${x} ${y + arm}V${y}H${x + arm}M${x + w - arm} ${y}H${x + w}V${y + arm}` +
    `M${x + w} ${y + h - arm}V${y + h}H${x + w - arm}M${x + arm} ${y + h}H${x}V${y + h - arm}` +
    `M${x + w / 2 - arm / 2} ${y}h${arm}M${x + w / 2 - arm / 2} ${y + h}h${arm}` +
    `M${x} ${y + h / 2 - arm / 2}v${arm}M${x + w} ${y + h / 2 - arm / 2}v${arm}`;
  for (const c of corners) c.setAttribute('d', marks);
  thirds.forEach((t, i) => {
    const f = i < 4 ? ((i % 2) + 1) / 3 : 0.5;
    set(
      t,
      i < 2 || i === 4
        ? { x1: x + w * f, x2: x + w * f, y1: y, y2: y + h }
        : { x1: x, x2: x + w, y1: y + h * f, y2: y + h * f },
    );
  });
  const size = 28 * u;
  for (const k in edges) {
    const [fx, fy] = edges[k];
    const wide = fx === 0.5 ? Math.max(size, w - 2 * size) : size;
    const high = fy === 0.5 ? Math.max(size, h - 2 * size) : size;
    set(grips[k], { x: x + w * fx - wide / 2, y: y + h * fy - high / 2, width: wide, height: high });
  }
  drawLeast(u);
  drawDims(u);
  // While one side is typed the others are not taken: they follow what is typed.
  if (!document.getElementById('frame-form')?.contains(document.activeElement)) fill();
}

// fill puts the frame's figures into their fields.
function fill() {
  const inView = rectangle.carried(frame, asSeen());
  for (const k of ['x', 'y', 'w', 'h']) {
    const field = document.getElementById(`frame-${k}`);
    if (field) field.value = inView[k];
  }
}

// The line that the frame may not be smaller than, or it is soft: from where the
// hand does not hold it.
function drawLeast() {
  const [lw, lh] = (figures().least ?? '0 0').split(' ').map(Number);
  const w = lw || frame.w,
    h = lh || frame.h,
    edge = grab?.edge ?? '';
  const soft = frame.w < lw || frame.h < lh;
  group.classList.toggle('soft', soft);
  group.classList.toggle('bounded', Boolean(lw || lh) && (soft || grab?.mode === 'size' || grab?.mode === 'new'));
  const x = edge.includes('w') ? frame.x + frame.w - w : edge.includes('e') ? frame.x : frame.x + (frame.w - w) / 2;
  const y = edge.includes('n') ? frame.y + frame.h - h : edge.includes('s') ? frame.y : frame.y + (frame.h - h) / 2;
  set(least, { x, y, width: w, height: h });
}

// The dimension lines stand outside the picture as it is turned, or at the rim of
// what is seen of it; extension lines lead to them.
function drawDims(u) {
  const { x, y, w, h } = frame;
  const v = stage.viewBox.baseVal;
  const [[ax, ay], [bx, by]] = [seen(x, y), seen(x + w, y + h)];
  const [l, t, r, low] = [Math.min(ax, bx), Math.min(ay, by), Math.max(ax, bx), Math.max(ay, by)];
  const top = Math.max(0, v.y),
    right = Math.min(SW, v.x + v.width);
  const [dl, dr] = [Math.max(l, v.x), Math.min(r, v.x + v.width)],
    [dt, db] = [Math.max(t, v.y), Math.min(low, v.y + v.height)];
  const hidden = dl >= dr || dt >= db;
  dims.setAttribute('visibility', hidden ? 'hidden' : 'visible');
  if (hidden) return;
  [
    [l, t, l, top - 14 * u],
    [r, t, r, top - 14 * u],
    [r, t, right + 14 * u, t],
    [r, low, right + 14 * u, low],
  ].forEach((ends, i) => lead(toDims[i].firstChild, ...ends));
  stretch(across, dl, top - 10 * u, dr, top - 10 * u, `${Math.round(r - l)}`, u);
  stretch(down, right + 10 * u, dt, right + 10 * u, db, `${Math.round(low - t)}`, u);
}

// The frame stays inside the picture, and in the ratio that is chosen.
const keep = (f, moving) => rectangle.keep(f, moving, W, H);
const shaped = (f, edge) => rectangle.shaped(f, edge, ratio(), W, H);

// ---- the pointer ----
const at = (e) => under(e, plane);

stage.addEventListener('pointerdown', (e) => {
  if (e.button !== 0) return;
  const edge = e.target.dataset?.edge;
  const all = frame.w === W && frame.h === H;
  const mode = e.altKey && !all ? 'beneath' : edge ? 'size' : e.target === body && !all ? 'move' : 'new';
  grab = {
    edge: mode === 'size' ? edge : '',
    from: at(e),
    client: [e.clientX, e.clientY],
    was: { ...frame },
    mode,
    moved: false,
  };
  stage.setPointerCapture(e.pointerId);
  group.classList.add('held');
  e.preventDefault();
  group.focus({ preventScroll: true, focusVisible: false });
});

stage.addEventListener('pointermove', (e) => {
  if (!grab) return;
  if (grab.mode === 'beneath') {
    beneath(e);
    return;
  }
  const p = at(e);
  const dx = p.x - grab.from.x,
    dy = p.y - grab.from.y;
  if (!grab.moved && Math.hypot(dx, dy) < 3 * unit()) return;
  grab.moved = true;
  const { was } = grab;
  if (grab.mode === 'move') frame = keep({ ...was, x: was.x + dx, y: was.y + dy }, true);
  else if (grab.mode === 'new') frame = keep(rectangle.between(grab.from, p, e.shiftKey));
  else frame = keep(rectangle.sized(was, grab.edge, dx, dy));
  if (grab.mode !== 'move') frame = shaped(frame, grab.edge || rectangle.corner(grab.from, p));
  draw();
  measure();
});

// beneath pulls the picture about while the frame stands still on the screen.
function beneath(e) {
  grab.moved = true;
  const to = at({ clientX: e.clientX, clientY: e.clientY }),
    from = at({ clientX: grab.client[0], clientY: grab.client[1] });
  grab.client = [e.clientX, e.clientY];
  const before = frame;
  frame = keep({ ...frame, x: frame.x - (to.x - from.x), y: frame.y - (to.y - from.y) }, true);
  const [[ax, ay], [bx, by]] = [seen(before.x, before.y), seen(frame.x, frame.y)];
  slide(bx - ax, by - ay);
  draw();
  measure();
}

stage.addEventListener('pointerup', () => {
  const held = release();
  if (!held) return;
  draw();
  if (held.moved) send();
});

onLetGo(() => {
  const held = release();
  if (!held) return;
  frame = held.was;
  draw();
  measure();
});

function release() {
  const held = grab;
  grab = null;
  group.classList.remove('held');
  if (held?.mode === 'beneath') settleView();
  return held;
}

// ratioSeen is the ratio that the frame is held to, as it is seen; ratio that of the upright
// original. 0 is free.
function ratioSeen() {
  const value = document.getElementById('ratio')?.value ?? '';
  if (value !== 'keep') return rectangle.valueOf(value);
  const { w, h } = rectangle.carried(grab?.was ?? last, asSeen());
  return w / h;
}
const ratio = () => rectangle.asStored(ratioSeen(), asSeen());

// ---- the keyboard, and figures that are typed ----
let settle = 0; // a nudged frame waits to be sent
group.addEventListener('keydown', (e) => {
  const moved = rectangle.nudged(e, frame, { unit: unit(), ratio: ratioSeen(), matrix: asSeen(), W, H });
  if (!moved) return;
  e.preventDefault();
  frame = moved;
  draw();
  measure();
  saySoon(rectangle.told(frame, asSeen()));
  clearTimeout(settle);
  settle = setTimeout(send, 500);
});

// While a width is typed the height follows, where the ratio is held; and the
// other way round.
document.addEventListener('input', (e) => {
  const k = ratioSeen(),
    value = Number(e.target.value);
  if (!k || !(value > 0)) return;
  if (e.target.id === 'frame-w')
    document.getElementById('frame-h').value = Math.max(1, Math.min(SH, Math.round(value / k)));
  if (e.target.id === 'frame-h')
    document.getElementById('frame-w').value = Math.max(1, Math.min(SW, Math.round(value * k)));
});

// What was refused gives way to the frame as it is.
document.addEventListener('htmx:responseError', (e) => {
  if (e.target.id === 'frame-form') fill();
});

// A ratio that is chosen shapes the frame at once: the most of it that fits in.
document.addEventListener('change', (e) => {
  const k = e.target.id === 'ratio' ? ratio() : 0;
  if (!k || e.target.value === 'keep') return;
  frame = keep(rectangle.most(frame, k));
  draw();
  send();
});

document.addEventListener('click', (e) => {
  if (e.target.id !== 'whole') return;
  frame = { x: 0, y: 0, w: W, h: H };
  draw();
  send();
});

// ---- asking the server ----
const breath = 120; // ms between two questions while the hand moves
let turn = 0,
  due = 0,
  asked = 0;

// measure asks for the figures of the frame in hand.
const ask = newest(async (mine) => {
  const { x, y, w, h } = frame;
  const res = await fetch(own(`/bench/${id}/measure?${new URLSearchParams({ x, y, w, h })}`), {
    headers: { 'HX-Request': 'true' },
  }).catch(() => null);
  const text = res?.ok && (await res.text().catch(() => ''));
  if (text && mine === turn) show(text);
});
function measure() {
  due ||= setTimeout(
    () => {
      due = 0;
      asked = performance.now();
      ask(turn);
    },
    Math.max(0, asked + breath - performance.now()),
  );
}

function show(html) {
  const box = document.createElement('template');
  box.innerHTML = html;
  for (const piece of [...box.content.children]) {
    const old = document.getElementById(piece.id);
    if (old) Idiomorph.morph(old, piece); // as little as there is to change
  }
  unit(); // laid out now, between two moves, not while the next one waits
}

// send makes the frame a step of the recipe.
function send() {
  clearTimeout(settle);
  settle = 0;
  if (['x', 'y', 'w', 'h'].every((k) => frame[k] === last[k])) return;
  turn++;
  clearTimeout(due); // its answer tells the figures, too
  due = 0;
  last = { ...frame };
  post('frame', frame);
}

// After any answer the stage shows what the server holds, unless the hand is on it.
afterAnswer(() => {
  if (grab || settle || ask.busy()) return;
  frame = read();
  last = { ...frame };
  draw();
});

onView(draw);
draw();
