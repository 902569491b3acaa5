// Sends one file as it is, and goes where the answer leads. Where the session has
// ended, it is sent when somebody is back.
import { whenSignedIn } from './session.js';

export async function sendFile(address, file) {
  const res = await fetch(address, {
    method: 'POST',
    body: file,
    headers: { 'HX-Request': 'true', 'X-File-Name': encodeURIComponent(file.name) },
  });
  if (res.status === 401) {
    await whenSignedIn();
    return sendFile(address, file);
  }
  if (res.ok) location.href = res.headers.get('HX-Redirect');
  else document.getElementById('notice').outerHTML = await res.text();
}
