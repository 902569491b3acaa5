// Loads each page in a frame in which no script runs, and tells how wide its pictures are in windows of several
// widths. Three pages are measured at a time.
const { pages, widths } = await (await fetch('pages')).json();
const next = pages[Symbol.iterator]();
const patience = 15_000; // milliseconds, for a page and for its pictures

const until = (done) =>
  new Promise((go) => {
    const begun = performance.now();
    const look = () => (done() || performance.now() - begun > patience ? go() : setTimeout(look, 20));
    look();
  });

async function measure(frame, page) {
  let loaded = false;
  frame.onload = () => (loaded = true);
  frame.src = '/' + page.split('/').map(encodeURIComponent).join('/');
  await until(() => loaded);
  const inside = frame.contentDocument;
  const images = [...inside.querySelectorAll('img')].filter(
    (i) => i.getAttribute('src')?.trim() || i.srcset || i.parentNode.matches?.('picture:has(> source[srcset])'),
  );
  for (const i of images) i.loading = 'eager';
  await until(() => images.every((i) => i.complete));
  const all = widths.map((width) => {
    frame.style.width = `${width}px`;
    return images.map((i) => i.getBoundingClientRect().width);
  });
  frame.style.width = `${widths.at(-1)}px`;
  await fetch('measured', { method: 'POST', body: JSON.stringify({ page, widths: all }) });
}

async function worker() {
  const frame = document.createElement('iframe');
  frame.sandbox = 'allow-same-origin';
  frame.style.cssText = `width: ${widths.at(-1)}px; height: 900px; border: 0`;
  document.body.append(frame);
  for (const page of next) {
    try {
      await measure(frame, page);
    } catch {
      // A page that cannot be measured keeps its estimate.
    }
  }
}

await Promise.all([worker(), worker(), worker()]);
await fetch('end', { method: 'POST' });
