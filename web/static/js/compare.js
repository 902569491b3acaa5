// The cut beside the original's pixels at their own size: a line to wipe with, a
// key to flick with, and the byte budget, which the cut follows.
import { id, newest, post } from './stage.js';
import { own } from './own.js';

const dialog = document.getElementById('compare');
const part = (name) => document.getElementById(name);
let url = null;

document.addEventListener('click', async (e) => {
  const slot = e.target.closest?.('[data-compare]')?.dataset.compare;
  if (!slot) return;
  const res = await fetch(own(`/bench/${id}/compare?${new URLSearchParams({ slot })}`), {
    headers: { 'HX-Request': 'true' },
  }).catch(() => null);
  if (!res?.ok) return;
  const text = await res.text().catch(() => '');
  if (!text) return;
  dialog.innerHTML = text;
  dialog.showModal();
  const pair = part('pair');
  for (const img of pair.querySelectorAll('img')) {
    img.style.width = `${pair.dataset.width / devicePixelRatio}px`;
    img.style.height = `${pair.dataset.height / devicePixelRatio}px`;
  }
  pair.focus();
  wipe();
  attempt();
});

// attempt has the cut made within the budget that the slider says.
const ask = newest(async (budget) => {
  const slot = part('pair').dataset.slot;
  const res = await fetch(own(`/bench/${id}/trial?${new URLSearchParams({ slot, budget })}`)).catch(() => null);
  if (!res?.ok || !dialog.open) return;
  const told = res.headers.get('X-Told'),
    old = url;
  url = URL.createObjectURL(await res.blob());
  const cut = part('pair-cut');
  cut.src = url;
  await cut.decode().catch(() => {});
  if (old) URL.revokeObjectURL(old);
  part('trial-told').textContent = told;
  part('pair').dataset.ready = budget;
});
function attempt() {
  ask(1000 * part('budget').value);
}

// wipe lays the cut over the original from the line to the right.
function wipe() {
  const pair = part('pair'),
    w = pair.dataset.width / devicePixelRatio,
    seen = Math.min(w, pair.clientWidth);
  const at = Math.min(w, pair.scrollLeft + (seen * part('wipe').value) / 100);
  part('pair-cut').style.clipPath = `inset(0 0 0 ${at}px)`;
  part('wipe-line').style.left = `${at - 1}px`;
  part('wipe-line').style.height = `${pair.dataset.height / devicePixelRatio}px`;
}

function flick(on) {
  part('pair')?.classList.toggle('flicked', on);
  part('flick')?.setAttribute('aria-pressed', on);
}

dialog.addEventListener('input', (e) => {
  if (e.target.id === 'wipe') wipe();
  if (e.target.id === 'budget') {
    part('budget-told').textContent = `${e.target.value} kB`;
    attempt();
  }
});
dialog.addEventListener('scroll', wipe, true);
dialog.addEventListener('click', (e) => {
  if (e.target.closest('[data-close-compare]')) dialog.close();
  if (e.target.id === 'flick') flick(!part('pair').classList.contains('flicked'));
  const slot = part('pair')?.dataset.slot;
  if (e.target.id === 'keep-budget') {
    post('budget', { slot, budget: 1000 * part('budget').value });
    dialog.close();
  }
  if (e.target.id === 'house-budget') {
    post('budget', { slot, budget: 0 });
    dialog.close();
  }
});
dialog.addEventListener('keydown', (e) => {
  if (e.target.matches('input, button') || e.repeat) return;
  if (e.key === ' ') {
    e.preventDefault();
    flick(true);
  }
  const way = { ArrowLeft: -5, ArrowRight: 5 }[e.key];
  if (way) {
    e.preventDefault();
    part('wipe').value = Number(part('wipe').value) + way;
    wipe();
  }
});
dialog.addEventListener('keyup', (e) => {
  if (e.key === ' ' && !e.target.matches('input, button')) flick(false);
});

// The line is pulled by hand, too.
let held = false;
dialog.addEventListener('pointerdown', (e) => {
  if (e.target.closest('.pair')) {
    held = true;
    pull(e);
  }
});
dialog.addEventListener('pointermove', (e) => {
  if (held) pull(e);
});
addEventListener('pointerup', () => {
  held = false;
});
function pull(e) {
  const box = part('pair').getBoundingClientRect();
  part('wipe').value =
    (100 * (e.clientX - box.left)) / Math.min(part('pair').dataset.width / devicePixelRatio, box.width);
  wipe();
  e.preventDefault();
}
