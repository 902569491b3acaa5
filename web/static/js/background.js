// What each device shows of a background follows the focal point, and what is laid over it
// follows its slider, before the form is sent.
function part(seen, box, across, down) {
  const scale = Math.min(seen.width / box.w, seen.height / box.h);
  const [w, h] = [box.w * scale, box.h * scale];
  const from = (at, whole, length) => Math.min(Math.max((at / 100) * whole - length / 2, 0), whole - length);
  return { x: from(across, seen.width, w), y: from(down, seen.height, h), w, h };
}

function show(form) {
  const seen = form.querySelector('[data-focus-drawing]').viewBox.baseVal;
  for (const shape of form.querySelectorAll('[data-box-w]')) {
    const box = { w: Number(shape.dataset.boxW), h: Number(shape.dataset.boxH) };
    const p = part(seen, box, form.elements.across.value, form.elements.down.value);
    if (shape.tagName === 'rect') {
      for (const [name, value] of Object.entries({ x: p.x, y: p.y, width: p.w, height: p.h }))
        shape.setAttribute(name, value);
    } else {
      shape.setAttribute('viewBox', [p.x, p.y, p.w, p.h].join(' '));
    }
  }
  const light = form.elements.tone.value === 'light';
  for (const shade of form.querySelectorAll('.behind-shade')) {
    shade.setAttribute('fill', light ? '#fff' : '#000');
    shade.setAttribute('fill-opacity', form.elements.shade.value / 100);
  }
  form.querySelector('#shade-says').textContent = `${form.elements.shade.value} %`;
}

addEventListener('input', (e) => {
  const form = e.target.closest('#background-form');
  if (form) show(form);
});
