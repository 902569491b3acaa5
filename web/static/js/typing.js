// Whether a key is for a field, so that letters that somebody types do nothing else.
const fields = 'input:not([type=radio], [type=checkbox], [type=file]), textarea, select';

// isTyping reports whether somebody types in an element.
export function isTyping(el) {
  return el instanceof HTMLElement && (el.matches(fields) || el.isContentEditable);
}
