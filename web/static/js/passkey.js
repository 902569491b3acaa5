// Passkeys: what the house asks is handed to the browser, which asks the device (Web Authentication
// Level 3). Numbers of many bytes travel as base64url (RFC 4648, 5).
import { reason } from './refused.js';
import { own } from './own.js';

export const canUsePasskeys = Boolean(globalThis.PublicKeyCredential && navigator.credentials);

const bytes = (text) => Uint8Array.from(atob(text.replaceAll('-', '+').replaceAll('_', '/')), (c) => c.charCodeAt(0));
const text = (buffer) =>
  btoa(String.fromCharCode(...new Uint8Array(buffer)))
    .replaceAll('+', '-')
    .replaceAll('/', '_')
    .replaceAll('=', '');
const keys = (list = []) => list.map((key) => ({ ...key, id: bytes(key.id) }));

async function question(address, values = {}) {
  const res = await fetch(own(address), {
    method: 'POST',
    headers: { 'HX-Request': 'true' },
    body: new URLSearchParams(values),
  });
  if (!res.ok) throw new Error(reason(await res.text()));
  return res.json();
}

// said is the answer of a device, as the house reads it.
const said = (key, response) =>
  JSON.stringify({
    id: key.id,
    rawId: text(key.rawId),
    type: key.type,
    authenticatorAttachment: key.authenticatorAttachment,
    clientExtensionResults: key.getClientExtensionResults(),
    response: { clientDataJSON: text(key.response.clientDataJSON), ...response },
  });

// signWithPasskey asks for a passkey of this house, and returns what signs somebody in.
export async function signWithPasskey() {
  const { ticket, options } = await question('/sign-in/passkey/question');
  const key = await navigator.credentials.get({
    publicKey: {
      ...options,
      challenge: bytes(options.challenge),
      allowCredentials: keys(options.allowCredentials),
    },
  });
  const { authenticatorData, signature, userHandle } = key.response;
  return {
    ticket,
    answer: said(key, {
      authenticatorData: text(authenticatorData),
      signature: text(signature),
      userHandle: userHandle ? text(userHandle) : null,
    }),
  };
}

// makePasskey has a device make a passkey, and returns what the house keeps of it.
export async function makePasskey(password) {
  const { ticket, options } = await question('/account/passkeys/question', { password });
  const key = await navigator.credentials.create({
    publicKey: {
      ...options,
      challenge: bytes(options.challenge),
      user: { ...options.user, id: bytes(options.user.id) },
      excludeCredentials: keys(options.excludeCredentials),
    },
  });
  return {
    ticket,
    answer: said(key, {
      attestationObject: text(key.response.attestationObject),
      transports: key.response.getTransports?.() ?? [],
    }),
  };
}

// why tells in words why there is no answer.
export function why(error) {
  switch (error.name) {
    case 'NotAllowedError':
    case 'AbortError':
      return 'No passkey was used. Try again, or sign in with your password.';
    case 'InvalidStateError':
      return 'This device has a passkey for you already.';
    case 'SecurityError':
      return 'Passkeys cannot be used at this address.';
  }
  return error.message || 'That did not work.';
}
