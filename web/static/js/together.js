// Who else has this picture open; and what they change, shown as they change it.
import { id, shownStep } from './stage.js';

const here = document.getElementById('here');
let line = null;

function listen() {
  line?.close();
  line = new EventSource(`/bench/${id}/here`);
  line.addEventListener('here', (e) => { here.textContent = e.data; });
  line.addEventListener('state', (e) => follow(e.data));
}

// follow draws the picture anew where somebody else has made a step. An own step
// comes back with its own answer, so that has a moment to arrive.
let waiting;
function follow(step) {
  clearTimeout(waiting);
  if (step === shownStep()) return;
  waiting = setTimeout(() => {
    if (document.querySelector('.htmx-request')) { follow(step); return; }
    if (step === shownStep()) return;
    htmx.ajax('GET', `/bench/${id}`, { swap: 'none', source: '#tools' });
  }, 700);
}

// A tab that nobody sees gives its line back: a browser has few of them.
document.addEventListener('visibilitychange', () => { if (document.hidden) { line?.close(); line = null; here.textContent = ''; } else listen(); });
addEventListener('pagehide', () => line?.close());
listen();

// A picture that somebody else turned stands another way: the stage is laid anew.
const turn = document.getElementById('tools').dataset.turn;
document.addEventListener('htmx:oobAfterSwap', () => { if (document.getElementById('tools').dataset.turn !== turn) location.reload(); });
