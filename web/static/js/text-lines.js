// Lines of text that were found in the picture, offered to be hidden: dashed on
// the stage, and one by one or all in a list.
import { id, part, post } from './stage.js';
import { own } from './own.js';

const layer = document.getElementById('lines');
const panel = () => document.getElementById('proposals');
let lines = [],
  veils = [];

// hidden reports whether a veil lies over most of a line.
function hidden(l) {
  return veils.some((v) => {
    const w = Math.min(l.x + l.width, v.x + v.width) - Math.max(l.x, v.x),
      h = Math.min(l.y + l.height, v.y + v.height) - Math.max(l.y, v.y);
    return w > 0 && h > 0 && w * h > 0.7 * l.width * l.height;
  });
}

function draw() {
  const open = lines.filter((l) => !hidden(l));
  layer.replaceChildren(
    ...open.map((l) =>
      part('rect', { class: `line-found ${l.kind}`, x: l.x, y: l.y, width: l.width, height: l.height }),
    ),
  );
  const box = panel();
  if (!box || !lines.length) return;
  const list = document.createElement('ol');
  list.className = 'line-list';
  for (const l of open) {
    const item = document.createElement('li'),
      words = document.createElement('span');
    words.textContent = l.words;
    item.append(words, button('Hide', [l], `Hide ${l.words}`));
    item.onmouseenter = () => layer.children[open.indexOf(l)]?.classList.add('pointed');
    item.onmouseleave = () => layer.children[open.indexOf(l)]?.classList.remove('pointed');
    list.append(item);
  }
  const told = document.createElement('p');
  told.className = 'aside';
  const likely = open.filter((l) => l.kind !== 'text');
  told.textContent = open.length
    ? `${open.length} ${open.length === 1 ? 'line' : 'lines'} that can be read. `
    : 'All of them are hidden. ';
  if (likely.length && likely.length < open.length)
    told.append(
      button(
        likely.length === 1 ? 'Hide the one that looks private' : `Hide the ${likely.length} that look private`,
        likely,
      ),
      ' ',
    );
  if (open.length > 1) told.append(button(`Hide all ${open.length}`, open), ' ');
  for (const column of columns(open))
    told.append(
      button(
        `Hide the column of ${column.length}: ${column[1].words}…`,
        column,
        `Hide a whole column of ${column.length} lines, all as wide as it is`,
        true,
      ),
      ' ',
    );
  const off = button('Leave them');
  off.onclick = () => {
    lines = [];
    layer.replaceChildren();
    box.replaceChildren();
    document.getElementById('find-lines')?.focus(); // what brought them
  };
  told.append(off);
  box.replaceChildren(told, list);
}

// columns are the lines that stand below each other, where some of them look private.
function columns(open) {
  const all = Map.groupBy(
    open.filter((l) => l.column),
    (l) => l.column,
  );
  return [...all.values()].filter((c) => c.length > 2 && c.some((l) => l.kind !== 'text'));
}

// place is where a line is hidden: as wide as its column where all of that is.
const place = (l, level) => {
  const b = level ? l.level : l;
  return [b.x, b.y, b.width, b.height];
};

function button(text, over, label, level) {
  const b = document.createElement('button');
  Object.assign(b, { type: 'button', className: 'quiet', textContent: text });
  if (label) b.setAttribute('aria-label', label);
  if (over)
    b.onclick = () =>
      post('veils', { lines: over.map((l) => [...place(l, level), l.reason, l.letters].join()).join(' ') });
  return b;
}

// proposed is told which veils there are.
export function proposed(shapes) {
  veils = shapes;
  if (lines.length) draw();
}

document.addEventListener('click', async (e) => {
  if (e.target.id !== 'find-lines') return;
  const box = panel();
  box.innerHTML = '<p class="aside" role="status">Looking for lines of text…</p>';
  const res = await fetch(own(`/bench/${id}/lines`)).catch(() => null);
  lines = (res?.ok && (await res.json().catch(() => null))) || [];
  if (!res?.ok) box.innerHTML = '<p class="aside">Mivlet does not answer. Try again in a moment.</p>';
  else if (!lines.length)
    box.innerHTML =
      '<p class="aside" role="status">No line of text was found. Look for yourself all the same: ' +
      'text at an angle, or on a busy ground, is not found.</p>';
  else draw();
});
