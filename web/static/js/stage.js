// The Bench's stage, shared by the hands that work on it. Their units are pixels
// of the upright original.
import { afterAnswer } from './answer.js';
import { own } from './own.js';

export const bench = document.getElementById('bench');
export const stage = document.getElementById('stage');
export const plane = document.getElementById('plane');
export const W = Number(stage.dataset.width);
export const H = Number(stage.dataset.height);
export const ns = 'http://www.w3.org/2000/svg';
export const id = bench.dataset.id;

// seen carries a point of the upright original to the picture as it is turned;
// SW and SH are how large that is.
let turned = matrixOf(plane);
export let [SW, SH] = stage.dataset.seen.split(' ').map(Number);
function matrixOf(layer) {
  return layer.transform.baseVal.consolidate()?.matrix ?? new DOMMatrix();
}
export function seen(x, y) {
  const p = new DOMPoint(x, y).matrixTransform(turned);
  return [p.x, p.y];
}
export function unseen(x, y) {
  const p = new DOMPoint(x, y).matrixTransform(DOMMatrix.fromMatrix(turned).inverse());
  return [p.x, p.y];
}

// asSeen tells how the picture is turned and mirrored, as a matrix.
export const asSeen = () => DOMMatrix.fromMatrix(turned);

export function set(el, attrs) {
  for (const k in attrs) el.setAttribute(k, attrs[k]);
}

export function part(kind, attrs, parent) {
  const el = document.createElementNS(ns, kind);
  set(el, attrs);
  parent?.append(el);
  return el;
}

// unit is how many source pixels one screen pixel spans.
export function unit() {
  const m = stage.getScreenCTM();
  return 1 / Math.hypot(m.a, m.b);
}

// under carries the pointer into the units of a layer of the stage.
export function under(e, layer) {
  const p = new DOMPoint(e.clientX, e.clientY).matrixTransform(layer.getScreenCTM().inverse());
  return { x: p.x, y: p.y };
}

// post sends an act on the picture; its answer redraws what it changes. What the
// screen was drawn from goes along, so that nobody changes what they do not see.
export function post(to, values) {
  return htmx.ajax('POST', own(`/bench/${id}/${to}`), {
    values: { ...values, seen: shownStep() },
    swap: 'none',
    source: '#stage',
  });
}

// shownStep is the step of the history that the screen shows.
export function shownStep() {
  return document.getElementById('tools').dataset.step;
}

// letGo has every hand give back what it holds, as it was: a second finger means to
// move the eye, or the browser took the pointer away.
const hands = [];
export function onLetGo(act) {
  hands.push(act);
}
export function letGo() {
  for (const act of hands) act();
}
stage.addEventListener('pointercancel', letGo);

// slant has the original lie at an angle within the picture, in degrees clockwise.
export function slant(degrees) {
  for (const layer of document.querySelectorAll('#slant, #veils, #focus, #veil-look, #lines, #faces'))
    layer.setAttribute('transform', `rotate(${degrees} ${W / 2} ${H / 2})`);
}

// onTurn is told when the picture stands another way than before.
let turns = () => {};
export function onTurn(act) {
  turns = act;
}

// After an answer the picture stands as the server has it: turned, mirrored, straightened,
// or back to what it was, whoever did it.
const tools = () => ({ ...document.getElementById('tools').dataset });
let stands = tools();
afterAnswer(() => {
  const before = stands;
  stands = tools();
  if (stands.slant !== before.slant) {
    stage.dataset.slant = stands.slant;
    slant(stands.slant);
  }
  if (stands.turn === before.turn) return;
  stage.dataset.seen = stands.seen;
  plane.setAttribute('transform', stands.turn);
  turned = matrixOf(plane);
  [SW, SH] = stands.seen.split(' ').map(Number);
  turns();
});

// newest asks a question that changes faster than its answers come: one at a
// time, always ending with the newest. busy tells whether one is under way.
export function newest(ask) {
  let asking = false,
    again;
  async function next(question) {
    if (asking) {
      again = { question };
      return;
    }
    asking = true;
    try {
      await ask(question);
    } catch {
      /* the next move asks again */
    }
    asking = false;
    if (again) {
      const { question: q } = again;
      again = undefined;
      next(q);
    }
  }
  next.busy = () => asking;
  return next;
}
