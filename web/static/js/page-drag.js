// Pictures are dragged from the tray, and blocks about the page, into gaps and onto
// places; files are dropped from the desktop. The same pointer events serve mouse,
// touch and pen; every drag has buttons and keys beside it.
import { follow, ghostOf, isDrag, notClicked } from './ghost.js';
import { tell } from './notice.js';
import { carriesFiles } from './send-file.js';
import { whenSignedIn } from './session.js';
import { own } from './own.js';

const screen = () => document.getElementById('page-screen').dataset;
const near = 90; // px from which a gap is meant
const edge = 60; // px from the edge of the window where the page begins to scroll
let held = null; // what the hand is on
let over = null; // where it would come to

addEventListener('pointerdown', (e) => {
  if (e.button !== 0 || !screen().works) return;
  const tray = e.target.closest('[data-picture]'),
    grip = e.target.closest('[data-grip]'),
    placed = e.target.closest('.placed:not(.hole) .hold');
  if (!tray && !grip && !placed) return;
  const figure = placed?.closest('.placed');
  held = {
    from: [e.clientX, e.clientY],
    picture: tray?.dataset.picture,
    block: grip?.dataset.grip ?? figure?.dataset.block,
    image: (tray ?? placed)?.querySelector('img')?.src,
    ghost: null,
  };
});

addEventListener(
  'pointermove',
  (e) => {
    if (!held) return;
    if (!held.ghost) {
      if (!isDrag(held.from, e)) return;
      begin();
    }
    e.preventDefault();
    follow(held.ghost, e);
    held.at = [e.clientX, e.clientY];
    aim(...held.at, Boolean(held.picture));
    if (!held.scrolls) pull();
  },
  { passive: false },
);

// pull scrolls the page for as long as the hand rests near its upper or lower edge, the
// faster the nearer, and aims anew at what comes to it.
function pull() {
  if (!held?.at) return;
  const y = held.at[1],
    deep = y < edge ? y - edge : Math.max(0, y - (innerHeight - edge));
  held.scrolls = deep !== 0;
  if (!held.scrolls) return;
  scrollBy(0, deep / 3);
  aim(...held.at, Boolean(held.picture));
  requestAnimationFrame(pull);
}

function begin() {
  held.ghost = ghostOf(held.image, 'This block');
  document.body.classList.add('dragging');
}

// aim finds what the hand is over: a place, for a picture, or the nearest gap.
function aim(x, y, mayReplace) {
  over?.classList.remove('aimed');
  over = null;
  if (mayReplace) {
    const place = document.elementFromPoint(x, y)?.closest('.placed');
    const r = place?.getBoundingClientRect();
    if (place && (place.classList.contains('hole') || (y > r.top + r.height / 4 && y < r.bottom - r.height / 4)))
      over = place;
  }
  if (!over) {
    let best = near;
    for (const gap of document.querySelectorAll('.gap')) {
      const r = gap.getBoundingClientRect();
      if (x < r.left - 20 || x > r.right + 20) continue;
      const far = Math.abs(y - (r.top + r.bottom) / 2);
      if (far < best) {
        best = far;
        over = gap;
      }
    }
  }
  over?.classList.add('aimed');
}

addEventListener('pointerup', () => {
  if (!held) return;
  const { ghost, picture, block } = held,
    to = over;
  drop();
  if (!ghost) return;
  notClicked();
  if (!to) return;
  const { after, column } = to.dataset;
  if (to.classList.contains('gap'))
    act(picture ? 'insert' : 'move', picture ? { picture, after, column, side: 'none' } : { block, after, column });
  else act('replace', { picture, block: to.dataset.block, nth: to.dataset.nth, mark: to.dataset.mark });
});
addEventListener('pointercancel', drop);
addEventListener(
  'keydown',
  (e) => {
    if (e.key === 'Escape' && held?.ghost) {
      e.stopImmediatePropagation();
      drop();
    }
  },
  true,
);

function drop() {
  held?.ghost?.remove();
  over?.classList.remove('aimed');
  held = over = null;
  document.body.classList.remove('dragging');
}

