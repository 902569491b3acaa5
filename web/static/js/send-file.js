// Sends one file as it is. Where the session has ended, it is sent when somebody is back.
import { whenSignedIn } from './session.js';
import { own } from './own.js';

// carriesFiles tells whether files are dragged.
export const carriesFiles = (e) => [...(e.dataTransfer?.types ?? [])].includes('Files');

// sendTo answers null, and tells why, where the file was not taken.
export async function sendTo(address, file) {
  const res = await fetch(own(address), {
    method: 'POST',
    body: file,
    headers: {
      'HX-Request': 'true',
      'X-File-Name': encodeURIComponent(file.name),
      'Content-Type': 'application/octet-stream',
    },
  });
  if (res.status === 401) {
    await whenSignedIn();
    return sendTo(address, file);
  }
  if (res.ok) return res;
  document.getElementById('notice').outerHTML = await res.text();
  return null;
}

// sendFile also goes where the answer leads.
export async function sendFile(address, file) {
  const res = await sendTo(address, file);
  if (res) location.href = res.headers.get('HX-Redirect');
}
