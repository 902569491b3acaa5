// A picture's card: another file for it.
import { whenSignedIn } from './session.js';

const card = document.querySelector('.card-screen');
const picker = document.getElementById('swap-file');

picker?.addEventListener('change', () => swap(picker.files[0]));

async function swap(file) {
  if (!file) return;
  const res = await fetch(`/pictures/${card.dataset.id}/swap`, { method: 'POST', body: file, headers: { 'HX-Request': 'true', 'X-File-Name': encodeURIComponent(file.name) } });
  if (res.status === 401) { await whenSignedIn(); swap(file); return; }
  if (res.ok) { location.href = res.headers.get('HX-Redirect'); return; }
  document.getElementById('notice').outerHTML = await res.text();
}
