// The hand of who works with the keyboard stays in sense when an answer redraws what it is on,
// and when an act leads back to the same screen: it is found again by what it was on. Where that
// is gone, it goes where the screen says, else to what has its place now.
import { afterAnswer } from './answer.js';

const reachable =
  'a[href], button:not([disabled]), input:not([disabled], [type=hidden]), select:not([disabled]), textarea:not([disabled]), summary, [tabindex]';

const named = (el) =>
  el.id ? `#${CSS.escape(el.id)}` : el.dataset.block ? `[data-block="${CSS.escape(el.dataset.block)}"]` : '';
const what = (el) =>
  [
    el.tagName,
    el.id,
    named(el.parentElement?.closest('[id], [data-block]') ?? document.body),
    el.getAttribute('href'),
    el.getAttribute('name'),
    el.getAttribute('value'),
    el.getAttribute('hx-post') ?? el.getAttribute('hx-get'),
    el.getAttribute('aria-label'),
    el.tagName === 'TEXTAREA' ? '' : el.textContent.trim(),
  ].join('\n');
const within = (root) => [...root.querySelectorAll(reachable)].filter((el) => el === hand || el.checkVisibility());
const alike = (all, sign) => all.filter((el) => sign.startsWith(`${el.tagName}\n`) && what(el) === sign);

// hand is what has the focus, or had it until it was switched off or taken off the screen.
let hand = null;
document.addEventListener('focusin', (e) => {
  hand = e.target;
});
document.addEventListener('focusout', (e) => {
  if (!e.relatedTarget && e.target.isConnected && !e.target.disabled) hand = null;
});

// otherwise has a screen say where the hand goes when what it was on is gone. to gets what was
// remembered and returns an element, or nothing.
const ways = [];
export function otherwise(to) {
  ways.push(to);
}

// kind tells what an act does, whatever it is done to; some acts are none to land on by chance.
const kind = (el) =>
  `${el.tagName} ${(el.getAttribute('hx-post') ?? el.getAttribute('formaction') ?? el.getAttribute('hx-get') ?? '').replace(/\d+/g, '')}`;
const grave = (el) => /(delete|drop|erase|remove|throw-away|out)$/.test(kind(el));

// remember tells what the hand is on, in words that are found again: its sign, its key, the block
// it is about, and its place in all that has a name around it, from the inside out.
export function remember() {
  if (!hand?.isConnected || hand === document.body || hand.id === 'main') return null;
  const trail = [],
    all = within(document);
  for (let at = hand.parentElement; at; at = at.parentElement)
    if (named(at) || at === document.body)
      trail.push({ in: named(at) || 'body', at: all.filter((el) => at.contains(el)).indexOf(hand) });
  const sign = what(hand);
  return {
    sign,
    nth: alike(all, sign).indexOf(hand),
    key: hand.dataset.key ?? '',
    name: hand.getAttribute('name') ?? '',
    value: hand.getAttribute('value') ?? '',
    kind: kind(hand),
    on: hand.closest('[data-block]')?.dataset.block ?? '',
    block: hand.closest('[data-block]')?.dataset.block ?? hand.form?.elements.block?.value ?? '',
    after: hand.form?.elements.after?.value,
    trail,
  };
}

// recall finds what was remembered, or what stands for it.
export function recall(lost) {
  const everything = within(document);
  const same = alike(everything, lost.sign);
  if (same.length) return same[lost.nth] ?? same.at(-1);
  const find = (selector) => everything.find((el) => el.matches(selector));
  // The same act on the same block, though it says something else by now.
  if (lost.on && lost.kind.includes('/')) {
    const act = everything.find(
      (el) => el.closest('[data-block]')?.dataset.block === lost.on && kind(el) === lost.kind,
    );
    if (act) return act;
  }
  for (const way of ways) {
    const to = way(lost);
    if (to) return to;
  }
  const button = lost.key && find(`[data-key="${CSS.escape(lost.key)}"]`);
  if (button) return button;
  const field =
    lost.name && lost.value && find(`[name="${CSS.escape(lost.name)}"][value="${CSS.escape(lost.value)}"]`);
  if (field) return field;
  for (const { in: selector, at } of lost.trail) {
    const root = document.querySelector(selector);
    const all = root ? everything.filter((el) => root.contains(el)) : [];
    // The next of its kind, the one before; else what stood before it, and never by chance what takes away.
    const near = [all[at], all[at - 1]].filter(Boolean);
    const to = near.find((el) => kind(el) === lost.kind) ?? near.reverse().find((el) => !grave(el)) ?? all[0];
    if (to) return to;
  }
  return document.getElementById('main');
}

const fallen = () => document.activeElement === document.body || document.activeElement === null;

let lost = null;
function before() {
  lost ??= remember();
}
function after() {
  const was = lost;
  lost = null;
  if (was && fallen()) recall(was)?.focus({ preventScroll: true });
}
// Who presses anywhere before an answer is in its place has left what the hand was on.
addEventListener('pointerdown', () => (lost = null), true);
// Before anything is taken away; what an answer draws in several places is one act.
document.addEventListener('htmx:beforeSwap', before);
document.addEventListener('htmx:oobBeforeSwap', before);
afterAnswer(after, setTimeout);

// An act whose answer is the same screen, loaded anew.
const kept = 'mivlet-hand';
function keep() {
  const was = remember();
  if (was) sessionStorage.setItem(kept, JSON.stringify({ path: location.pathname, was }));
}
addEventListener('submit', keep);
addEventListener('pagehide', keep);
const came = JSON.parse(sessionStorage.getItem(kept) ?? 'null');
sessionStorage.removeItem(kept);
addEventListener('DOMContentLoaded', () => {
  if (came?.path === location.pathname && !location.hash && fallen())
    recall(came.was)?.focus({ preventScroll: true });
});

// A notice that is closed gives the hand back to what it was on before it went there.
let prior = null;
document.addEventListener('focusin', (e) => {
  if (!e.target.closest('#notice')) prior = e.target;
});
addEventListener('click', (e) => {
  if (!e.target.closest?.('[data-close]')) return;
  document.getElementById('notice').replaceChildren();
  (prior?.isConnected ? prior : document.getElementById('main')).focus({ preventScroll: true });
});

// What asks for the hand on a new screen gets it also where the browser did not give it, as when the
// click that led here ended only now.
const first = document.querySelector('[autofocus]');
if (first && document.activeElement === document.body) first.focus();
