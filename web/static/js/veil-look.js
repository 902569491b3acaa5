// What a veil in the hand will look like: the region itself, as the cut computes
// it, laid over the stage until the stage has been drawn anew.
import { id, newest, part, set } from './stage.js';
import { own } from './own.js';

const layer = document.getElementById('veil-look');
const image = document.getElementById('stage-image');
let patch = null;

const ask = newest(async (veil) => {
  const res = await fetch(own(`/bench/${id}/veil/look?${new URLSearchParams(veil)}`)).catch(() => null);
  if (!res?.ok) return; // who has left the screen meanwhile needs no look
  const [x, y, w, h] = res.headers.get('X-Part').split(' ');
  const blob = await res.blob().catch(() => null);
  if (!blob) return;
  const url = URL.createObjectURL(blob);
  if (!patch) patch = part('image', { preserveAspectRatio: 'none' }, layer);
  const old = patch.getAttribute('href');
  set(patch, { href: url, x, y, width: w, height: h });
  if (old) URL.revokeObjectURL(old);
  layer.dataset.shown = Number(layer.dataset.shown ?? 0) + 1;
});

// at shows a veil as it would be.
export function at(veil) {
  ask(veil);
}

// gone takes it away again.
export function gone() {
  layer.replaceChildren();
  patch = null;
}

// without shows the stage as it is without one of its veils, while that is moved.
export function without(i) {
  const href = image.getAttribute('href').replace(/&but=\d+/, '');
  const to = i === null ? href : `${href}&but=${i}`;
  if (to !== image.getAttribute('href')) image.setAttribute('href', to);
}

// The stage has its own again.
image.addEventListener('load', () => {
  if (!image.getAttribute('href').includes('&but=')) gone();
});
