// Pictures that open over the page: Escape closes them, the arrow keys lead to the
// one before and the one after, and the hand comes back to where it was. Without
// this script they open and close by their links.
const opened = () => document.querySelector('.large:target');
let from = null;

function go(name) {
  history.replaceState(null, '', location.pathname + location.search);
  location.replace(`#${name}`);
}

function close() {
  const large = opened();
  if (!large) return;
  const small = document.getElementById(large.id.replace('large-', 'small-'));
  location.replace('#_'); // leaves no place of the page marked, and scrolls nowhere
  history.replaceState(null, '', location.pathname + location.search);
  (from ?? small)?.focus({ preventScroll: true });
  from = null;
}

addEventListener('click', (e) => {
  const small = e.target.closest('.enlarges');
  if (small) from = small;
  const link = e.target.closest('.large a');
  if (!link && !e.target.matches('.large')) return;
  e.preventDefault();
  if (!link || link.classList.contains('large-close')) close();
  else go(link.hash.slice(1));
});

addEventListener('keydown', (e) => {
  const large = opened();
  if (!large) return;
  if (e.key === 'Escape') close();
  else if (e.key === 'ArrowLeft') large.querySelector('.large-previous')?.click();
  else if (e.key === 'ArrowRight') large.querySelector('.large-next')?.click();
  else if (e.key === 'Tab') hold(e, large);
});

// What lies beneath is not reached while a picture lies over it.
function hold(e, large) {
  const links = [...large.querySelectorAll('a, input')];
  const at = links.indexOf(document.activeElement);
  e.preventDefault();
  links[(at + (e.shiftKey ? -1 : 1) + links.length) % links.length].focus();
}

addEventListener('hashchange', () => opened()?.querySelector('a:last-child')?.focus());
