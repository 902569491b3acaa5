// Pictures of an album open over the page. Each has a page of its own, to which its thumbnail
// leads without this script; here that page is fetched and shown, and the address follows, so
// that "back" works and one picture can be shared. The pictures before and after are fetched
// ahead, and no others.
const pages = new Map();
let over = null,
  at = null, // address of the picture that is shown
  from = null; // address of the page that it was opened on

for (const list of document.querySelectorAll('.album[data-shuffled] .album-thumbs'))
  for (let i = list.children.length; i > 1; i--) list.append(list.children[Math.floor(Math.random() * i)]);

// read fetches the page of a picture, once.
function read(address) {
  if (!pages.has(address)) {
    pages.set(
      address,
      fetch(address)
        .then((answer) => (answer.ok ? answer.text() : Promise.reject(new Error(answer.statusText))))
        .then((html) => {
          const main = new DOMParser().parseFromString(html, 'text/html').querySelector('main');
          const img = main.querySelector('.album-large img');
          const still = main.querySelector('.album-large .still');
          const to = (rel) => main.querySelector(`.album-ways a[rel=${rel}]`)?.getAttribute('href') ?? null;
          return {
            src: img.getAttribute('src'),
            still: still?.getAttribute('src') ?? null, // of a picture that moves
            alt: img.alt,
            width: img.width,
            height: img.height,
            caption: main.querySelector('figcaption')?.textContent ?? '',
            title: main.querySelector('h1').textContent,
            place: main.querySelector('.album-at').textContent,
            previous: to('prev'),
            next: to('next'),
          };
        }),
    );
    pages.get(address).catch(() => pages.delete(address)); // it may come another time
  }
  return pages.get(address);
}

// ahead fetches a picture before it is asked for.
const ahead = (address) =>
  address &&
  read(address)
    .then((p) => {
      new Image().src = p.src;
    })
    .catch(() => {});

function build() {
  over = document.createElement('dialog');
  over.className = 'album-over';
  over.innerHTML =
    '<img alt=""><div><p class="album-caption"></p></div><div class="album-bar"><button type="button" class="album-motion" hidden></button><button type="button" data-to="previous">Previous</button><span class="album-place" aria-hidden="true"></span><span class="album-said" role="status"></span><button type="button" data-to="next">Next</button><button type="button" data-close autofocus>Close</button></div>';
  document.body.append(over);
  over.addEventListener('click', (e) => {
    const to = e.target.closest('[data-to]')?.dataset.to;
    if (to) step(to);
    else if (e.target.closest('.album-motion')) hold(!over.querySelector('.album-motion').matches('.holds'));
    else if (e.target.closest('[data-close]') || e.target === over) over.close();
  });
  // A button that ends being of use loses the focus: the keys are heard all the same.
  document.addEventListener('keydown', (e) => {
    const to = { ArrowLeft: 'previous', ArrowRight: 'next' }[e.key];
    if (!over.open || !to || e.altKey || e.ctrlKey || e.metaKey) return;
    e.preventDefault();
    step(to);
  });
  // Escape, Close and "back" all end here; the platform leads the hand back to the thumbnail.
  over.addEventListener('close', () => {
    if (at && location.pathname !== from) history.back();
    at = null;
  });
  // A finger swipes anywhere but on the buttons: a picture that is still on its way has no size to be met.
  let start = null;
  over.addEventListener('touchstart', (e) => {
    start = e.touches.length === 1 && !e.target.closest('button') ? e.touches[0].clientX : null;
  });
  over.addEventListener('touchend', (e) => {
    const by = start === null ? 0 : e.changedTouches[0].clientX - start;
    start = null;
    if (Math.abs(by) > 50) step(by < 0 ? 'next' : 'previous');
  });
}

// hold holds a picture that moves still, or lets it move (WCAG 2.2, SC 2.2.2 Pause, Stop, Hide).
let shown = null;
function hold(still, p = shown) {
  shown = p;
  const button = over.querySelector('.album-motion');
  button.classList.toggle('holds', still);
  button.textContent = still ? 'Play' : 'Pause';
  over.querySelector('img').src = still ? p.still : p.src;
}

// show draws a picture. An answer that comes after another one was asked for is dropped.
async function show(address) {
  at = address;
  over.classList.add('changing');
  const p = await read(address);
  if (at !== address) return;
  const img = over.querySelector('img');
  img.width = p.width;
  img.height = p.height;
  img.alt = p.alt;
  over.querySelector('.album-motion').hidden = !p.still;
  hold(Boolean(p.still) && matchMedia('(prefers-reduced-motion: reduce)').matches, p);
  over.setAttribute('aria-label', p.title);
  over.querySelector('.album-caption').textContent = p.caption;
  over.querySelector('.album-place').textContent = p.place;
  over.querySelector('.album-said').textContent = `${p.title}, ${p.place}. ${p.alt}`;
  for (const b of over.querySelectorAll('[data-to]')) b.disabled = !p[b.dataset.to];
  over.classList.remove('changing');
  over.dataset.shows = address;
  ahead(p.previous);
  ahead(p.next);
}

async function step(to) {
  const address = (await read(at))[to];
  if (!address) return;
  history.replaceState({ album: true }, '', address); // one step back leads to the page
  await fail(show(address));
}

// fail leads to the page of the picture where it cannot be shown here.
const fail = (work) =>
  work.catch(() => {
    location.href = at;
  });

document.addEventListener('click', (e) => {
  const link = e.target.closest('.album-thumb a, .album-more a');
  if (!link || e.button !== 0 || e.ctrlKey || e.metaKey || e.shiftKey || e.altKey) return;
  e.preventDefault();
  if (!over) build();
  const address = link.getAttribute('href');
  from = location.pathname;
  link.focus();
  history.pushState({ album: true }, '', address);
  over.showModal();
  fail(show(address));
});

addEventListener('popstate', () => {
  if (at && location.pathname === from) {
    at = null;
    over.close();
  } else if (!at && over && location.pathname !== from) {
    over.showModal(); // forward again
    fail(show(location.pathname));
  }
});
