// A photo that has just come is finished beside its page: its frame is drawn on it, and its
// description leads to the next. Frames are whole pixels of the upright original.
import { saySoon } from './say.js';
import * as rectangle from './rectangle.js';
import { own } from './own.js';

const ns = 'http://www.w3.org/2000/svg';
const form = () => document.getElementById('finish');
const grip = 26; // CSS px of a corner that a hand can take
let kept = null; // what was typed when an answer came for something else

function make(kind, attributes, parent) {
  const el = document.createElementNS(ns, kind);
  for (const k in attributes) el.setAttribute(k, attributes[k]);
  parent.append(el);
  return el;
}

// mount gives a photo its frame.
function mount() {
  const photo = document.getElementById('finish-photo');
  if (!photo || photo.dataset.mounted) return;
  photo.dataset.mounted = 'yes';
  const plane = document.getElementById('finish-plane'),
    group = document.getElementById('finish-frame'),
    [W, H] = photo.dataset.size.split(' ').map(Number),
    [x, y, w, h] = photo.dataset.frame.split(' ').map(Number);
  const last = { x, y, w, h };
  let frame = { ...last },
    grab = null,
    settle = 0;
  const shade = make('path', { class: 'shade', 'fill-rule': 'evenodd' }, group),
    body = make('rect', { class: 'body' }, group),
    corners = ['nw', 'ne', 'se', 'sw'].map((edge) => {
      const r = make('rect', { class: `grip ${edge}` }, group);
      r.dataset.edge = edge;
      return r;
    });
  const whole = () => frame.w === W && frame.h === H;
  const unit = () => {
    const m = photo.getScreenCTM();
    return 1 / Math.hypot(m.a, m.b);
  };
  const under = (e) => new DOMPoint(e.clientX, e.clientY).matrixTransform(plane.getScreenCTM().inverse());
  const turned = plane.transform.baseVal.consolidate()?.matrix ?? new DOMMatrix(),
    inView = (f) => rectangle.carried(f, turned);
  // The ratio as it is seen, and that of the upright original.
  const ratioSeen = () => {
    const { value } = document.getElementById('finish-ratio');
    return value === 'keep' ? inView(last).w / inView(last).h : rectangle.valueOf(value);
  };
  const ratio = () => rectangle.asStored(ratioSeen(), turned);
  const keep = (f, moving) => rectangle.keep(f, moving, W, H);
  const shaped = (f, edge) => rectangle.shaped(f, edge, ratio(), W, H);

  function draw() {
    const f = frame,
      side = Math.min(grip * unit(), f.w / 2, f.h / 2);
    const lay = (el, at) => Object.entries(at).forEach(([k, v]) => el.setAttribute(k, v));
    lay(body, { x: f.x, y: f.y, width: f.w, height: f.h });
    lay(shade, { d: `M0 0H${W}V${H}H0zM${f.x} ${f.y}V${f.y + f.h}H${f.x + f.w}V${f.y}z` });
    for (const c of corners)
      lay(c, {
        x: c.dataset.edge.includes('w') ? f.x : f.x + f.w - side,
        y: c.dataset.edge.includes('n') ? f.y : f.y + f.h - side,
        width: side,
        height: side,
      });
    document.getElementById('finish-size').textContent = `${inView(f).w} × ${inView(f).h}`;
  }

  function send() {
    clearTimeout(settle);
    if (['x', 'y', 'w', 'h'].every((k) => frame[k] === last[k])) return;
    act('frame', frame);
  }

  photo.addEventListener('pointerdown', (e) => {
    if (e.button !== 0) return;
    e.preventDefault();
    photo.setPointerCapture(e.pointerId);
    const { edge = '' } = e.target.dataset;
    const mode = edge ? 'size' : e.target === body && !whole() ? 'move' : 'new';
    grab = { mode, edge, from: under(e), was: frame, moved: false };
    group.focus({ preventScroll: true, focusVisible: false });
  });
  photo.addEventListener('pointermove', (e) => {
    if (!grab) return;
    const p = under(e),
      { was, from } = grab,
      [dx, dy] = [p.x - from.x, p.y - from.y];
    if (!grab.moved && Math.hypot(dx, dy) < 3 * unit()) return;
    grab.moved = true;
    if (grab.mode === 'move') frame = keep({ ...was, x: was.x + dx, y: was.y + dy }, true);
    else if (grab.mode === 'new')
      frame = shaped(keep(rectangle.between(from, p, e.shiftKey)), rectangle.corner(from, p));
    else frame = shaped(keep(rectangle.sized(was, grab.edge, dx, dy)), grab.edge);
    draw();
  });
  photo.addEventListener('pointerup', () => {
    const { moved } = grab ?? {};
    grab = null;
    if (moved) send();
  });
  photo.addEventListener('pointercancel', () => {
    if (grab) frame = grab.was;
    grab = null;
    draw();
  });
  group.addEventListener('keydown', (e) => {
    const moved = rectangle.nudged(e, frame, { unit: unit(), ratio: ratioSeen(), matrix: turned, W, H });
    if (!moved) return;
    e.preventDefault();
    e.stopPropagation(); // with Alt they move a block elsewhere on the page
    frame = moved;
    draw();
    saySoon(rectangle.told(frame, turned));
    clearTimeout(settle);
    settle = setTimeout(send, 500);
  });
  document.getElementById('finish-ratio').addEventListener('change', () => {
    if (!ratio()) return;
    frame = keep(rectangle.most(frame, ratio()));
    draw();
    send();
  });
  document.getElementById('finish-whole').addEventListener('click', () => {
    frame = { x: 0, y: 0, w: W, h: H };
    draw();
    send();
  });
  draw();
}

// act does something to the photo; the page is drawn with it, and what is typed stays.
function act(what, values) {
  const { picture, block, nth } = form().dataset;
  htmx.ajax('POST', own(`/pages/${document.getElementById('page-screen').dataset.id}/${what}`), {
    values: { ...values, picture, block, nth },
    target: '#page-screen',
    swap: 'outerHTML',
  });
}

// Faces are outlined where they were found.
function outline() {
  const found = document.getElementById('finish-faces'),
    layer = document.getElementById('finish-outlines');
  if (!layer) return;
  layer.replaceChildren();
  for (const face of (found?.dataset.faces ?? '').split(';').filter(Boolean)) {
    const [state, x, y, width, height] = face.split(' ');
    make('rect', { class: `face-found ${state}`, x, y, width, height, rx: width / 6 }, layer);
  }
}

document.addEventListener('htmx:beforeSwap', (e) => {
  const f = form();
  kept = null;
  if (!f || e.detail.target.id !== 'page-screen' || e.detail.requestConfig?.elt === f) return;
  const { alt, name, ratio } = f.elements;
  kept = { block: f.dataset.block, nth: f.dataset.nth, alt: alt.value, name: name.value, ratio: ratio.value };
});
document.addEventListener('htmx:afterSettle', () => {
  const f = form();
  if (kept && f?.dataset.block === kept.block && f.dataset.nth === kept.nth)
    for (const k of ['alt', 'name', 'ratio']) f.elements[k].value = kept[k];
  kept = null;
  mount();
  outline();
});
mount();
outline();

// Enter in the description places the photo; Shift+Enter begins a line.
document.addEventListener('keydown', (e) => {
  if (e.key !== 'Enter' || e.shiftKey || e.isComposing || !e.target.matches('#finish-alt')) return;
  e.preventDefault();
  e.target.form.requestSubmit();
});
