// A dimension line drawn by hand on a stage: the same piece as the templates
// draw, at u stage units to a screen pixel.
const ns = 'http://www.w3.org/2000/svg';

export function dimension(x1, y1, x2, y2, label, u) {
  const g = document.createElementNS(ns, 'g');
  g.append(...['line', 'path', 'text'].map((kind) => document.createElementNS(ns, kind)));
  g.lastChild.setAttribute('text-anchor', 'middle');
  stretch(g, x1, y1, x2, y2, label, u);
  return g;
}

// stretch leads a dimension line that is drawn already elsewhere.
export function stretch(g, x1, y1, x2, y2, label, u) {
  const [line, ticks, text] = g.children;
  const upright = x1 === x2;
  g.setAttribute('class', upright ? 'dim upright' : 'dim');
  const t = 4 * u;
  lead(line, x1, y1, x2, y2);
  ticks.setAttribute('d', `M${x1} ${y1}m${-t} ${t}l${2 * t} ${-2 * t}M${x2} ${y2}m${-t} ${t}l${2 * t} ${-2 * t}`);
  if (text.textContent !== label) text.textContent = label;
  const [x, y] = [(x1 + x2) / 2, (y1 + y2) / 2];
  text.setAttribute(
    'transform',
    `translate(${x + (upright ? 4 * u : 0)} ${y - (upright ? 0 : 4 * u)}) scale(${u})` +
      (upright ? ' rotate(90) translate(0 -5)' : ''),
  );
}

// An extension line leads from what is measured to its dimension line.
export function extension(x1, y1, x2, y2) {
  const g = document.createElementNS(ns, 'g'),
    line = document.createElementNS(ns, 'line');
  g.setAttribute('class', 'dim');
  line.setAttribute('class', 'extension');
  lead(line, x1, y1, x2, y2);
  g.append(line);
  return g;
}

// lead draws a line, or the line of an extension, from one point to another.
export function lead(line, x1, y1, x2, y2) {
  for (const [k, v] of Object.entries({ x1, y1, x2, y2 })) line.setAttribute(k, v);
}
