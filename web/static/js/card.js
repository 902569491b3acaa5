// A picture's card: another file for it.
import { sendFile } from './send-file.js';

const card = document.querySelector('.card-screen');
const picker = document.getElementById('swap-file');

picker?.addEventListener('change', () => {
  if (picker.files[0]) sendFile(`/pictures/${card.dataset.id}/swap`, picker.files[0]);
});