function act(what, values) {
  htmx.ajax('POST', own(`/pages/${screen().id}/${what}`), { values, target: '#page-screen', swap: 'outerHTML' });
}

// ---- files from the desktop ----
addEventListener('dragover', (e) => {
  if (!carriesFiles(e) || !screen().works) return;
  e.preventDefault();
  document.body.classList.add('dragging');
  aim(e.clientX, e.clientY, true);
});
addEventListener('dragleave', (e) => {
  if (!e.relatedTarget) drop();
});
addEventListener('drop', async (e) => {
  if (!carriesFiles(e)) return;
  e.preventDefault();
  const files = [...e.dataTransfer.files],
    to = over,
    panel = e.target.closest?.('.panel') && standsFor();
  drop();
  if (panel) {
    await land(files[0], {}, panel);
    return;
  }
  if (!to) {
    tell('bad', 'Nothing was taken.', 'Drop it on a gap, or onto a picture.');
    return;
  }
  const where = { ...to.dataset };
  // One place takes one picture; a gap takes all, the last first, so that they stand in
  // their order.
  for (const file of to.classList.contains('gap') ? files.reverse() : files.slice(0, 1))
    await land(file, where, !file.type || file.type.startsWith('image/') ? '' : 'file');
});
// standsFor is what the panel chooses a picture for: cover or link; undefined for none.
const standsFor = () => document.querySelector('[data-takes-file]')?.dataset.takesFile;
addEventListener('paste', (e) => {
  const file = [...(e.clipboardData?.files ?? [])].find((f) => f.type.startsWith('image/'));
  if (!file || !standsFor()) return;
  e.preventDefault();
  land(file, {}, standsFor());
});
// Pictures that are pasted among words come into the gap behind their block, once the words
// are kept.
document.addEventListener('pictures', (e) => {
  const { block, text } = e.target.elements,
    after = block.value,
    files = e.detail.reverse();
  const send = async () => {
    for (const file of files) await land(file, { after }, '');
  };
  if (text.value === text.defaultValue) {
    send();
    return;
  }
  document.addEventListener('htmx:afterSettle', send, { once: true });
  text.dispatchEvent(new Event('change', { bubbles: true }));
});
// A picker does what dropping into the open gap does.
document.addEventListener('change', async (e) => {
  const { id, files, form } = e.target;
  if ((id !== 'file-here' && id !== 'photos-here') || !files.length) return;
  const gap = { after: form.elements.after.value, column: form.elements.column.value };
  for (const file of [...files].reverse()) await land(file, gap, id === 'file-here' ? 'file' : '');
});

// land sends one file to where it was dropped.
async function land(file, { after = '', column = 0, block = '', nth = 0, mark = '' }, as) {
  const here = document.getElementById('here');
  if (here) here.textContent = `${file.name} is on its way…`;
  const query = new URLSearchParams({ after, column, block, nth, mark, as });
  const send = () =>
    fetch(own(`/pages/${screen().id}/land?${query}`), {
      method: 'POST',
      body: file,
      headers: {
        'HX-Request': 'true',
        'X-File-Name': encodeURIComponent(file.name),
        'Content-Type': 'application/octet-stream',
      },
    });
  const res = await send().catch(() => null);
  if (!res) {
    broken(file, () => land(file, { after, column, block, nth, mark }, as));
    return;
  }
  if (res.status === 401) {
    await whenSignedIn();
    await land(file, { after, column, block, nth, mark }, as);
    return;
  }
  const html = await res.text();
  if (here) here.textContent = '';
  if (res.ok) htmx.swap('#page-screen', html, { swapStyle: 'outerHTML' });
  else document.getElementById('notice').outerHTML = html;
}

// broken says that the line broke, and offers to send the file again.
function broken(file, again) {
  const button = Object.assign(document.createElement('button'), {
    type: 'button',
    className: 'quiet',
    textContent: 'Send it again',
    onclick: () => {
      document.getElementById('notice').replaceChildren();
      again();
    },
  });
  tell('bad', `${file.name} did not arrive: the line broke.`, 'The page is as it was.', button);
}
