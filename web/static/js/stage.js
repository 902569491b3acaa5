// The Bench's stage, shared by the hands that work on it. Their units are pixels
// of the upright original.
export const bench = document.getElementById('bench');
export const stage = document.getElementById('stage');
export const W = Number(stage.dataset.width);
export const H = Number(stage.dataset.height);
export const ns = 'http://www.w3.org/2000/svg';

export function set(el, attrs) { for (const k in attrs) el.setAttribute(k, attrs[k]); }

// unit is how many source pixels one screen pixel spans.
export function unit() { const m = stage.getScreenCTM(); return 1 / Math.hypot(m.a, m.b); }

// under carries the pointer into the units of a layer of the stage.
export function under(e, layer) {
  const p = new DOMPoint(e.clientX, e.clientY).matrixTransform(layer.getScreenCTM().inverse());
  return { x: p.x, y: p.y };
}
