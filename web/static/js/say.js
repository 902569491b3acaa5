// What happened is said to those who do not see it, by one region that is never replaced: a
// notice, the step that an act has made, how publishing went, the size of a frame while keys
// change it.
import { afterAnswer } from './answer.js';

const region = document.getElementById('said');

// say has a text read out, also where it is the same as the last one.
export function say(text) {
  if (!region || !text) return;
  region.textContent = text === region.textContent ? `${text}\u00a0` : text;
}

// saySoon says the last of many texts, when they have come to rest.
let soon = 0;
export function saySoon(text) {
  clearTimeout(soon);
  soon = setTimeout(() => say(text), 300);
}

const plain = (el) => el?.textContent.replace(/\s+/g, ' ').trim() ?? '';

// told is what the screen tells in places of its own.
const told = () => {
  const step = document.querySelector('li[aria-current="step"]');
  return [
    plain(document.querySelector('#notice p')),
    plain(step?.querySelector('button') ?? step?.firstChild),
    plain(document.querySelector('.report h3')),
  ];
};

let last = told();
function changed() {
  const before = last;
  last = told();
  say(last.filter((text, i) => text && text !== before[i]).join(' '));
}
// Who publishes or looks again is told how it went, also where it went as before.
document.addEventListener('htmx:beforeSwap', (e) => {
  if (/\/(publish|check)$/.test(e.detail.requestConfig?.path)) last[2] = '';
});
afterAnswer(changed, setTimeout);
