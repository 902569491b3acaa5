// Loads each page in a frame in which no script runs. It tells how wide its pictures are in windows of several widths,
// which files the browser took for them, and how far everything moves when they come. Three pages are measured at a
// time.
const { pages, widths } = await (await fetch('pages')).json();
const next = pages[Symbol.iterator]();
const patience = 15_000; // milliseconds, for a page and for its pictures

const until = (done) =>
  new Promise((go) => {
    const begun = performance.now();
    const look = () => (done() || performance.now() - begun > patience ? go() : setTimeout(look, 20));
    look();
  });

const frames = (n) => new Promise((go) => (n ? requestAnimationFrame(() => go(frames(n - 1))) : go()));

// Where everything on a page stands.
function places(inside) {
  const all = new Map();
  for (const one of inside.body?.querySelectorAll('*') ?? [])
    all.set(one.dataset?.measured ?? one, one.getBoundingClientRect());
  return all;
}

// How far what stands there moves, and how much of the window that is (Layout Instability, W3C draft: impact fraction
// times distance fraction).
function shift(before, after, width, height) {
  const touched = new Uint8Array(width * height);
  let distance = 0;
  const touch = (r) => {
    const [left, right] = [r.left, r.right].map((x) => Math.round(Math.min(Math.max(x, 0), width)));
    const [top, bottom] = [r.top, r.bottom].map((y) => Math.round(Math.min(Math.max(y, 0), height)));
    for (let y = top; y < bottom; y++) touched.fill(1, y * width + left, y * width + right);
  };
  const seen = (r) => r.width > 0 && r.height > 0 && r.bottom > 0 && r.top < height && r.right > 0 && r.left < width;
  for (const [key, was] of before) {
    const is = after.get(key);
    if (!is || !(seen(was) || seen(is)) || was.width * was.height * is.width * is.height === 0) continue;
    const moved = Math.max(Math.abs(was.left - is.left), Math.abs(was.top - is.top));
    if (moved < 3) continue;
    distance = Math.max(distance, Math.min(moved, Math.max(width, height)));
    touch(was);
    touch(is);
  }
  const impact = touched.reduce((sum, one) => sum + one, 0) / touched.length;
  return (impact * distance) / Math.max(width, height);
}

// Everything as it stands while no picture has come yet: each is one that never comes.
function without(images, look) {
  const replaced = images.map((i, n) => {
    const empty = i.ownerDocument.createElement('img'); // a clone would have its file
    for (const { name, value } of i.attributes)
      if (name !== 'src' && name !== 'srcset') empty.setAttribute(name, value);
    empty.src = new URL('never', location.href);
    empty.dataset.measured = i.dataset.measured = n;
    const whole = i.parentNode.matches?.('picture') ? i.parentNode : i; // its files would be taken
    const instead = whole === i ? empty : whole.cloneNode(false);
    if (whole !== i) instead.append(empty);
    whole.replaceWith(instead);
    return { empty, instead, whole };
  });
  const result = look();
  for (const { empty, instead, whole } of replaced) {
    empty.removeAttribute('src');
    instead.replaceWith(whole);
  }
  return result;
}

const height = 900; // of the window, in CSS pixels

async function measure(frame, page) {
  let loaded = false;
  frame.onload = () => (loaded = true);
  frame.style.width = `${widths[0]}px`;
  frame.src = '/' + page.split('/').map(encodeURIComponent).join('/');
  await until(() => loaded);
  const inside = frame.contentDocument;
  const images = [...inside.querySelectorAll('img')].filter(
    (i) => i.getAttribute('src')?.trim() || i.srcset || i.parentNode.matches?.('picture:has(> source[srcset])'),
  );
  for (const i of images) i.loading = 'eager';
  const told = { page, widths: [], chosen: [], shifts: [] };
  for (const width of widths) {
    // from narrow to wide: a browser takes no lighter file where it has a heavier one
    frame.style.width = `${width}px`;
    await frames(2);
    await until(() => images.every((i) => i.complete));
    told.widths.push(images.map((i) => i.getBoundingClientRect().width));
    told.chosen.push(
      images.map((i) => (i.currentSrc ? decodeURIComponent(new URL(i.currentSrc).pathname).slice(1) : '')),
    );
    const before = without(images, () => places(inside));
    told.shifts.push(shift(before, places(inside), width, height));
  }
  await fetch('measured', { method: 'POST', body: JSON.stringify(told) });
}

async function worker() {
  const frame = document.createElement('iframe');
  frame.sandbox = 'allow-same-origin';
  frame.style.cssText = `height: ${height}px; border: 0`;
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
