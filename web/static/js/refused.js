// reason is what a refusal says, which comes as a piece of HTML.
export function reason(html) {
  const box = document.createElement('template');
  box.innerHTML = html;
  return box.content.querySelector('p')?.textContent.trim() ?? 'It was not said why.';
}
