// A focal point is dragged in a drawing of the picture; the sliders of its form say the same
// in percent, and send it.
let drawing = null;

const sliders = (svg) => {
  const form = svg.closest('form');
  return [form.elements.across, form.elements.down];
};

function follow(e) {
  const box = drawing.getBoundingClientRect();
  const part = (at, from, length) => Math.round(100 * Math.min(1, Math.max(0, (at - from) / length)));
  const [across, down] = sliders(drawing);
  across.value = part(e.clientX, box.left, box.width);
  down.value = part(e.clientY, box.top, box.height);
  across.dispatchEvent(new Event('input', { bubbles: true }));
}

// show moves the spot to where the sliders say.
function show(svg) {
  const [across, down] = sliders(svg);
  const spot = svg.querySelector('circle');
  spot.setAttribute('cx', (svg.viewBox.baseVal.width * across.value) / 100);
  spot.setAttribute('cy', (svg.viewBox.baseVal.height * down.value) / 100);
}

addEventListener('pointerdown', (e) => {
  drawing = e.button === 0 ? e.target.closest?.('[data-focus-drawing]') : null;
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
  const form = drawing.closest('form');
  drawing = null;
  form.dispatchEvent(new Event('change', { bubbles: true }));
});
addEventListener('input', (e) => {
  const svg = e.target.closest('form')?.querySelector('[data-focus-drawing]');
  if (svg) show(svg);
});
