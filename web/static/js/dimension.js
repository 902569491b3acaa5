// A dimension line drawn by hand on a stage: the same piece as the templates
// draw, at u stage units to a screen pixel.
const ns = 'http://www.w3.org/2000/svg';

export function dimension(x1, y1, x2, y2, label, u) {
  const g = document.createElementNS(ns, 'g');
  const upright = x1 === x2;
  g.setAttribute('class', upright ? 'dim upright' : 'dim');
  const t = 4 * u;
  g.innerHTML = `<line x1="${x1}" y1="${y1}" x2="${x2}" y2="${y2}"/><path d="M${x1} ${y1}m${-t} ${t}l${2 * t} ${-2 * t}M${x2} ${y2}m${-t} ${t}l${2 * t} ${-2 * t}"/>`;
  const text = document.createElementNS(ns, 'text');
  text.textContent = label;
  const [x, y] = [(x1 + x2) / 2, (y1 + y2) / 2];
  text.setAttribute('text-anchor', 'middle');
  text.setAttribute('transform', `translate(${x + (upright ? 4 * u : 0)} ${y - (upright ? 0 : 4 * u)}) scale(${u})${upright ? ' rotate(90) translate(0 -5)' : ''}`);
  g.append(text);
  return g;
}

// An extension line leads from what is measured to its dimension line.
export function extension(x1, y1, x2, y2) {
  const line = document.createElementNS(ns, 'line');
  for (const [k, v] of Object.entries({ x1, y1, x2, y2 })) line.setAttribute(k, v);
  const g = document.createElementNS(ns, 'g');
  g.setAttribute('class', 'dim');
  line.setAttribute('class', 'extension');
  g.append(line);
  return g;
}
