// Redraws a piece of the screen with as little as there is to change: what the hand
// moves is drawn many times a second, and a piece that is exchanged whole is laid out
// and painted whole.
export function redraw(old, fresh) {
  if (old.nodeName !== fresh.nodeName || old.childNodes.length !== fresh.childNodes.length) { old.replaceWith(fresh); return; }
  if (old.nodeType !== Node.ELEMENT_NODE) {
    if (old.nodeValue !== fresh.nodeValue) old.nodeValue = fresh.nodeValue;
    return;
  }
  for (const name of old.getAttributeNames()) if (!fresh.hasAttribute(name)) old.removeAttribute(name);
  for (const name of fresh.getAttributeNames()) if (old.getAttribute(name) !== fresh.getAttribute(name)) old.setAttribute(name, fresh.getAttribute(name));
  [...fresh.childNodes].forEach((child, i) => redraw(old.childNodes[i], child));
}
