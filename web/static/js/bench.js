// The Bench's hand: drawing, moving and sizing the frame on the stage. The
// stage's own units are pixels of the upright original, so what is drawn is
// what is sent. All figures come from the server.
import { dimension, extension } from './dimension.js';
import { bench, stage, W, H, ns, set, unit, under } from './stage.js';

const group = document.getElementById('frame');
const shade = document.getElementById('shade');
const dims = document.getElementById('stage-dims');
const plane = document.getElementById('plane');

const body = part('rect', 'body');
const thirds = [0, 1, 2, 3].map(() => part('line', 'third'));
const corners = part('path', 'corner');
const edges = { nw: [0, 0], n: [.5, 0], ne: [1, 0], e: [1, .5], se: [1, 1], s: [.5, 1], sw: [0, 1], w: [0, .5] };
const grips = Object.fromEntries(Object.keys(edges).map((k) => { const g = part('rect', `grip ${k}`); g.dataset.edge = k; return [k, g]; }));

let frame = read();
let last = { ...frame };

function part(kind, cls) {
  const el = document.createElementNS(ns, kind);
  el.setAttribute('class', cls);
  group.append(el);
  return el;
}

// read takes the frame that the server last told.
function read() {
  const [x, y, w, h] = document.getElementById('figures').dataset.frame.split(' ').map(Number);
  return { x, y, w, h };
}

// seen carries a point of the upright original to the picture as it is turned.
const turned = plane.transform.baseVal.consolidate()?.matrix ?? new DOMMatrix();
const seen = (x, y) => { const p = new DOMPoint(x, y).matrixTransform(turned); return [p.x, p.y]; };
const SW = stage.viewBox.baseVal.width;

function draw() {
  const { x, y, w, h } = frame;
  const u = unit();
  set(body, { x, y, width: w, height: h });
  shade.setAttribute('d', `M0 0H${W}V${H}H0zM${x} ${y}V${y + h}H${x + w}V${y}z`);
  const arm = Math.min(18 * u, w / 3, h / 3);
  corners.setAttribute('d', `M${x} ${y + arm}V${y}H${x + arm}M${x + w - arm} ${y}H${x + w}V${y + arm}M${x + w} ${y + h - arm}V${y + h}H${x + w - arm}M${x + arm} ${y + h}H${x}V${y + h - arm}`
    + `M${x + w / 2 - arm / 2} ${y}h${arm}M${x + w / 2 - arm / 2} ${y + h}h${arm}M${x} ${y + h / 2 - arm / 2}v${arm}M${x + w} ${y + h / 2 - arm / 2}v${arm}`);
  thirds.forEach((t, i) => {
    const f = (i % 2 + 1) / 3;
    set(t, i < 2 ? { x1: x + w * f, x2: x + w * f, y1: y, y2: y + h } : { x1: x, x2: x + w, y1: y + h * f, y2: y + h * f });
  });
  const size = 28 * u;
  for (const k in edges) {
    const [fx, fy] = edges[k];
    const wide = fx === .5 ? Math.max(size, w - 2 * size) : size;
    const high = fy === .5 ? Math.max(size, h - 2 * size) : size;
    set(grips[k], { x: x + w * fx - wide / 2, y: y + h * fy - high / 2, width: wide, height: high });
  }
  // The dimension lines stand outside the picture as it is turned; extension
  // lines lead to them.
  const [[ax, ay], [bx, by]] = [seen(x, y), seen(x + w, y + h)];
  const [l, t, r, low] = [Math.min(ax, bx), Math.min(ay, by), Math.max(ax, bx), Math.max(ay, by)];
  dims.replaceChildren(
    extension(l, t, l, -14 * u), extension(r, t, r, -14 * u),
    extension(r, t, SW + 14 * u, t), extension(r, low, SW + 14 * u, low),
    dimension(l, -10 * u, r, -10 * u, `${Math.round(r - l)}`, u),
    dimension(SW + 10 * u, t, SW + 10 * u, low, `${Math.round(low - t)}`, u),
  );
  for (const k of ['x', 'y', 'w', 'h']) {
    const field = document.getElementById(`frame-${k}`);
    if (field && field !== document.activeElement) field.value = frame[k];
  }
}

// keep holds a frame inside the picture, on whole pixels.
function keep({ x, y, w, h }, moving) {
  let l = Math.round(x), t = Math.round(y), r = Math.round(x + w), b = Math.round(y + h);
  if (moving) {
    const dx = Math.max(0, -l) - Math.max(0, r - W), dy = Math.max(0, -t) - Math.max(0, b - H);
    l += dx; r += dx; t += dy; b += dy;
  }
  l = Math.max(0, Math.min(l, W - 1)); t = Math.max(0, Math.min(t, H - 1));
  r = Math.max(l + 1, Math.min(r, W)); b = Math.max(t + 1, Math.min(b, H));
  return { x: l, y: t, w: r - l, h: b - t };
}

// ---- the pointer ----
let grab = null;

const at = (e) => under(e, plane);

stage.addEventListener('pointerdown', (e) => {
  if (e.button !== 0) return;
  const edge = e.target.dataset?.edge;
  const whole = frame.w === W && frame.h === H;
  grab = { edge, from: at(e), was: { ...frame }, mode: edge ? 'size' : (e.target === body && !whole ? 'move' : 'new'), moved: false };
  stage.setPointerCapture(e.pointerId);
  group.classList.add('held');
  e.preventDefault();
  group.focus({ preventScroll: true, focusVisible: false });
});

