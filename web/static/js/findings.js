// When a round is over, the screen is shown anew, with what it found.
document.addEventListener('htmx:afterSettle', (e) => {
  const job = e.target.closest?.('.job');
  if (job && !job.hasAttribute('hx-get')) location.reload();
});
