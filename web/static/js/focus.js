// Who works with the keyboard stays where they are when an answer redraws what they are
// on: it is found again by what it is, though it has no name of its own.
const reachable = 'a[href], button, input, select, textarea, summary, [tabindex]';
let held = null;

const what = (el) =>
  [
    el.tagName,
    el.id,
    el.getAttribute('href'),
    el.getAttribute('name'),
    el.getAttribute('value'),
    el.getAttribute('hx-post') ?? el.getAttribute('hx-get'),
    el.getAttribute('aria-label'),
    el.tagName === 'TEXTAREA' ? '' : el.textContent.trim(),
  ].join('\n');
const alike = (root, sign) => [...root.querySelectorAll(reachable)].filter((el) => what(el) === sign);

document.addEventListener('htmx:oobBeforeSwap', (e) => {
  const here = document.activeElement,
    piece = e.detail.target;
  if (!e.detail.shouldSwap || here === piece || !piece.id || !piece.contains(here)) return;
  const sign = what(here);
  held = { piece: piece.id, sign, nth: alike(piece, sign).indexOf(here) };
});

document.addEventListener('htmx:oobAfterSwap', () => {
  const lost = held,
    piece = lost && document.getElementById(lost.piece);
  held = null;
  if (!piece || document.activeElement !== document.body) return;
  const all = alike(piece, lost.sign);
  (all[lost.nth] ?? all[0])?.focus({ preventScroll: true });
});
