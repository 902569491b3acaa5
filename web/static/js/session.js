// When a session ends under somebody's hands, the sign-in comes to them; what
// was under way is sent again when they are back. Nothing that was typed goes.
import { canUsePasskeys, signWithPasskey, why } from './passkey.js';
import { reason } from './refused.js';
import { resend } from './resend.js';
import { own } from './own.js';

const dialog = document.getElementById('sign-in-again');
const form = document.getElementById('again-form');
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

// What the door offers is offered here: one click in the demo, and passkeys.
async function ask() {
  const door = await (await fetch(own('/sign-in'))).text();
  document.getElementById('again-people').hidden = !door.includes('/sign-in/demo');
  document.getElementById('again-passkey').hidden = !canUsePasskeys || !door.includes('id="door-passkey"');
  askForCode('');
}

// askForCode asks for what comes after the password; for the password where there is no ticket.
function askForCode(ticket) {
  form.ticket.value = ticket;
  form.code.value = '';
  document.getElementById('again-code').hidden = !ticket;
  document.getElementById('again-password').hidden = Boolean(ticket);
  (ticket ? form.code : form.password).focus();
}

function refuse(text) {
  const wrong = document.getElementById('again-wrong');
  wrong.textContent = text;
  wrong.hidden = !text;
}

async function enter(address, values) {
  const res = await fetch(own(address), {
    method: 'POST',
    headers: { 'HX-Request': 'true' },
    body: new URLSearchParams(values),
  });
  refuse('');
  if (res.status === 202) {
    askForCode(await res.text()); // the password is right, and a code is asked for, too
  } else if (res.ok) {
    dialog.close();
    waiting.splice(0).forEach((back) => back());
  } else {
    refuse(reason(await res.text()));
  }
}

form?.addEventListener('submit', (e) => {
  e.preventDefault();
  enter(form.ticket.value ? '/sign-in/code' : '/sign-in', new FormData(form));
});
document.getElementById('again-passkey')?.addEventListener('click', async () => {
  try {
    await enter('/sign-in/passkey', await signWithPasskey());
  } catch (error) {
    refuse(why(error));
  }
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
