// The Ruler's hand: two edges over a screenshot that snap to its lines. The
// sheet's own units are device pixels; edge 10 lies between pixels 9 and 10.
import { dimension } from './dimension.js';
import { sendFile } from './send-file.js';
import { on } from './keys.js';
import { own } from './own.js';

const ruler = document.getElementById('ruler');
const picker = document.getElementById('sheet-file');

// ---- bringing a screenshot ----
picker.addEventListener('change', () => bring(picker.files[0]));
for (const kind of ['dragover', 'dragenter'])
  addEventListener(kind, (e) => {
    e.preventDefault();
    document.getElementById('sheet-drop')?.classList.add('over');
  });
addEventListener('drop', (e) => {
  e.preventDefault();
  bring(e.dataTransfer.files[0]);
});
addEventListener('paste', (e) => {
  if (e.clipboardData?.files.length) bring(e.clipboardData.files[0]);
});

function bring(file) {
  if (file) sendFile(`/ruler?scale=${devicePixelRatio}`, file);
}

const svg = document.getElementById('sheet');
if (svg) measure();

async function measure() {
  const table = document.getElementById('table');
  const loupe = document.getElementById('loupe');
  const group = document.getElementById('edges');
  const W = Number(ruler.dataset.width),
    H = Number(ruler.dataset.height);
  const ns = 'http://www.w3.org/2000/svg';
  const lines = fetch(own(`/ruler/${ruler.dataset.id}/lines`)).then((r) => r.json());
  let snapTo = { upright: [], level: [] };
  lines.then((l) => {
    snapTo = l;
    ruler.dataset.ready = 'yes';
  });

  let across = true; // a width, between two upright edges
  let edges = [Math.round(W * 0.3), Math.round(W * 0.7)];
  let along = Math.round(Math.min(H, table.clientHeight) * 0.4);
  let zoom = 0; // screen px for each device px

  const handles = [0, 1].map((i) => {
    const g = document.createElementNS(ns, 'g');
    g.setAttribute('class', 'edge');
    g.setAttribute('tabindex', '0');
    g.setAttribute('role', 'slider');
    g.dataset.i = i;
    g.innerHTML = '<line/><line class="hit"/>';
    group.append(g);
    return g;
  });
  const dims = document.createElementNS(ns, 'g');
  group.append(dims);

  const unit = () => 1 / zoom;
  const most = () => (across ? W : H);
  const scaleOf = () => Number(document.querySelector('.keep-reading')?.dataset.scale ?? ruler.dataset.scale);

  function setZoom(z) {
    zoom = Math.min(Math.max(z, 0.1), 8);
    svg.setAttribute('width', W * zoom);
    svg.setAttribute('height', H * zoom);
    svg.querySelector('image').style.imageRendering = zoom >= 2 ? 'pixelated' : 'auto';
    document.getElementById('zoom-now').textContent = `${Math.round(zoom * 100)} %`;
    draw();
  }

  function draw() {
    const u = unit();
    handles.forEach((g, i) => {
      g.setAttribute('class', `edge${across ? '' : ' level'}${grab?.i === i ? ' held' : ''}`);
      g.setAttribute('aria-label', i ? 'second edge' : 'first edge');
      g.setAttribute('aria-valuemin', 0);
      g.setAttribute('aria-valuemax', most());
      g.setAttribute('aria-valuenow', edges[i]);
      for (const line of g.children) {
        const [x1, y1, x2, y2] = across ? [edges[i], 0, edges[i], H] : [0, edges[i], W, edges[i]];
        for (const [k, v] of Object.entries({ x1, y1, x2, y2 })) line.setAttribute(k, v);
      }
    });
    const [from, to] = [Math.min(...edges), Math.max(...edges)];
    const css = (to - from) / scaleOf();
    const label = `${short(css)}`;
    dims.replaceChildren(
      across ? dimension(from, along, to, along, label, u) : dimension(along, from, along, to, label, u),
    );
    const out = document.getElementById('reading');
    if (out)
      out.innerHTML =
        `<b>${short(css)}</b> CSS px<br>${to - from} device px<br>` +
        `needs ${Math.round(css)} px at 1x, ${Math.round(css * 2)} at 2x`;
    for (const [id, v] of [
      ['edge-from', from],
      ['edge-to', to],
      ['upright', across ? '' : 'yes'],
    ]) {
      const field = document.getElementById(id);
      if (field && field !== document.activeElement) field.value = v;
    }
    keptLines(u);
  }

  function keptLines(u) {
    const kept = document.getElementById('kept');
    kept.replaceChildren(
      ...[...document.querySelectorAll('.kept-list li')].map((li, i) => {
        const [a, b, up] = [Number(li.dataset.from), Number(li.dataset.to), li.dataset.upright === 'true'];
        const at = 14 * u * (i + 1);
        return up
          ? dimension(at, a, at, b, short((b - a) / scaleOf()), u)
          : dimension(a, at, b, at, short((b - a) / scaleOf()), u);
      }),
    );
  }

  const short = (v) => String(Math.round(v * 10) / 10);

  // snap takes the edge that a hand most likely means; the same rule as the core's.
  function snap(at, beside, free) {
    at = Math.min(Math.max(Math.round(at), 0), most());
    if (free) return at;
    const reach = Math.max(3, Math.round(8 * unit()));
    let best = at,
      top = 0;
    for (const l of across ? snapTo.upright : snapTo.level) {
      const d = Math.abs(l.at - at);
      if (d > reach || beside < l.from - reach || beside > l.to + reach) continue;
      const v = l.weight / (1 + d);
      if (v > top) {
        best = l.at;
        top = v;
      }
    }
    return best;
  }

  // ---- the pointer ----
  let grab = null;
  const place = (e) => {
    const p = new DOMPoint(e.clientX, e.clientY).matrixTransform(svg.getScreenCTM().inverse());
    return across ? [p.x, p.y] : [p.y, p.x];
  };
  svg.addEventListener('pointerdown', (e) => {
    if (e.button !== 0) return;
    const [at, beside] = place(e);
    const held = e.target.closest('.edge');
    grab = { i: held ? Number(held.dataset.i) : 1 };
    along = Math.round(beside);
    if (!held) {
      edges[0] = snap(at, beside, e.altKey);
      edges[1] = edges[0];
    }
    svg.setPointerCapture(e.pointerId);
    handles[grab.i].focus({ preventScroll: true });
    e.preventDefault();
    draw();
  });
  svg.addEventListener('pointermove', (e) => {
    const [at, beside] = place(e);
    if (grab) {
      edges[grab.i] = snap(at, beside, e.altKey);
      along = Math.round(beside);
      draw();
    }
    look(e);
  });
  for (const kind of ['pointerup', 'pointercancel'])
    svg.addEventListener(kind, () => {
      grab = null;
      draw();
    });
  svg.addEventListener('pointerleave', () => {
    loupe.hidden = true;
  });

  // The loupe shows the pixels under the hand.
  const image = new Image();
  image.src = svg.querySelector('image').href.baseVal;
  function look(e) {
    const p = new DOMPoint(e.clientX, e.clientY).matrixTransform(svg.getScreenCTM().inverse());
    if (!image.complete || zoom > 4) return;
    const n = 18,
      k = loupe.width / n;
    const ctx = loupe.getContext('2d');
    ctx.imageSmoothingEnabled = false;
    ctx.fillStyle = '#e6dcc8';
    ctx.fillRect(0, 0, loupe.width, loupe.height);
    const [x, y] = [Math.floor(p.x) - n / 2, Math.floor(p.y) - n / 2];
    ctx.drawImage(image, x, y, n, n, 0, 0, loupe.width, loupe.height);
    ctx.strokeStyle = '#ab2c14';
    for (const at of edges) {
      ctx.beginPath();
      if (across) {
        ctx.moveTo((at - x) * k, 0);
        ctx.lineTo((at - x) * k, loupe.height);
      } else {
        ctx.moveTo(0, (at - y) * k);
        ctx.lineTo(loupe.width, (at - y) * k);
      }
      ctx.stroke();
    }
    loupe.hidden = false;
    const [left, top] = [e.clientX + 24, e.clientY + 24];
    loupe.style.left = `${left + 190 > innerWidth ? e.clientX - 210 : left}px`;
    loupe.style.top = `${top + 190 > innerHeight ? e.clientY - 210 : top}px`;
  }

  // ---- the keyboard ----
  group.addEventListener('keydown', (e) => {
    const way = { ArrowLeft: -1, ArrowUp: -1, ArrowRight: 1, ArrowDown: 1 }[e.key];
    const g = e.target.closest('.edge');
    if (!way || !g) return;
    e.preventDefault();
    const i = Number(g.dataset.i);
    edges[i] = Math.min(Math.max(edges[i] + way * (e.shiftKey ? 10 : 1), 0), most());
    draw();
  });
  on('+ =', () => setZoom(zoom * 1.25));
  on('-', () => setZoom(zoom / 1.25));
  on('x', turn);
  document.addEventListener('change', (e) => {
    if (e.target.id === 'edge-from') edges[0] = snap(Number(e.target.value), along, true);
    if (e.target.id === 'edge-to') edges[1] = snap(Number(e.target.value), along, true);
    draw();
  });

  function turn() {
    across = !across;
    edges = [Math.round(most() * 0.3), Math.round(most() * 0.7)];
    along = Math.round((across ? H : W) * 0.4);
    document.getElementById('across').textContent = across ? 'Up and down' : 'Across';
    draw();
  }
  document.getElementById('across').onclick = turn;
  document.getElementById('zoom-in').onclick = () => setZoom(zoom * 1.25);
  document.getElementById('zoom-out').onclick = () => setZoom(zoom / 1.25);
  const fit = () => setZoom(Math.min(1, (table.clientWidth - 56) / W));
  document.getElementById('zoom-fit').onclick = fit;

  // A proposed column is taken with one click; pointing at it shows it.
  document.addEventListener('click', (e) => {
    const b = e.target.closest?.('.found button');
    if (!b) return;
    if (!across) turn();
    edges = [Number(b.dataset.left), Number(b.dataset.right)];
    draw();
    document.getElementById('reading-title')?.focus();
  });
  document.addEventListener('pointerover', (e) => {
    const b = e.target.closest?.('.found button');
    const box = document.getElementById('found');
    box.replaceChildren();
    if (!b) return;
    const r = document.createElementNS(ns, 'rect');
    for (const [k, v] of Object.entries({
      x: b.dataset.left,
      width: b.dataset.right - b.dataset.left,
      y: 0,
      height: H,
    }))
      r.setAttribute(k, v);
    box.append(r);
  });
  document.addEventListener('htmx:oobAfterSwap', draw);
  fit();
}
