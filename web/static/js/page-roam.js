// The page on the screen of a page is one stop for Tab: the arrow keys lead from piece to piece,
// which are gaps, blocks and bands, and Tab from a piece through its own tools, then on to the
// panel. What is no tool of the current piece is left out of the order of Tab.
import { otherwise, recall, remember } from './focus.js';
import { on } from './keys.js';

const controls = 'a[href], button, input, select, textarea, summary, [tabindex]';
const sheet = () => document.querySelector('.sheet');
const owner = (el) => el.closest('[data-block], .band-bar, [data-writes]') ?? el;

// pieces are all pieces of the page in their order, each with what Tab reaches in it, the act
// that it is for first.
function pieces() {
  const all = new Map();
  for (const el of sheet()?.querySelectorAll(controls) ?? []) {
    if (el.disabled || el.type === 'hidden') continue;
    const of = owner(el);
    all.set(of, [...(all.get(of) ?? []), el]);
  }
  return [...all.values()];
}
const chief = (piece) => piece.find((el) => el.matches('.hold, [data-write], .block-acts *, .gap')) ?? piece[0];

let current = { name: '', at: 0 };
const nameOf = (piece) => owner(piece[0]).dataset.block ?? '';

// lay leaves the tools of one piece in the order of Tab.
function lay() {
  const all = pieces();
  const here = all.findIndex((piece) => piece.includes(document.activeElement));
  const same = current.name ? all.findIndex((piece) => nameOf(piece) === current.name) : -1;
  const at = here >= 0 ? here : same >= 0 ? same : Math.min(current.at, all.length - 1);
  if (at < 0) return;
  if (here >= 0) current = { name: nameOf(all[at]), at };
  for (const [i, piece] of all.entries())
    for (const el of piece) {
      el.dataset.tab ??= el.getAttribute('tabindex') ?? '';
      if (i !== at) el.setAttribute('tabindex', '-1');
      else if (el.dataset.tab) el.setAttribute('tabindex', el.dataset.tab);
      else el.removeAttribute('tabindex');
    }
}
document.addEventListener('focusin', (e) => {
  if (sheet()?.contains(e.target)) lay();
});
document.addEventListener('htmx:afterSettle', lay);
lay();

// go leads to another piece: so many on, or to the first or the last.
function go(step) {
  const all = pieces();
  const here = all.findIndex((piece) => piece.includes(document.activeElement));
  if (here < 0) return false;
  const to = chief(all[Math.max(0, Math.min(all.length - 1, here + step))]);
  to.focus({ preventScroll: true });
  to.scrollIntoView({ block: 'nearest' });
  return true;
}
on('ArrowDown', () => go(1));
on('ArrowUp', () => go(-1));
on('Home', () => go(-Infinity));
on('End', () => go(Infinity));

// remove takes the current block off the page.
on('Delete', () => {
  const block = sheet()?.contains(document.activeElement) && document.activeElement.closest('[data-block]');
  const button =
    block?.querySelector('.block-acts [hx-post$="/drop"]') ??
    (block?.matches('.held') ? document.querySelector('#placing [hx-post$="/take-off"]') : null);
  button?.click();
  return Boolean(button);
});

// Where a block was taken off, the hand goes to the gap that is left; where one was moved, or came,
// to the block. What closes a panel gives the hand back to what opened it.
let gaps = new Map();
let opener = null;
const panels = /\/pages\/\d+\/(insert|placement|list|band|background|album|cover|link)$/;
document.addEventListener('htmx:beforeSwap', (e) => {
  if (e.detail.target.id !== 'page-screen') return;
  gaps = new Map();
  let at = 0;
  for (const [el] of pieces())
    if (el.matches('.gap')) at = el.dataset.gap;
    else gaps.set(nameOf([el]), at);
  const panel = document.getElementById('panel');
  if (
    e.detail.requestConfig.verb === 'get' &&
    panels.test(e.detail.requestConfig.path) &&
    !document.querySelector('#placing')
  )
    opener = remember();
  else if (!panel.contains(document.activeElement)) opener = null;
});
const blockOf = (name) => pieces().find((piece) => nameOf(piece) === name);
otherwise((lost) => {
  if (lost.key === 'Escape' && opener) {
    const from = opener;
    opener = null;
    return recall(from);
  }
  if (lost.after !== undefined) {
    const all = pieces(),
      from = all.findIndex(([el]) => el.dataset.after === lost.after);
    const come = from >= 0 && all.slice(from + 1).find(([el]) => !el.matches('.gap'));
    return come ? chief(come) : null;
  }
  if (!lost.block) return null;
  const inPanel = lost.trail.some((t) => t.in === '#panel');
  if (inPanel && document.querySelector(`#panel [name="block"][value="${CSS.escape(lost.block)}"]`)) return null;
  const still = blockOf(lost.block);
  return still ? chief(still) : document.querySelector(`.gap[data-gap="${gaps.get(lost.block) ?? 0}"]`);
});
