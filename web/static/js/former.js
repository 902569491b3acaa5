// When a site has been mended, its screen is shown anew.
document.addEventListener('htmx:afterSettle', (e) => {
  const job = e.target.closest?.('.job');
  if (job && !job.hasAttribute('hx-get')) location.reload();
});
