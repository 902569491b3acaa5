// The focal point of a cover is dragged in the picture; the sliders beside it say the same
// in numbers, and send it.
let drawing = null;

const sliders = () => [document.getElementById('cover-across'), document.getElementById('cover-down')];

function follow(e) {
  const box = drawing.getBoundingClientRect();
  const part = (at, from, length) => Math.round(100 * Math.min(1, Math.max(0, (at - from) / length)));
  const [across, down] = sliders();
  across.value = part(e.clientX, box.left, box.width);
  down.value = part(e.clientY, box.top, box.height);
  show();
}

// show moves the spot to where the sliders say.
function show() {
  const svg = document.querySelector('[data-cover-focus]');
  if (!svg) return;
  const [across, down] = sliders();
  const spot = svg.querySelector('circle');
  spot.setAttribute('cx', (svg.viewBox.baseVal.width * across.value) / 100);
  spot.setAttribute('cy', (svg.viewBox.baseVal.height * down.value) / 100);
}

addEventListener('pointerdown', (e) => {
  drawing = e.button === 0 ? e.target.closest?.('[data-cover-focus]') : null;
  if (!drawing) return;
  e.preventDefault();
  drawing.setPointerCapture(e.pointerId);
  follow(e);
});
addEventListener('pointermove', (e) => {
  if (drawing) follow(e);
});
addEventListener('pointerup', () => {
  if (!drawing) return;
  drawing = null;
  document.getElementById('cover-form').dispatchEvent(new Event('change', { bubbles: true }));
});
addEventListener('input', (e) => {
  if (e.target.closest('#cover-form')) show();
});
