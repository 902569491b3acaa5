// Arrivals: files on their way in, two at a time, each with its own progress.
const form = document.getElementById('arrivals');
const strip = document.getElementById('strip');
const picker = document.getElementById('files');
const coming = document.getElementById('coming');
const waiting = document.getElementById('waiting');
const limit = Number(form.dataset.limit);
const together = 2;
const queue = [];
let running = 0;

picker.addEventListener('change', () => { take(picker.files); picker.value = ''; });
for (const kind of ['dragenter', 'dragover']) addEventListener(kind, (e) => { e.preventDefault(); strip.classList.add('over'); });
addEventListener('dragleave', (e) => { if (!e.relatedTarget) strip.classList.remove('over'); });
addEventListener('drop', (e) => { e.preventDefault(); strip.classList.remove('over'); take(e.dataTransfer.files); });
addEventListener('paste', (e) => { if (e.clipboardData?.files.length) take(e.clipboardData.files); });

function take(files) {
  for (const file of files) {
    const row = document.createElement('li');
    const name = document.createElement('strong');
    name.textContent = file.name;
    const bar = document.createElement('progress');
    bar.max = file.size || 1;
    bar.value = 0;
    bar.setAttribute('aria-label', `${file.name} on its way`);
    const figure = document.createElement('span');
    figure.className = 'figure';
    figure.textContent = 'waits';
    row.append(name, bar, figure);
    coming.append(row);
    queue.push({ file, row, bar, figure });
  }
  next();
}

function next() {
  while (running < together && queue.length) {
    running++;
    bring(queue.shift()).finally(() => { running--; next(); });
  }
}

function bring({ file, row, bar, figure }) {
  if (file.size > limit) {
    refuse(row, `<strong>${escape(file.name)} is larger than ${Math.round(limit / 1e6)} MB, the most the house takes.</strong> Make a smaller copy of it and bring that.`);
    return Promise.resolve();
  }
  return new Promise((done) => {
    const line = new XMLHttpRequest();
    line.open('POST', `/arrivals?section=${encodeURIComponent(document.getElementById('section').value)}`);
    line.setRequestHeader('X-File-Name', encodeURIComponent(file.name));
    line.setRequestHeader('HX-Request', 'true');
    line.setRequestHeader('Content-Type', 'application/octet-stream');
    line.upload.onprogress = (e) => {
      bar.value = e.loaded;
      figure.textContent = e.loaded < e.total ? `${Math.round(100 * e.loaded / e.total)} %` : 'being looked at';
    };
    line.onload = () => {
      if (line.status === 200) arrived(row, line.responseText);
      else refuse(row, reason(line.responseText));
      done();
    };
    line.onerror = () => { refuse(row, `<strong>${escape(file.name)} did not arrive: the line broke.</strong> Drop it again.`); done(); };
    line.send(file);
  });
}

function arrived(row, html) {
  row.remove();
  waiting.insertAdjacentHTML('afterbegin', html);
  waiting.firstElementChild.classList.add('new');
  waiting.firstElementChild.querySelector('input').checked = true;
  count();
  htmx.ajax('GET', '/arrivals/count', { swap: 'none' });
}

// reason takes the words out of the notice that a refusal comes as.
function reason(html) {
  const box = document.createElement('template');
  box.innerHTML = html;
  return box.content.querySelector('p')?.innerHTML.replace(/<svg.*?<\/svg>/s, '') ?? '<strong>It was not taken.</strong> Try again.';
}

function refuse(row, html) {
  row.className = 'refused';
  row.innerHTML = `<svg class="mark stop" role="img" aria-label="refused"><use href="#mark-stop"/></svg><span>${html}</span><button type="button" class="quiet">Close</button>`;
  row.querySelector('button').onclick = () => row.remove();
}

function escape(text) {
  const span = document.createElement('span');
  span.textContent = text;
  return span.innerHTML;
}

// The ticks.
const boxes = () => [...waiting.querySelectorAll('input[name=picture]')];
const all = document.getElementById('all');
const send = document.getElementById('send');
function count() {
  const n = boxes().filter((b) => b.checked).length;
  document.getElementById('chosen').textContent = n ? `(${n})` : '';
  send.disabled = n === 0;
  all.checked = n > 0 && n === boxes().length;
}
form.addEventListener('change', (e) => {
  if (e.target === all) boxes().forEach((b) => { b.checked = all.checked; });
  count();
});
addEventListener('keydown', (e) => {
  if (e.ctrlKey || e.metaKey || e.altKey || e.target.closest('input:not([type=checkbox], [type=radio]), select, textarea, dialog')) return;
  if (e.key === 'o') picker.click();
  if (e.key === 't') all.click();
  if (e.key === 'b' && !send.disabled) send.click();
});
count();
