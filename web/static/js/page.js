// A page: i leads from gap to gap, as the pointer does.
addEventListener('keydown', (e) => {
  if (e.ctrlKey || e.metaKey || e.altKey || e.target.closest('input, select, textarea, dialog')) return;
  if (e.key !== 'i') return;
  const gaps = [...document.querySelectorAll('.gap')];
  const at = gaps.indexOf(document.activeElement);
  gaps[(at + 1) % gaps.length]?.focus();
});

// When the tray opens, the hand is in it; when a picture is placed, it is seen.
document.addEventListener('htmx:afterSwap', () => {
  const open = document.querySelector('.placing');
  if (!open) return;
  const focus = document.activeElement;
  if (!focus || focus === document.body) (open.querySelector('.tray :checked') ?? open.querySelector('.tray input, .tray a') ?? open.querySelector('input:not([type=hidden])'))?.focus();
});
