// A passkey is added in one's own account.
import { tell } from './notice.js';
import { canUsePasskeys, makePasskey, why } from './passkey.js';
import { reason } from './refused.js';
import { own } from './own.js';

const form = document.getElementById('add-passkey');
if (form && !canUsePasskeys) {
  form.hidden = true;
  document.getElementById('no-passkeys').hidden = false;
}

form?.addEventListener('submit', async (e) => {
  e.preventDefault();
  const button = form.querySelector('button');
  button.disabled = true;
  try {
    const made = await makePasskey(form.password.value);
    const res = await fetch(own('/account/passkeys'), {
      method: 'POST',
      headers: { 'HX-Request': 'true' },
      body: new URLSearchParams(made),
    });
    if (!res.ok) throw new Error(reason(await res.text()));
    location.reload();
  } catch (error) {
    tell('bad', 'No passkey was added.', why(error));
    button.disabled = false;
  }
});
