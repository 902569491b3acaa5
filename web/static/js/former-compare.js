// Two pages side by side, as wide as their windows would be. Whatever stands elsewhere, or is larger or smaller
// than before, is marked on the new page; pictures may show other files.
const both = document.querySelector('.both');

if (both) {
  const width = Number(both.dataset.width);
  const frames = [...both.querySelectorAll('iframe')];
  const fit = () => {
    for (const f of frames) {
      const scale = Math.min(1, f.parentNode.clientWidth / width);
      f.style.width = `${width}px`;
      f.style.height = `${f.parentNode.clientHeight / scale}px`;
      f.style.transform = `scale(${scale})`;
    }
  };
  fit();
  addEventListener('resize', fit);

  const loaded = (f) => {
    const there = f.contentDocument;
    return there?.readyState === 'complete' && there.location.href !== 'about:blank';
  };
  const settled = (f) =>
    new Promise((go) => {
      const look = () => {
        if (!loaded(f)) return setTimeout(look, 50);
        const images = [...f.contentDocument.images];
        for (const i of images) i.loading = 'eager';
        if (images.every((i) => i.complete)) return go(f.contentDocument);
        setTimeout(look, 50);
      };
      look();
    });
  const boxes = (page) => [...page.body.querySelectorAll('*')].map((e) => [e, e.getBoundingClientRect()]);
  const off = (a, b) => Math.max(...['x', 'y', 'width', 'height'].map((side) => Math.abs(a[side] - b[side])));

  const [was, now] = await Promise.all(frames.map(settled));
  was.defaultView.scrollTo(0, 0);
  now.defaultView.scrollTo(0, 0);
  const [before, after] = [boxes(was), boxes(now)];
  const moved = after.filter(([, box], n) => !before[n] || off(box, before[n][1]) > 0.5);
  for (const [e] of moved) e.style.outline = '3px solid #ab2c14';
  const said = document.getElementById('moved');
  said.textContent =
    before.length !== after.length
      ? 'The pages hold different things.'
      : moved.length === 0
        ? 'Everything stands where it stood, and is as large as it was.'
        : `${moved.length} of ${after.length} things stand elsewhere or are larger or smaller. They are outlined.`;
  said.classList.add(moved.length ? 'bad' : 'good');

  // What looks different outside of the pictures, on both pages.
  const areas = JSON.parse(both.dataset.areas ?? '[]');
  for (const page of areas.length ? [was, now] : [])
    for (const { x, y, width, height } of areas) {
      const mark = page.createElement('div');
      mark.className = 'mivlet-differs';
      mark.style.cssText = `all: initial; position: absolute; pointer-events: none; z-index: 2147483647; box-sizing: border-box; border: 3px dashed #ab2c14; left: ${x - 4}px; top: ${y - 4}px; width: ${width + 8}px; height: ${height + 8}px`;
      page.documentElement.append(mark);
    }
  if (areas.length) {
    said.textContent += ` Outside of the pictures, ${areas.length === 1 ? 'one area looks' : `${areas.length} areas look`} different. Dashes mark it on both pages.`;
    said.classList.replace('good', 'bad');
    const first = areas[0].y - 100;
    if (first > 0) for (const page of [was, now]) page.defaultView.scrollTo(0, first);
  }
  const follow = (from, to) =>
    from.addEventListener('scroll', () => to.scrollTo({ top: from.scrollY, left: from.scrollX }), { passive: true });
  follow(was.defaultView, now.defaultView);
}
