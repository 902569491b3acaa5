// Arrivals: files on their way in, two at a time. However many are dropped, the
// page holds a few rows: the rest is a number.
import './list.js';
import { whenSignedIn } from './session.js';
import { on } from './keys.js';
import { own } from './own.js';

const form = document.getElementById('arrivals');
const strip = document.getElementById('strip');
const picker = document.getElementById('files');
const folder = document.getElementById('folder');
const camera = document.getElementById('camera');
const coming = document.getElementById('coming');
const limit = Number(form.dataset.limit);
const together = 2;
const queue = [];
const broken = [];
const all = { files: 0, bytes: 0, done: 0, sent: 0, refused: 0, begun: 0 };
let running = 0;

// ---- ways in ----
for (const p of [picker, folder, camera])
  p.addEventListener('change', () => {
    take(p.files);
    p.value = '';
  });
for (const kind of ['dragenter', 'dragover'])
  addEventListener(kind, (e) => {
    e.preventDefault();
    strip.classList.add('over');
  });
addEventListener('dragleave', (e) => {
  if (!e.relatedTarget) strip.classList.remove('over');
});
addEventListener('drop', async (e) => {
  e.preventDefault();
  strip.classList.remove('over');
  const entries = [...e.dataTransfer.items].map((i) => i.webkitGetAsEntry?.());
  if (entries.some((x) => x?.isDirectory)) for (const entry of entries) await walk(entry);
  else take(e.dataTransfer.files);
});
addEventListener('paste', (e) => {
  if (e.clipboardData?.files.length) take(e.clipboardData.files);
});

// walk takes a dropped folder with all that is inside.
async function walk(entry) {
  if (!entry) return;
  if (entry.isFile) {
    take([await new Promise((ok, bad) => entry.file(ok, bad))]);
    return;
  }
  const reader = entry.createReader();
  for (;;) {
    const some = await new Promise((ok, bad) => reader.readEntries(ok, bad));
    if (!some.length) return;
    for (const inner of some) await walk(inner);
  }
}

function take(files) {
  if (!running && !queue.length)
    Object.assign(all, { files: 0, bytes: 0, done: 0, sent: 0, refused: 0, begun: performance.now() });
  for (const file of files) {
    all.files++;
    all.bytes += file.size;
    queue.push(file);
  }
  next();
}

function next() {
  while (running < together && queue.length) {
    running++;
    bring(queue.shift()).finally(() => {
      running--;
      all.done++;
      next();
    });
  }
  total();
}

// ---- one file ----
function row(file) {
  const li = document.createElement('li');
  const name = document.createElement('strong');
  name.textContent = file.name;
  const bar = document.createElement('progress');
  bar.max = file.size || 1;
  bar.value = 0;
  bar.setAttribute('aria-label', `${file.name} on its way`);
  const figure = document.createElement('span');
  figure.className = 'figure';
  li.append(name, bar, figure);
  coming.append(li);
  return { li, bar, figure };
}

function bring(file) {
  if (file.size > limit) {
    refuse(
      null,
      `<strong>${escape(file.name)} is larger than ${Math.round(limit / 1e6)} MB, the most the house takes.</strong> ` +
        'Make a smaller copy of it and bring that.',
    );
    all.sent += file.size;
    return Promise.resolve();
  }
  const { li, bar, figure } = row(file);
  let sent = 0;
  return new Promise((done) => {
    const line = new XMLHttpRequest();
    line.open('POST', own(`/arrivals?section=${encodeURIComponent(document.getElementById('section').value)}`));
    line.setRequestHeader('X-File-Name', encodeURIComponent(file.name));
    line.setRequestHeader('HX-Request', 'true');
    line.setRequestHeader('Content-Type', 'application/octet-stream');
    line.upload.onprogress = (e) => {
      all.sent += e.loaded - sent;
      sent = e.loaded;
      bar.value = e.loaded;
      figure.textContent = e.loaded < e.total ? `${Math.round((100 * e.loaded) / e.total)} %` : 'being looked at';
      total();
    };
    line.onload = async () => {
      all.sent += file.size - sent;
      if (line.status === 401) {
        await whenSignedIn();
        li.remove();
        queue.unshift(file);
        all.files++;
        done();
        return;
      }
      if (line.status === 200 && line.getResponseHeader('X-Kept')) li.outerHTML = line.responseText;
      else if (line.status === 200) arrived(li, line.responseText);
      else refuse(li, reason(line.responseText));
      done();
    };
    line.onerror = () => {
      all.sent -= sent;
      broken.push(file);
      refuse(li, `<strong>${escape(file.name)} did not arrive: the line broke.</strong> Nothing of it was kept.`);
      done();
    };
    line.send(file);
  });
}

