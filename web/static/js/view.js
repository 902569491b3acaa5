// The eye on the stage: the whole picture, the size of the cut, the pixels of the
// original, or any zoom around the pointer; moved about by dragging, wheel, space
// and keys. Close up, the original itself comes in tiles.
import { afterAnswer } from './answer.js';
import { bench, stage, W, H, SW, SH, seen, unseen, part, letGo, onTurn } from './stage.js';
import { on } from './keys.js';

const image = document.getElementById('stage-image');
const tiles = document.getElementById('tiles');
const told = document.getElementById('zoom-told');
const most = 8; // screen pixels to a pixel of the original

let mode = 'whole';
let eye = { x: SW / 2, y: SH / 2, scale: 1 }; // its middle, and screen pixels to a pixel of the original
let tell = () => {};

// onView is told whenever the view has changed.
export function onView(f) {
  const before = tell;
  tell = () => {
    before();
    f();
  };
}

export function whole() {
  return mode === 'whole';
}

function room() {
  const b = stage.getBoundingClientRect();
  return { w: Math.max(b.width, 1), h: Math.max(b.height, 1) };
}

function wholeScale() {
  const r = room();
  return Math.min(r.w / SW, r.h / SH);
}

// cutScale shows the cut at its own size: its pixels over those of the frame.
function cutScale() {
  const f = document.getElementById('figures').dataset;
  return f.cut ? Number(f.cut) : 1;
}

export function look() {
  const r = room();
  if (mode === 'whole') eye = { x: SW / 2, y: SH / 2, scale: wholeScale() };
  if (mode === 'cut') eye.scale = cutScale() / devicePixelRatio;
  if (mode === 'original') eye.scale = 1 / devicePixelRatio;
  const [w, h] = [r.w / eye.scale, r.h / eye.scale];
  eye.x = hold(eye.x, w, SW);
  eye.y = hold(eye.y, h, SH);
  show(eye.x - w / 2, eye.y - h / 2, w, h);
}

// hold keeps the picture under the eye.
function hold(at, span, side) {
  return span >= side ? side / 2 : Math.min(Math.max(at, span / 2), side - span / 2);
}

function show(x, y, w, h) {
  stage.setAttribute('viewBox', `${x} ${y} ${w} ${h}`);
  bench.classList.toggle('close', mode !== 'whole');
  const from = [Math.max(0, x), Math.max(0, y)].map(Math.round),
    to = [Math.min(SW, x + w), Math.min(SH, y + h)].map(Math.round);
  const zoom = 100 * eye.scale * devicePixelRatio;
  told.textContent =
    `${zoom < 10 ? zoom.toFixed(1) : Math.round(zoom)} % of the original, ` +
    (mode === 'whole' ? 'all of it' : `${from[0]} to ${to[0]} across, ${from[1]} to ${to[1]} down`);
  for (const b of document.querySelectorAll('[data-view][aria-pressed]'))
    b.setAttribute('aria-pressed', b.dataset.view === mode);
  tell();
  sharpen();
}

export function view(to, x, y) {
  if (x !== undefined) Object.assign(eye, { x, y });
  mode = to;
  look();
}

// zoomAt changes the zoom so that the point under the pointer stays there.
function zoomAt(clientX, clientY, factor) {
  const p = new DOMPoint(clientX, clientY).matrixTransform(stage.getScreenCTM().inverse());
  const least = wholeScale();
  const scale = Math.min(Math.max(eye.scale * factor, least), most);
  if (scale <= least * 1.001) {
    view('whole');
    return;
  }
  const k = eye.scale / scale;
  mode = 'free';
  eye = { x: p.x + (eye.x - p.x) * k, y: p.y + (eye.y - p.y) * k, scale };
  look();
}

function zoomMiddle(factor) {
  const b = stage.getBoundingClientRect();
  zoomAt(b.left + b.width / 2, b.top + b.height / 2, factor);
}

// shift moves the eye by screen pixels, and says what it moved in pixels of the picture.
function shift(dx, dy) {
  eye.x += dx / eye.scale;
  eye.y += dy / eye.scale;
  look();
}

// slide moves what is seen without holding the picture under the eye; settle
// brings it back.
export function slide(dx, dy) {
  const r = room();
  eye.x += dx;
  eye.y += dy;
  const [w, h] = [r.w / eye.scale, r.h / eye.scale];
  stage.setAttribute('viewBox', `${eye.x - w / 2} ${eye.y - h / 2} ${w} ${h}`);
}
export const settle = look;

