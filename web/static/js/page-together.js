// Who else is on this page, and where; and what they change, as soon as the hand is
// free.
import { listen } from './line.js';
import { own } from './own.js';

const screen = () => document.getElementById('page-screen').dataset;
let told = '',
  others = [],
  version = screen().version,
  waiting,
  at = '';

function say() {
  const here = document.getElementById('here');
  if (here && here.textContent !== told) here.textContent = told;
}

// mark shows at a block who is at work on it.
function mark() {
  for (const b of document.querySelectorAll('[data-held-by]')) delete b.dataset.heldBy;
  for (const o of others) {
    const block = o.at && document.querySelector(`[data-block="${CSS.escape(o.at)}"]`);
    if (block) block.dataset.heldBy = o.name;
  }
}

// tellWhere tells the others which block the hand is on.
function tellWhere() {
  if (!screen().works) return;
  const written = document.querySelector('.write [name=block]')?.value;
  const now =
    (written === 'title' ? '' : (written?.split(':')[1] ?? written)) || // at a picture: caption:7f3a:0
    document.querySelector('#panel .placing [name=block]')?.value ||
    '';
  if (now === at) return;
  at = now;
  fetch(own(`/pages/${screen().id}/at`), {
    method: 'POST',
    body: new URLSearchParams({ block: now }),
    headers: { 'HX-Request': 'true' },
  }).catch(() => {
    at = '';
  });
}

function follow() {
  clearTimeout(waiting);
  if (!document.getElementById('page-screen') || version === screen().version) return;
  waiting = setTimeout(() => {
    if (document.querySelector('.htmx-request')) {
      follow();
      return;
    }
    if (
      version === screen().version ||
      document.querySelector('.write, .placing') ||
      document.body.classList.contains('dragging')
    )
      return;
    htmx.ajax('GET', own(`/pages/${screen().id}`), { target: '#page-screen', swap: 'outerHTML' });
  }, 600);
}

document.addEventListener('htmx:afterSettle', () => {
  say();
  mark();
  tellWhere();
  follow();
});
listen(`/pages/${screen().id}/here`, {
  open: () => {
    at = '';
    tellWhere();
  },
  events: {
    here: (who) => {
      told = who;
      say();
    },
    places: (all) => {
      others = JSON.parse(all) ?? [];
      mark();
    },
    state: (now) => {
      version = now;
      follow();
    },
  },
  closed: () => {
    told = '';
  },
});
