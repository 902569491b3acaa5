// What a frame may be while it is drawn, moved and sized: whole pixels of a picture of W by H.
import { wayOf } from './keys.js';

// keep holds a frame inside the picture; one that is moved keeps its size.
export function keep({ x, y, w, h }, moving, W, H) {
  let l = Math.round(x),
    t = Math.round(y),
    r = Math.round(x + w),
    b = Math.round(y + h);
  if (moving) {
    const dx = Math.max(0, -l) - Math.max(0, r - W),
      dy = Math.max(0, -t) - Math.max(0, b - H);
    l += dx;
    r += dx;
    t += dy;
    b += dy;
  }
  l = Math.max(0, Math.min(l, W - 1));
  t = Math.max(0, Math.min(t, H - 1));
  r = Math.max(l + 1, Math.min(r, W));
  b = Math.max(t + 1, Math.min(b, H));
  return { x: l, y: t, w: r - l, h: b - t };
}

// shaped holds a frame to a ratio; the side that moved rules, and the side across stands. 0 is
// any ratio.
export function shaped(f, edge, ratio, W, H) {
  if (!ratio) return f;
  const right = f.x + f.w,
    bottom = f.y + f.h;
  const fromRight = edge.includes('w'),
    fromBottom = edge.includes('n');
  let { w, h } = f;
  if (edge === 'n' || edge === 's') w = h * ratio;
  else h = w / ratio;
  const most = Math.min(
    fromRight ? right : W - f.x,
    (fromBottom ? bottom : H - f.y) * ratio, // as wide as its height has room for
  );
  if (w > most) {
    w = most;
    h = w / ratio;
  }
  return keep({ x: fromRight ? right - w : f.x, y: fromBottom ? bottom - h : f.y, w, h }, false, W, H);
}

const least = 8; // px of a side

// sized moves the edges that are named, such as nw, by some pixels.
export function sized({ x, y, w, h }, edge, dx, dy) {
  if (edge.includes('w')) {
    const d = Math.min(dx, w - least);
    x += d;
    w -= d;
  }
  if (edge.includes('e')) w = Math.max(least, w + dx);
  if (edge.includes('n')) {
    const d = Math.min(dy, h - least);
    y += d;
    h -= d;
  }
  if (edge.includes('s')) h = Math.max(least, h + dy);
  return { x, y, w, h };
}

// between is the frame from one point to another; square with sides alike.
export function between(a, b, square) {
  const w = Math.abs(b.x - a.x),
    h = Math.abs(b.y - a.y);
  const f = { x: Math.min(a.x, b.x), y: Math.min(a.y, b.y), w, h };
  return square ? { ...f, w: Math.min(w, h), h: Math.min(w, h) } : f;
}

// corner is the one that the hand has when it draws from one point to another, such as se.
export const corner = (a, b) => (b.y < a.y ? 'n' : 's') + (b.x < a.x ? 'w' : 'e');

// most is the largest frame of a ratio inside another, about its middle.
export function most({ x, y, w, h }, ratio) {
  const wide = Math.min(w, h * ratio),
    high = wide / ratio;
  return { x: x + (w - wide) / 2, y: y + (h - high) / 2, w: wide, h: high };
}

// carried is a frame as a picture that is turned or mirrored by a matrix shows it; by the
// inverse of the matrix, the frame that is shown so.
export function carried({ x, y, w, h }, matrix) {
  const a = new DOMPoint(x, y).matrixTransform(matrix),
    b = new DOMPoint(x + w, y + h).matrixTransform(matrix);
  return {
    x: Math.round(Math.min(a.x, b.x)),
    y: Math.round(Math.min(a.y, b.y)),
    w: Math.round(Math.abs(b.x - a.x)),
    h: Math.round(Math.abs(b.y - a.y)),
  };
}

// onSide reports whether a matrix makes what was across go down.
export const onSide = (matrix) => Math.abs(matrix.a) < Math.abs(matrix.b);

// asStored is a ratio as the upright original has it, of one that is seen under a matrix.
export const asStored = (ratio, matrix) => (ratio && onSide(matrix) ? 1 / ratio : ratio);

// told is a frame in words, as it is seen under a matrix.
export function told(frame, matrix) {
  const { x, y, w, h } = carried(frame, matrix);
  return `${w} × ${h}, from ${x}, ${y}`;
}

// nudged is a frame after an arrow key, as the picture is seen under a matrix; undefined for
// other keys. The key moves it by what a screen pixel spans (unit), with Shift by ten, with Alt its
// right and lower edge, with Ctrl the left and upper one. ratio is that of the sides as they are
// seen, W by H the picture.
export function nudged(e, frame, { unit, ratio, matrix, W, H }) {
  const way = wayOf(e);
  if (!way) return undefined;
  const step = Math.max(1, Math.round(unit)) * (e.shiftKey ? 10 : 1),
    [dx, dy] = [way[0] * step, way[1] * step],
    edges = e.altKey ? 'se' : e.ctrlKey || e.metaKey ? 'nw' : '',
    f = carried(frame, matrix),
    [w, h] = onSide(matrix) ? [H, W] : [W, H];
  const moved = edges
    ? shaped(keep(sized(f, edges, dx, dy), false, w, h), edges[dy ? 0 : 1], ratio, w, h)
    : keep({ ...f, x: f.x + dx, y: f.y + dy }, true, w, h);
  return carried(moved, DOMMatrix.fromMatrix(matrix).inverse());
}

// valueOf is a ratio such as 3:2 as a number; 0 where it is free.
export function valueOf(text) {
  const [a, b] = text.split(':').map(Number);
  return a && b ? a / b : 0;
}
