// When a session ends under somebody's hands, the sign-in comes to them; what
// was under way is sent again when they are back. Nothing that was typed goes.
import { resend } from './resend.js';

const dialog = document.getElementById('sign-in-again');
const waiting = [];

// whenSignedIn opens the sign-in and resolves when somebody is back.
export function whenSignedIn() {
  if (!dialog) return Promise.reject(new Error('signed out'));
  if (!dialog.open) {
    dialog.showModal();
    ask();
  }
  return new Promise((back) => waiting.push(back));
}

// Only the demo offers one click.
async function ask() {
  const door = await fetch('/sign-in');
  document.getElementById('again-people').hidden = !(await door.text()).includes('/sign-in/demo');
}

async function enter(address, values) {
  const res = await fetch(address, {
    method: 'POST',
    headers: { 'HX-Request': 'true' },
    body: new URLSearchParams(values),
  });
  if (res.ok) {
    dialog.close();
    waiting.splice(0).forEach((back) => back());
    return;
  }
  const box = document.createElement('template');
  box.innerHTML = await res.text();
  const wrong = document.getElementById('again-wrong');
  wrong.textContent = box.content.querySelector('p')?.textContent ?? 'That did not work.';
  wrong.hidden = false;
}

document.getElementById('again-form')?.addEventListener('submit', (e) => {
  e.preventDefault();
  enter('/sign-in', new FormData(e.target));
});
document.getElementById('again-demo')?.addEventListener('click', () => {
  enter('/sign-in/demo', { person: document.getElementById('again-people').dataset.person });
});

document.addEventListener('htmx:beforeSwap', (e) => {
  if (e.detail.xhr.status !== 401) return;
  e.detail.shouldSwap = false;
  whenSignedIn().then(() => resend(e.detail.requestConfig));
});

// Who asks for less motion gets pictures that stand still; the server serves them.
const less = matchMedia('(prefers-reduced-motion: reduce)');
const tell = () => (document.cookie = `mivlet-still=${less.matches ? 1 : 0}; path=/; SameSite=Lax`);
less.addEventListener('change', tell);
tell();
