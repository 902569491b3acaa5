// When a site has been mended, its screen is shown anew.
document.addEventListener('htmx:afterSettle', (e) => {
  const job = e.target.closest?.('.job');
  if (job && !job.hasAttribute('hx-get')) location.reload();
});

// One tick for all of a list.
const all = document.querySelector('[data-ticks]');
const ticks = () => [...document.querySelectorAll(`input[name="${all.dataset.ticks}"]`)];
all?.addEventListener('change', () => {
  for (const one of ticks()) one.checked = all.checked;
});
all?.closest('form').addEventListener('change', () => {
  const ticked = ticks().filter((one) => one.checked).length;
  all.checked = ticked > 0 && ticked === ticks().length;
  all.indeterminate = ticked > 0 && !all.checked;
});
