// The Bench's hand for what is hidden, and for the focus: drawing, moving and
// sizing veils on the stage. Their units are pixels of the upright original. It
// listens before the frame's hand does and keeps from it what is its own.
import { bench, stage, W, H, ns, set, unit, under } from './stage.js';

const group = document.getElementById('veils');
const mark = document.getElementById('focus');
const image = document.getElementById('stage-image');
const panel = () => document.getElementById('step-hide');

let drawing = null; // the shape that the next stroke draws
let chosen = -1;
let shapes = [];
let grab = null;

const inside = (v, most) => Math.min(Math.max(v, 0), most);
const focusAt = () => { const [x, y] = panel().dataset.focus.split(' ').map(Number); return { x, y }; };

// at carries the pointer to the original itself, which may be straightened.
const at = (e) => under(e, group);

function outline(s, i) {
  const oval = s.Shape === 'ellipse';
  const el = document.createElementNS(ns, oval ? 'ellipse' : 'rect');
  set(el, oval ? { cx: s.X + s.W / 2, cy: s.Y + s.H / 2, rx: s.W / 2, ry: s.H / 2 } : { x: s.X, y: s.Y, width: s.W, height: s.H });
  set(el, { class: i === chosen ? 'veil chosen' : 'veil', tabindex: 0, role: 'group', 'aria-label': `Veil ${i + 1}. Arrow keys move it, with Alt they size it, Delete takes it off.` });
  el.dataset.i = i;
  return el;
}

function draw() {
  const held = document.activeElement?.closest?.('#veils [data-i]')?.dataset.i;
  group.replaceChildren(...shapes.map(outline));
  const s = shapes[chosen], u = unit();
  if (s) {
    const grip = document.createElementNS(ns, 'rect');
    set(grip, { x: s.X + s.W - 12 * u, y: s.Y + s.H - 12 * u, width: 24 * u, height: 24 * u, class: 'veil-grip' });
    Object.assign(grip.dataset, { i: chosen, size: 'yes' });
    group.append(grip);
  }
  if (held !== undefined) group.querySelector(`[data-i="${held}"]`)?.focus({ preventScroll: true });
  const f = grab?.focus ?? focusAt();
  mark.classList.toggle('set', panel().dataset.focused === 'yes');
  mark.innerHTML = `<circle class="hit" cx="${f.x}" cy="${f.y}" r="${14 * u}"/><path d="M${f.x - 9 * u} ${f.y}h${18 * u}M${f.x} ${f.y - 9 * u}v${18 * u}"/>`;
}

// read takes what the server holds, unless the hand is on it.
function read() {
  if (grab) return;
  shapes = JSON.parse(panel().dataset.veils);
  if (image.getAttribute('href') !== panel().dataset.image) image.setAttribute('href', panel().dataset.image);
  draw();
}

function post(to, values) {
  htmx.ajax('POST', `/bench/${bench.dataset.id}/${to}`, { values, swap: 'none', source: '#stage' });
}

// keep sends a veil: a fresh one as usual for its shape, or the chosen one with
// what its line in the list says.
function keep(s, fresh) {
  const place = { shape: s.Shape, x: Math.round(s.X), y: Math.round(s.Y), w: Math.max(1, Math.round(s.W)), h: Math.max(1, Math.round(s.H)) };
  if (fresh) {
    const oval = s.Shape === 'ellipse';
    post('veil', { ...place, reason: oval ? 'face' : 'number', style: 'soft', cells: oval ? 4 : 1 });
    return;
  }
  const line = document.querySelector(`.veil-list [data-i="${chosen}"]`);
  const say = (name) => line.querySelector(`[name=${name}]`).value;
  post('veil', { ...place, i: chosen, reason: say('reason'), style: say('style'), cells: say('cells') });
}

// ---- the pointer ----
stage.addEventListener('pointerdown', (e) => {
  const own = drawing || e.target.closest('#veils [data-i], #focus'); // the focus only while it is in hand
  if (e.button !== 0 || !own) { if (chosen >= 0) { chosen = -1; draw(); } return; }
  e.stopImmediatePropagation();
  e.preventDefault();
  stage.setPointerCapture(e.pointerId);
  const p = at(e);
  if (drawing) {
    chosen = shapes.push({ Shape: drawing, X: p.x, Y: p.y, W: 0, H: 0 }) - 1;
    grab = { fresh: true, from: p };
  } else if (e.target.closest('#focus')) {
    grab = { focus: p };
    mark.focus({ preventScroll: true });
  } else {
    chosen = Number(e.target.dataset.i);
    grab = { size: e.target.dataset.size, from: p, was: { ...shapes[chosen] } };
  }
  draw();
  if (!grab.focus) group.querySelector(`[data-i="${chosen}"]`)?.focus({ preventScroll: true });
}, true);

