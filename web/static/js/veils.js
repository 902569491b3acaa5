// The Bench's hand for what is hidden, and for the focus: drawing, moving and
// sizing veils on the stage. Their units are pixels of the upright original. It
// listens before the frame's hand does and keeps from it what is its own.
import { afterAnswer } from './answer.js';
import { otherwise } from './focus.js';
import { bench, stage, W, H, id, onLetGo, part, post, set, unit, under } from './stage.js';
import { onView } from './view.js';
import * as corners from './veil-corners.js';
import { at as lookAt, gone as lookGone, without } from './veil-look.js';
import { proposed } from './text-lines.js';
import { on, wayOf } from './keys.js';
import { own } from './own.js';

const group = document.getElementById('veils');
const mark = document.getElementById('focus');
const image = document.getElementById('stage-image');
const panel = () => document.getElementById('step-hide');

let drawing = null; // the shape that the next stroke draws
let chosen = -1;
let shapes = [];
let grab = null;
let settle = 0; // a nudged veil waits to be sent

const inside = (v, most) => Math.min(Math.max(v, 0), most);
const focusAt = () => {
  const [x, y] = panel().dataset.focus.split(' ').map(Number);
  return { x, y };
};

// at carries the pointer to the original itself, which may be straightened.
const at = (e) => under(e, group);

const kinds = { ellipse: 'ellipse', rect: 'rect', polygon: 'polygon' };

function place(s) {
  if (s.shape === 'polygon') return { points: s.points.map((p) => p.join()).join(' ') };
  if (s.shape === 'ellipse')
    return { cx: s.x + s.width / 2, cy: s.y + s.height / 2, rx: s.width / 2, ry: s.height / 2 };
  return { x: s.x, y: s.y, width: s.width, height: s.height };
}

function outline(s, i) {
  const el = part(kinds[s.shape], {
    ...place(s),
    class: i === chosen ? 'veil chosen' : 'veil',
    tabindex: 0,
    role: 'group',
    'aria-label': `Veil ${i + 1}. Arrow keys move it, with Alt they size it, V makes a copy, Delete removes it.`,
  });
  el.dataset.i = i;
  return el;
}

// awaited is a veil that had the hand and went with an answer to something earlier: the next one
// has it again, unless the hand has gone elsewhere by then. Until then it rests where no key moves
// anything.
let awaited;
const rest = document.getElementById('main');
otherwise(() => (awaited === undefined ? null : rest));

function draw() {
  const here = document.activeElement,
    resting = here === document.body || here === rest,
    held = here?.closest?.('#veils [data-i]')?.dataset.i ?? (resting ? awaited : undefined);
  group.replaceChildren(...shapes.map(outline));
  const s = shapes[chosen],
    u = unit();
  if (s) {
    const grip = part(
      'rect',
      { x: s.x + s.width - 12 * u, y: s.y + s.height - 12 * u, width: 24 * u, height: 24 * u, class: 'veil-grip' },
      group,
    );
    Object.assign(grip.dataset, { i: chosen, size: 'yes' });
  }
  const again = held === undefined ? null : group.querySelector(`[data-i="${held}"]`);
  again?.focus({ preventScroll: true });
  awaited = again ? undefined : held;
  const f = grab?.focus ?? focusAt();
  mark.classList.toggle('set', panel().dataset.focused === 'yes');
  mark.innerHTML =
    `<circle class="hit" cx="${f.x}" cy="${f.y}" r="${14 * u}"/>` +
    `<path d="M${f.x - 9 * u} ${f.y}h${18 * u}M${f.x} ${f.y - 9 * u}v${18 * u}"/>`;
}

// read takes what the server holds, unless the hand is on it.
function read() {
  if (grab || settle) return;
  shapes = JSON.parse(panel().dataset.veils);
  if (chosen >= shapes.length) chosen = -1;
  if (image.getAttribute('href') !== panel().dataset.image) {
    image.setAttribute('href', panel().dataset.image);
    without(null);
  }
  draw();
  proposed(shapes);
}

const whole = (v) => Math.round(v);

// words tells the server a veil's outline.
function words(s) {
  const place = {
    shape: s.shape,
    x: whole(s.x),
    y: whole(s.y),
    w: Math.max(1, whole(s.width)),
    h: Math.max(1, whole(s.height)),
  };
  if (s.shape === 'polygon') place.points = s.points.map((p) => p.map(whole).join()).join(' ');
  return place;
}

// usual is how a fresh veil hides what its shape is mostly drawn around.
const usual = (s) =>
  s.shape === 'rect' ? { reason: 'number', style: 'cover' } : { reason: 'face', style: 'figure' };

// asSaid is what the line of a veil says of it.
function asSaid(i) {
  const line = document.querySelector(`.veil-list [data-i="${i}"]`);
  if (!line) return usual(shapes[i]);
  const say = (name) => line.querySelector(`[name=${name}]`)?.value ?? 0;
  return { reason: say('reason'), style: say('style'), cells: say('cells') };
}

