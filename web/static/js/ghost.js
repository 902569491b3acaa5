// What is dragged: a likeness of it that follows the hand.
const slack = 6; // px that a hand may tremble

// isDrag tells whether a hand that went down somewhere has begun to drag.
export const isDrag = ([x, y], e) => Math.hypot(e.clientX - x, e.clientY - y) >= slack;

// ghostOf is the likeness of a picture, or some words.
export function ghostOf(image, words) {
  const ghost = document.createElement('div');
  ghost.className = 'ghost';
  if (image) ghost.append(Object.assign(document.createElement('img'), { src: image, alt: '' }));
  else ghost.textContent = words;
  document.body.append(ghost);
  return ghost;
}

export function follow(ghost, e) {
  ghost.style.translate = `${e.clientX + 10}px ${e.clientY + 10}px`;
}

// notClicked keeps what was dragged from being clicked, and the next click from being lost.
export function notClicked() {
  addEventListener(
    'click',
    (c) => {
      c.preventDefault();
      c.stopPropagation();
    },
    { capture: true, once: true },
  );
  setTimeout(() => dispatchEvent(new MouseEvent('click')), 0);
}
