// A banner on its screen: a file that is dropped becomes its picture.
import { on } from './keys.js';
import { tell } from './notice.js';
import { carriesFiles, sendTo } from './send-file.js';

const data = () => document.getElementById('banner').dataset;

async function land(file) {
  document.getElementById('landing').textContent = `${file.name} is on its way…`;
  const came = await sendTo(`/banners/${data().id}/land`, file);
  if (came)
    await htmx.ajax('GET', `/banners/${data().id}`, { target: '#banner', select: '#banner', swap: 'outerHTML' });
  const say = document.getElementById('landing');
  if (say) say.textContent = came ? `${file.name} came in.` : '';
}
document.addEventListener('change', (e) => {
  if (e.target.id === 'banner-file' && e.target.files.length) land(e.target.files[0]);
});
const carries = (e) => carriesFiles(e) && data().works;
addEventListener('dragover', (e) => {
  if (carries(e)) e.preventDefault();
});
addEventListener('drop', (e) => {
  if (!carries(e)) return;
  e.preventDefault();
  const [file, another] = e.dataTransfer.files;
  if (file && !another) land(file);
  else tell('bad', 'Nothing was taken.', 'A banner has one picture: drop one file from a folder.');
});
on('w', () => document.getElementById('why-page')?.focus());