stage.addEventListener('pointermove', (e) => {
  if (!grab) return;
  const p = at(e);
  const dx = p.x - grab.from.x, dy = p.y - grab.from.y;
  if (!grab.moved && Math.hypot(dx, dy) < 3 * unit()) return;
  grab.moved = true;
  const { was } = grab;
  if (grab.mode === 'move') frame = keep({ ...was, x: was.x + dx, y: was.y + dy }, true);
  else if (grab.mode === 'new') frame = keep(square(e, { x: Math.min(grab.from.x, p.x), y: Math.min(grab.from.y, p.y), w: Math.abs(dx), h: Math.abs(dy) }));
  else frame = keep(sized(was, grab.edge, dx, dy));
  if (grab.mode !== 'move') frame = shaped(frame, grab.edge);
  draw();
  measure();
});

for (const kind of ['pointerup', 'pointercancel']) stage.addEventListener(kind, () => {
  if (!grab) return;
  const { moved } = grab;
  grab = null;
  group.classList.remove('held');
  if (moved) send();
});

// square keeps a new frame square while Shift is held.
function square(e, f) {
  if (!e.shiftKey) return f;
  const side = Math.min(f.w, f.h);
  return { ...f, w: side, h: side };
}

// shaped holds a frame to the ratio that is chosen; the side that moved rules.
function shaped(f, edge) {
  const [a, b] = (document.getElementById('ratio')?.value ?? '').split(':').map(Number);
  if (!a || !b) return f;
  let { x, y, w, h } = f;
  if (edge === 'n' || edge === 's') w = h * a / b; else h = w * b / a;
  if (x + w > W) { w = W - x; h = w * b / a; }
  if (y + h > H) { h = H - y; w = h * a / b; }
  return keep({ x, y, w, h });
}

function sized(was, edge, dx, dy) {
  let { x, y, w, h } = was;
  const least = 8;
  if (edge.includes('w')) { const d = Math.min(dx, w - least); x += d; w -= d; }
  if (edge.includes('e')) w = Math.max(least, w + dx);
  if (edge.includes('n')) { const d = Math.min(dy, h - least); y += d; h -= d; }
  if (edge.includes('s')) h = Math.max(least, h + dy);
  return { x, y, w, h };
}

// ---- the keyboard ----
let settle;
group.addEventListener('keydown', (e) => {
  const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[e.key];
  if (!way) return;
  e.preventDefault();
  const step = Math.max(1, Math.round(unit())) * (e.shiftKey ? 10 : 1);
  const [dx, dy] = [way[0] * step, way[1] * step];
  frame = e.altKey ? keep({ ...frame, w: Math.max(8, frame.w + dx), h: Math.max(8, frame.h + dy) }) : keep({ ...frame, x: frame.x + dx, y: frame.y + dy }, true);
  draw();
  measure();
  clearTimeout(settle);
  settle = setTimeout(send, 500);
});

addEventListener('keydown', (e) => {
  if (e.ctrlKey || e.metaKey || e.altKey || e.target.closest?.('input, textarea, select, dialog')) return;
  if (e.key === 'Enter' && !e.target.closest?.('button, a, summary')) { location.href = `/bench/${bench.dataset.id}/next`; e.preventDefault(); }
  if (e.key === 'f') { group.focus(); e.preventDefault(); }
  if (e.key === 'n') { document.getElementById('name').focus(); e.preventDefault(); }
  if (e.key === 'd') { document.getElementById('alt').focus(); e.preventDefault(); }
  if (e.key === ',' || e.key === '.') {
    const links = [...document.querySelectorAll('.batch a')];
    const here = links.findIndex((a) => a.hasAttribute('aria-current'));
    const to = links[here + (e.key === '.' ? 1 : -1)];
    if (to) location.href = to.href;
  }
});

// Fields send themselves when they change; Enter must not send them twice.
bench.addEventListener('submit', (e) => e.preventDefault());

bench.addEventListener('click', (e) => {
  if (e.target.id !== 'whole') return;
  frame = { x: 0, y: 0, w: W, h: H };
  draw();
  send();
});

// ---- asking the server ----
let asking = false, again = false, turn = 0;

// measure asks for the figures of the frame in hand, one question at a time,
// always ending with the newest.
async function measure() {
  if (asking) { again = true; return; }
  asking = true;
  const mine = turn;
  try {
    const { x, y, w, h } = frame;
    const res = await fetch(`/bench/${bench.dataset.id}/measure?${new URLSearchParams({ x, y, w, h })}`, { headers: { 'HX-Request': 'true' } });
    if (res.ok && mine === turn) show(await res.text());
  } catch { /* the next move asks again */ }
  asking = false;
  if (again) { again = false; measure(); }
}

function show(html) {
  const box = document.createElement('template');
  box.innerHTML = html;
  for (const piece of box.content.children) document.getElementById(piece.id)?.replaceWith(piece);
}

// send makes the frame a step of the recipe.
function send() {
  clearTimeout(settle);
  if (['x', 'y', 'w', 'h'].every((k) => frame[k] === last[k])) return;
  turn++;
  last = { ...frame };
  const { x, y, w, h } = frame;
  htmx.ajax('POST', `/bench/${bench.dataset.id}/frame`, { values: { x, y, w, h }, swap: 'none', source: '#stage' });
}

// After any answer the stage shows what the server holds, unless the hand is on it.
document.addEventListener('htmx:afterSettle', sync);
document.addEventListener('htmx:oobAfterSwap', sync);
function sync() {
  if (grab || again || asking) return;
  frame = read();
  last = { ...frame };
  draw();
}

new ResizeObserver(draw).observe(stage);
draw();