// ---- tiles of the original ----
const side = 512;
let shown = new Map();
function sharpen() {
  const wanted = eye.scale * devicePixelRatio,
    have = Number(image.dataset.width) / W;
  if (wanted <= have * 1.15 || !image.getAttribute('href').includes('/stage')) {
    shown.clear();
    tiles.replaceChildren();
    return;
  }
  const level = Math.max(0, Math.floor(Math.log2(1 / wanted)));
  const step = side << level;
  const v = stage.viewBox.baseVal,
    straight = Number(stage.dataset.slant || 0);
  const corners = [
    [v.x, v.y],
    [v.x + v.width, v.y],
    [v.x, v.y + v.height],
    [v.x + v.width, v.y + v.height],
  ]
    .map(([x, y]) => unseen(x, y))
    .map(([x, y]) => upright(x, y, straight));
  const xs = corners.map((c) => c[0]),
    ys = corners.map((c) => c[1]);
  const near = new Map();
  for (let row = Math.max(0, Math.floor(Math.min(...ys) / step)); row * step < Math.min(H, Math.max(...ys)); row++) {
    for (
      let col = Math.max(0, Math.floor(Math.min(...xs) / step));
      col * step < Math.min(W, Math.max(...xs));
      col++
    ) {
      const href = image.getAttribute('href').replace('/stage', `/tiles/${level}/${col}/${row}`);
      near.set(
        href,
        shown.get(href) ??
          part('image', {
            href,
            x: col * step,
            y: row * step,
            width: Math.min(step, W - col * step),
            height: Math.min(step, H - row * step),
            preserveAspectRatio: 'none',
          }),
      );
    }
  }
  // What is shown stays until what replaces it is there.
  for (const [href, el] of near) if (!shown.has(href)) tiles.append(el);
  const fresh = [...near]
    .filter(([href]) => !shown.has(href))
    .map(
      ([, el]) =>
        new Promise((done) => {
          el.onload = done;
          el.onerror = done;
        }),
    );
  const old = [...shown].filter(([href]) => !near.has(href)).map(([, el]) => el);
  shown = near;
  tiles.dataset.waiting = fresh.length;
  Promise.all(fresh).then(() => {
    for (const el of old) el.remove();
    if (shown === near) tiles.dataset.waiting = 0;
  });
}

function upright(x, y, degrees) {
  const p = new DOMPoint(x, y).matrixTransform(
    new DOMMatrix()
      .translate(W / 2, H / 2)
      .rotate(-degrees)
      .translate(-W / 2, -H / 2),
  );
  return [p.x, p.y];
}

new MutationObserver(sharpen).observe(image, { attributeFilter: ['href'] });

// ---- hands ----
let space = false,
  pan = null;
const fingers = new Map();

// What takes the space bar, and arrows, for itself.
const takesKeys = (e) => e.target.closest?.('input, button, a, summary');
on('Space', (e) => {
  if (takesKeys(e)) return false;
  space = true;
  bench.classList.add('panning');
});
for (const [key, x, y] of [
  ['ArrowLeft', -1, 0],
  ['ArrowRight', 1, 0],
  ['ArrowUp', 0, -1],
  ['ArrowDown', 0, 1],
]) {
  on(key, () => {
    if (whole() || document.activeElement !== document.body) return false;
    shift(60 * x, 60 * y);
  });
}
addEventListener('keyup', (e) => {
  if (e.key === ' ') {
    space = false;
    bench.classList.remove('panning');
  }
});
addEventListener('blur', () => {
  space = false;
  bench.classList.remove('panning');
});

stage.addEventListener(
  'pointerdown',
  (e) => {
    if (e.pointerType === 'touch') fingers.set(e.pointerId, e);
    if (!(space || e.button === 1 || fingers.size === 2)) return;
    e.stopImmediatePropagation();
    e.preventDefault();
    letGo();
    stage.setPointerCapture(e.pointerId);
    pan = { x: e.clientX, y: e.clientY };
  },
  true,
);

stage.addEventListener(
  'pointermove',
  (e) => {
    if (!pan) return;
    e.stopImmediatePropagation();
    if (fingers.size === 2 && fingers.has(e.pointerId)) {
      pinch(e);
      return;
    }
    shift(pan.x - e.clientX, pan.y - e.clientY);
    pan = { x: e.clientX, y: e.clientY };
  },
  true,
);

for (const kind of ['pointerup', 'pointercancel'])
  stage.addEventListener(
    kind,
    (e) => {
      fingers.delete(e.pointerId);
      if (!pan) return;
      e.stopImmediatePropagation();
      if (fingers.size === 0) pan = null;
    },
    true,
  );

// pinch zooms about the middle of two fingers and moves with it.
function pinch(e) {
  const [a, b] = fingers.values();
  const before = {
    x: (a.clientX + b.clientX) / 2,
    y: (a.clientY + b.clientY) / 2,
    d: Math.hypot(a.clientX - b.clientX, a.clientY - b.clientY),
  };
  fingers.set(e.pointerId, e);
  const [c, d] = fingers.values();
  const after = {
    x: (c.clientX + d.clientX) / 2,
    y: (c.clientY + d.clientY) / 2,
    d: Math.hypot(c.clientX - d.clientX, c.clientY - d.clientY),
  };
  zoomAt(after.x, after.y, after.d / Math.max(before.d, 1));
  if (!whole()) shift(before.x - after.x, before.y - after.y);
}

stage.addEventListener(
  'wheel',
  (e) => {
    e.preventDefault();
    if (e.ctrlKey || e.metaKey || whole()) zoomAt(e.clientX, e.clientY, Math.exp(-e.deltaY / 400));
    else if (e.shiftKey) shift(e.deltaY, 0);
    else shift(e.deltaX, e.deltaY);
  },
  { passive: false },
);

document.addEventListener('click', (e) => {
  const to = e.target.closest?.('[data-view]')?.dataset.view;
  if (!to) return;
  if (to === 'nearer') zoomMiddle(1.5);
  else if (to === 'farther') zoomMiddle(1 / 1.5);
  else {
    const [x, y, w, h] = document.getElementById('figures').dataset.frame.split(' ').map(Number);
    view(to, ...seen(x + w / 2, y + h / 2));
  }
});

// After a change of size the whole picture is in view again by itself.
document.addEventListener('change', (e) => {
  if (e.target.name === 'slot') view('whole');
});

// The size of the cut is known when its figures come.
afterAnswer(() => {
  if (mode === 'cut' && eye.scale !== cutScale() / devicePixelRatio) look();
});

onTurn(() => view('whole'));
new ResizeObserver(look).observe(stage);
addEventListener('resize', look);
look();
