// The sign-in with a passkey, where the browser can and somebody in the house has one.
import { canUsePasskeys, signWithPasskey, why } from './passkey.js';

const form = document.getElementById('door-passkey');
if (form && canUsePasskeys) form.hidden = false;

form?.addEventListener('submit', async (e) => {
  if (form.answer.value) return; // it goes on as any form
  e.preventDefault();
  const wrong = document.getElementById('passkey-wrong');
  wrong.hidden = true;
  try {
    const { ticket, answer } = await signWithPasskey();
    form.ticket.value = ticket;
    form.answer.value = answer;
    form.submit();
  } catch (error) {
    wrong.textContent = why(error);
    wrong.hidden = false;
  }
});