stage.addEventListener('pointermove', (e) => {
  if (!grab) return;
  e.stopImmediatePropagation();
  const p = at(e);
  if (grab.focus) { grab.focus = { x: inside(p.x, W), y: inside(p.y, H) }; draw(); return; }
  const s = shapes[chosen], dx = p.x - grab.from.x, dy = p.y - grab.from.y;
  grab.moved = true;
  if (grab.fresh) Object.assign(s, { X: Math.min(p.x, grab.from.x), Y: Math.min(p.y, grab.from.y), W: Math.abs(dx), H: Math.abs(dy) });
  else if (grab.size) Object.assign(s, { W: Math.max(8, grab.was.W + dx), H: Math.max(8, grab.was.H + dy) });
  else Object.assign(s, { X: grab.was.X + dx, Y: grab.was.Y + dy });
  draw();
}, true);

for (const kind of ['pointerup', 'pointercancel']) stage.addEventListener(kind, (e) => {
  if (!grab) return;
  e.stopImmediatePropagation();
  const g = grab, s = shapes[chosen];
  grab = null;
  if (g.focus) { post('focus', { x: g.focus.x / W, y: g.focus.y / H }); return; }
  if (!g.fresh) { if (g.moved) keep(s); return; }
  draws(null);
  if (s.W < 8 * unit() || s.H < 8 * unit()) { shapes.pop(); chosen = -1; draw(); return; } // a click is no veil
  keep(s, true);
}, true);

// The focus lies under the hand only when it is asked for: it would be in the way
// of the frame.
document.addEventListener('click', (e) => {
  if (e.target.id !== 'focus-hand') return;
  const on = bench.classList.toggle('focusing');
  e.target.setAttribute('aria-pressed', on);
  if (on) mark.focus({ preventScroll: true });
});

function draws(shape) {
  drawing = shape;
  bench.classList.toggle('hiding', Boolean(shape));
  for (const b of document.querySelectorAll('[data-draw]')) b.setAttribute('aria-pressed', b.dataset.draw === shape);
}
document.addEventListener('click', (e) => {
  const shape = e.target.closest?.('[data-draw]')?.dataset.draw;
  if (shape) draws(drawing === shape ? null : shape);
});

// ---- the keyboard ----
let settle;
stage.addEventListener('keydown', (e) => {
  const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key];
  const step = Math.max(1, Math.round(unit())) * (e.shiftKey ? 10 : 1);
  if (e.target === mark && way) {
    e.preventDefault();
    const f = focusAt();
    post('focus', { x: inside((f.x + 4 * way[0] * step) / W, 1), y: inside((f.y + 4 * way[1] * step) / H, 1) });
    return;
  }
  const i = e.target.dataset?.i;
  if (i === undefined) return;
  chosen = Number(i);
  if (e.key === 'Delete' || e.key === 'Backspace') {
    e.preventDefault();
    chosen = -1;
    post('veil/drop', { i });
  }
  if (!way) return;
  e.preventDefault();
  const s = shapes[chosen];
  if (e.altKey) Object.assign(s, { W: Math.max(8, s.W + way[0] * step), H: Math.max(8, s.H + way[1] * step) });
  else Object.assign(s, { X: s.X + way[0] * step, Y: s.Y + way[1] * step });
  draw();
  clearTimeout(settle);
  settle = setTimeout(() => keep(s), 400);
});

// ---- straighten, live; and peek, for as long as it is held ----
document.addEventListener('input', (e) => {
  if (e.target.id !== 'straighten') return;
  document.getElementById('degrees').textContent = `${Number(e.target.value).toFixed(1)}°`;
  document.getElementById('slant').setAttribute('transform', `rotate(${e.target.value} ${W / 2} ${H / 2})`);
});

function peek(on) {
  if (on === bench.classList.contains('peeking')) return;
  bench.classList.toggle('peeking', on);
  image.setAttribute('href', on ? `/previews/${bench.dataset.id}` : panel().dataset.image);
}
document.addEventListener('pointerdown', (e) => { if (e.target.id === 'peek') peek(true); });
for (const kind of ['pointerup', 'pointercancel', 'blur']) addEventListener(kind, () => peek(false));
addEventListener('keydown', (e) => { if (e.key === 'p' && document.getElementById('peek') && !e.target.closest?.('input, textarea, select, dialog')) peek(true); });
addEventListener('keyup', (e) => { if (e.key === 'p') peek(false); });

for (const kind of ['htmx:afterSettle', 'htmx:oobAfterSwap']) document.addEventListener(kind, read);
new ResizeObserver(draw).observe(stage);
read();
