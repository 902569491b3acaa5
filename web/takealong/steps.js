// Puts the addresses that another system gave to the files into the page, while they are pasted.
const page = document.getElementById('page');
const whole = page.value;
const fields = [...document.querySelectorAll('[data-stands-for]')];
const left = document.getElementById('left');

const escape = (text) => text.replaceAll('&', '&amp;').replaceAll('"', '&quot;').replaceAll('<', '&lt;');

// What runs instead of leading to a file is no address.
const leads = (text) => !/^\s*[a-z][a-z0-9+.-]*:/i.test(text) || /^\s*https?:\/\//i.test(text);

const update = () => {
  let text = whole;
  let missing = 0;
  // Longer placeholders first: one with 12 begins like that with 1.
  for (const field of [...fields].reverse()) {
    const address = field.value.trim();
    const good = address && leads(address);
    field.toggleAttribute('aria-invalid', Boolean(address) && !good);
    if (good) text = text.replaceAll(`"${field.dataset.standsFor}"`, `"${escape(address)}"`);
    else missing += 1;
  }
  page.value = text;
  if (left)
    left.textContent =
      missing === 0
        ? 'All addresses are in their places.'
        : missing === 1
          ? '1 address is missing.'
          : `${missing} addresses are missing.`;
};
for (const field of fields) field.addEventListener('input', update);
update();

document.getElementById('copy').addEventListener('click', async () => {
  page.select();
  const said = document.getElementById('copied');
  try {
    await navigator.clipboard.writeText(page.value);
    said.textContent = 'Copied.';
  } catch {
    said.textContent = 'Press Ctrl+C to copy it.'; // where a page may not write to the clipboard
  }
});