// keep sends a veil: a fresh one as usual for its shape, or the chosen one with
// what its line in the list says.
function keep(s, fresh) {
  post('veil', fresh ? { ...words(s), ...usual(s) } : { ...words(s), veil: s.id, ...asSaid(chosen) });
}

// preview shows what a veil will look like while it is in the hand.
function preview(i, fresh) {
  lookAt({ ...words(shapes[i]), ...(fresh ? usual(shapes[i]) : asSaid(i)), i: fresh ? -1 : i });
}

function bound(s) {
  const xs = s.points.map((p) => p[0]),
    ys = s.points.map((p) => p[1]);
  Object.assign(s, { x: Math.min(...xs), y: Math.min(...ys) });
  Object.assign(s, { width: Math.max(...xs) - s.x, height: Math.max(...ys) - s.y });
}

function moveTo(s, was, dx, dy) {
  Object.assign(s, { x: was.x + dx, y: was.y + dy });
  if (s.shape === 'polygon') s.points = was.points.map(([x, y]) => [x + dx, y + dy]);
}

function sizeTo(s, was, w, h) {
  Object.assign(s, { width: Math.max(8, w), height: Math.max(8, h) });
  if (s.shape === 'polygon')
    s.points = was.points.map(([x, y]) => [
      was.x + ((x - was.x) * s.width) / was.width,
      was.y + ((y - was.y) * s.height) / was.height,
    ]);
}

// ---- the pointer ----
stage.addEventListener(
  'pointerdown',
  (e) => {
    const own = drawing || e.target.closest('#veils [data-i], #focus'); // the focus only while it is in hand
    if (e.button !== 0 || !own) {
      if (chosen >= 0) {
        chosen = -1;
        draw();
      }
      return;
    }
    e.stopImmediatePropagation();
    e.preventDefault();
    stage.setPointerCapture(e.pointerId);
    corners.end();
    const p = at(e);
    if (drawing) {
      const s = { shape: drawing, x: p.x, y: p.y, width: 0, height: 0 };
      if (drawing === 'polygon') s.points = [[p.x, p.y]];
      chosen = shapes.push(s) - 1;
      grab = { fresh: true, from: p };
    } else if (e.target.closest('#focus')) {
      grab = { focus: p };
      mark.focus({ preventScroll: true });
    } else {
      chosen = Number(e.target.dataset.i);
      grab = { size: e.target.dataset.size, from: p, was: structuredClone(shapes[chosen]) };
    }
    draw();
    if (!grab.focus) group.querySelector(`[data-i="${chosen}"]`)?.focus({ preventScroll: true });
  },
  true,
);

stage.addEventListener(
  'pointermove',
  (e) => {
    if (!grab) return;
    e.stopImmediatePropagation();
    const p = at(e);
    if (grab.focus) {
      grab.focus = { x: inside(p.x, W), y: inside(p.y, H) };
      draw();
      boxes(grab.focus);
      return;
    }
    const s = shapes[chosen],
      dx = p.x - grab.from.x,
      dy = p.y - grab.from.y;
    if (!grab.moved && !grab.fresh) without(chosen);
    grab.moved = true;
    if (grab.fresh && s.shape === 'polygon') trace(s, p);
    else if (grab.fresh)
      Object.assign(s, {
        x: Math.min(p.x, grab.from.x),
        y: Math.min(p.y, grab.from.y),
        width: Math.abs(dx),
        height: Math.abs(dy),
      });
    else if (grab.size) sizeTo(s, grab.was, grab.was.width + dx, grab.was.height + dy);
    else moveTo(s, grab.was, dx, dy);
    draw();
    if (s.width > 8 && s.height > 8) preview(chosen, grab.fresh);
  },
  true,
);

// trace adds to a free outline where the hand has gone on by a few screen pixels.
function trace(s, p) {
  const [x, y] = s.points.at(-1);
  if (Math.hypot(p.x - x, p.y - y) < 5 * unit() || s.points.length >= 200) return;
  s.points.push([p.x, p.y]);
  bound(s);
}

onLetGo(() => {
  const g = grab;
  grab = null;
  if (!g) return;
  if (g.fresh) {
    shapes.splice(chosen, 1);
    chosen = -1;
  } else if (g.was) shapes[chosen] = g.was;
  lookGone();
  without(null);
  draw();
});

stage.addEventListener('pointerup', (e) => {
  if (!grab) return;
  e.stopImmediatePropagation();
  const g = grab,
    s = shapes[chosen];
  grab = null;
  if (g.focus) {
    post('focus', { x: g.focus.x / W, y: g.focus.y / H });
    return;
  }
  if (!g.fresh) {
    if (g.moved) keep(s);
    return;
  }
  draws(null);
  if (s.width < 8 * unit() || s.height < 8 * unit()) {
    // a click: one of a usual size, there
    if (s.shape === 'polygon') {
      shapes.pop();
      chosen = -1;
      draw();
      return;
    }
    Object.assign(s, middle(s.shape, g.from));
    draw();
  }
  keep(s, true);
});