function arrived(li, html) {
  li.remove();
  const waiting = document.getElementById('waiting');
  waiting.insertAdjacentHTML('afterbegin', html);
  htmx.process(waiting.firstElementChild);
  waiting.firstElementChild.classList.add('new');
  waiting.firstElementChild.querySelector('input').checked = true;
  count();
  recount();
}

// The line is redrawn when things have calmed down, and not for each of hundreds.
let soon;
function recount() {
  clearTimeout(soon);
  soon = setTimeout(() => htmx.ajax('GET', own('/arrivals/count'), { swap: 'none' }), 250);
}

// reason takes the words out of the notice that a refusal comes as.
function reason(html) {
  const box = document.createElement('template');
  box.innerHTML = html;
  return (
    box.content.querySelector('p')?.innerHTML.replace(/<svg.*?<\/svg>/s, '') ??
    '<strong>It was not taken.</strong> Try again.'
  );
}

function refuse(li, html) {
  all.refused++;
  if (!li) {
    li = document.createElement('li');
    coming.append(li);
  }
  li.className = 'refused';
  li.innerHTML =
    '<svg class="mark stop" role="img" aria-label="refused"><use href="#mark-stop"/></svg>' +
    `<span>${html}</span><button type="button" class="quiet">Close</button>`;
  li.querySelector('button').onclick = () => li.remove();
}

// ---- all together ----
const mb = (n) => (n >= 1e6 ? `${(n / 1e6).toFixed(n >= 1e7 ? 0 : 1)} MB` : `${Math.round(n / 1e3)} kB`);
function total() {
  const box = document.getElementById('total');
  box.hidden = all.files < 2 && !broken.length;
  const bar = document.getElementById('total-bar');
  bar.max = all.bytes || 1;
  bar.value = all.sent;
  const seconds = (performance.now() - all.begun) / 1000;
  const speed = seconds > 0.5 ? all.sent / seconds : 0;
  const left = speed ? (all.bytes - all.sent) / speed : 0;
  const busy = running || queue.length;
  document.getElementById('total-figure').textContent = busy
    ? `${all.done} of ${all.files}, ${mb(all.sent)} of ${mb(all.bytes)}` +
      (speed
        ? `, ${mb(speed)} each second, ${left < 60 ? `${Math.ceil(left)} s` : `${Math.ceil(left / 60)} min`} left`
        : '')
    : `${all.files - all.refused} of ${all.files} are in${all.refused ? `, ${all.refused} refused` : ''}`;
  document.getElementById('retry').hidden = !broken.length;
  document.title = busy ? `${all.done}/${all.files} · Arrivals · Mivlet` : 'Arrivals · Mivlet';
}
document.getElementById('retry').onclick = () => {
  coming.querySelectorAll('.refused').forEach((li) => {
    if (li.textContent.includes('the line broke')) li.remove();
  });
  all.refused -= broken.length;
  take(broken.splice(0));
};

// Bringing in goes on while one works elsewhere: links open beside it, and
// leaving asks first.
document.addEventListener(
  'click',
  (e) => {
    const link = e.target.closest?.('a[href]');
    if (!link || !(running || queue.length) || link.target || link.getAttribute('href').startsWith('#')) return;
    e.preventDefault();
    open(link.href, '_blank', 'noopener');
  },
  true,
);
addEventListener('beforeunload', (e) => {
  if (running || queue.length) e.preventDefault();
});

function escape(text) {
  const span = document.createElement('span');
  span.textContent = text;
  return span.innerHTML;
}

// ---- the ticks ----
const boxes = () => [...document.querySelectorAll('#waiting input[name=picture]')];
const everything = document.getElementById('all');
const send = document.getElementById('send');
function count() {
  const n = boxes().filter((b) => b.checked).length;
  document.getElementById('chosen').textContent = n ? `(${n})` : '';
  send.disabled = n === 0;
  everything.checked = n > 0 && n === boxes().length;
}
form.addEventListener('change', (e) => {
  if (e.target === everything)
    boxes().forEach((b) => {
      b.checked = everything.checked;
    });
  count();
});
on('o', () => picker.click());
on('t', () => everything.click());
on('b', () => {
  if (!send.disabled) send.click();
});

// redraw shows what waits anew: what was ticked stays so, and what is new is ticked as well.
async function redraw() {
  const before = new Map(boxes().map((b) => [b.value, b.checked]));
  await htmx.ajax('GET', own('/arrivals/waiting'), { swap: 'none' });
  boxes().forEach((b) => {
    b.checked = before.get(b.value) ?? true;
  });
  count();
}

// When the card's pictures are in, or the other pages of a file, they are shown.
document.addEventListener('htmx:afterSettle', () => {
  const ended = [...form.querySelectorAll('.job:not([hx-get])')].find((job) => !job.dataset.told);
  if (ended) {
    ended.dataset.told = 'yes';
    redraw();
    recount();
  }
  count();
});
count();
