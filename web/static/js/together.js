// Who else has this picture open; and what they change, shown as they change it.
import { listen } from './line.js';
import { id, shownStep } from './stage.js';
import { own } from './own.js';

const here = document.getElementById('here');
let waiting; // for the hand to be free
listen(`/bench/${id}/here`, {
  events: {
    here: (told) => {
      here.textContent = told;
    },
    state: follow,
  },
  closed: () => {
    here.textContent = '';
  },
});

// follow draws the picture anew where somebody else has made a step. An own step
// comes back with its own answer, so that has a moment to arrive.
function follow(step) {
  clearTimeout(waiting);
  if (step === shownStep()) return;
  waiting = setTimeout(() => {
    if (document.querySelector('.htmx-request')) {
      follow(step);
      return;
    }
    if (step === shownStep()) return;
    htmx.ajax('GET', own(`/bench/${id}`), { swap: 'none', source: '#tools' });
  }, 700);
}