// middle is a veil of a usual size about a spot.
function middle(shape, p) {
  const side = Math.min(W, H) / 6,
    w = shape === 'rect' ? 2 * side : side;
  return { x: inside(p.x - w / 2, W - w), y: inside(p.y - side / 2, H - side), width: w, height: side };
}

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
  if (shape === 'polygon') corners.begin(Object.values(centre()), outlined);
  else corners.end();
}

// centre is the middle of the frame.
function centre() {
  const [x, y, w, h] = document.getElementById('figures').dataset.frame.split(' ').map(Number);
  return { x: x + w / 2, y: y + h / 2 };
}

// outlined keeps an outline that was drawn by its corners.
function outlined(points) {
  const s = { shape: 'polygon', points };
  bound(s);
  add(s);
}

// add keeps a fresh veil, and leads the hand to it.
function add(s) {
  chosen = shapes.push(s) - 1;
  draws(null);
  draw();
  group.querySelector(`[data-i="${chosen}"]`)?.focus({ preventScroll: true });
  keep(s, true);
}
document.addEventListener('click', (e) => {
  const shape = e.target.closest?.('[data-draw]')?.dataset.draw;
  if (shape) draws(drawing === shape ? null : shape);
  const copied = e.target.closest?.('[data-copy]')?.dataset.copy;
  if (copied !== undefined) copy(Number(copied));
});

// copy draws a veil once more, beside itself.
function copy(i) {
  const was = shapes[i],
    s = structuredClone(was);
  delete s.id; // the copy is given its own
  const dx = was.x + 2.2 * was.width <= W ? 1.2 * was.width : -1.2 * was.width;
  moveTo(s, was, inside(was.x + dx, W - was.width) - was.x, 0);
  chosen = shapes.push(s) - 1;
  post('veil', { ...words(s), ...asSaid(i) });
}

// boxes shows what every box of the house makes of a focus in the hand.
let boxesAsked = false;
async function boxes(f) {
  if (boxesAsked) return;
  boxesAsked = true;
  const res = await fetch(own(`/bench/${id}/boxes?${new URLSearchParams({ x: f.x / W, y: f.y / H })}`), {
    headers: { 'HX-Request': 'true' },
  }).catch(() => null);
  boxesAsked = false;
  const box = document.getElementById('boxes');
  const text = res?.ok && (await res.text().catch(() => ''));
  if (text && box && grab?.focus) box.outerHTML = text;
}

// ---- the keyboard ----
stage.addEventListener('keydown', (e) => {
  const way = wayOf(e);
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
    post('veil/drop', { veil: shapes[i].id });
  }
  if (e.key === 'v') {
    e.preventDefault();
    copy(Number(i));
  }
  if (!way) return;
  e.preventDefault();
  const s = shapes[chosen],
    was = structuredClone(s);
  if (e.altKey) sizeTo(s, was, s.width + way[0] * step, s.height + way[1] * step);
  else moveTo(s, was, way[0] * step, way[1] * step);
  draw();
  without(chosen);
  preview(chosen);
  clearTimeout(settle);
  settle = setTimeout(() => {
    settle = 0;
    keep(s);
  }, 400);
});

// A veil is drawn without a pointer, too: Enter puts one of a usual size in the
// middle of the frame, and the arrows take it from there. An outline is drawn corner by corner.
on('Escape', () => {
  if (!drawing) return false;
  draws(null);
});
on(
  'Enter',
  () => {
    if (!drawing || drawing === 'polygon') return false;
    add({ shape: drawing, ...middle(drawing, centre()) });
  },
  true,
);

// What is set in a veil's line shows while it is set.
document.addEventListener('input', (e) => {
  const line = e.target.closest?.('.veil-list [data-i]');
  if (!line) return;
  chosen = Number(line.dataset.i);
  const s = shapes[chosen];
  if (s.shape !== 'polygon')
    for (const [k, name] of [
      ['x', 'x'],
      ['y', 'y'],
      ['width', 'w'],
      ['height', 'h'],
    ])
      s[k] = Number(line.querySelector(`[name=${name}]`).value) || s[k];
  draw();
  preview(chosen);
});

// ---- peek, for as long as it is held ----
function peek(on) {
  if (on === bench.classList.contains('peeking')) return;
  bench.classList.toggle('peeking', on);
  if (on) lookGone();
  image.setAttribute('href', on ? own(`/previews/${id}`) : panel().dataset.image);
}
document.addEventListener('pointerdown', (e) => {
  if (e.target.id === 'peek') peek(true);
});
for (const kind of ['pointerup', 'pointercancel', 'blur']) addEventListener(kind, () => peek(false));
on('p', () => {
  if (!document.getElementById('peek')) return false;
  peek(true);
});
addEventListener('keyup', (e) => {
  if (e.key === 'p') peek(false);
});

afterAnswer(read);
onView(draw);
read();
