// The panel of a picture or a band saves each change at once. Who is quicker than the
// answers loses nothing: one change is sent at a time, and what was typed or chosen
// meanwhile is put into the panel that the answer brings, and sent with the next.
const panel = () => document.querySelector('#panel #placing[hx-trigger], #panel #band-form, #panel #list-form');
const state = (form) =>
  new Map(
    [...form.elements]
      .filter((el) => el.id)
      .map((el) => [el.id, el.matches('[type=radio], [type=checkbox]') ? el.checked : el.value]),
  );

let sent = null; // what the panel held when it was sent
let ahead = null; // what it holds more by now

document.addEventListener('htmx:configRequest', (e) => {
  const form = panel();
  if (form && e.target === form && e.detail.verb === 'post') sent = state(form);
});

document.addEventListener('htmx:beforeSwap', (e) => {
  const form = panel();
  if (!sent || !form || !e.detail.shouldSwap || e.detail.target.id !== 'page-screen') return;
  const before = sent;
  sent = null;
  const block = form.elements.block.value,
    { id: held, selectionStart: from, selectionEnd: to } = document.activeElement ?? {};
  ahead = {
    block,
    held,
    from,
    to,
    fields: [...state(form)].filter(([id, v]) => before.has(id) && before.get(id) !== v),
  };
});

document.addEventListener('htmx:afterSettle', () => {
  const form = panel(),
    more = ahead;
  ahead = null;
  if (!form || form.elements.block.value !== more?.block) return;
  let due = false;
  for (const [id, v] of more.fields) {
    const el = document.getElementById(id);
    if (!el) continue;
    if (typeof v === 'boolean') el.checked = v;
    else el.value = v;
    if (id === more.held && typeof v === 'string') commitOnLeave(el);
    else due = true;
  }
  // What was marked is marked again: the next letter takes its place.
  if (typeof more.from === 'number' && document.activeElement?.id === more.held)
    document.activeElement.setSelectionRange(more.from, more.to);
  if (due) form.dispatchEvent(new Event('change', { bubbles: true }));
});

// What was refused changed nothing; what was chosen meanwhile is sent by itself.
document.addEventListener('htmx:afterRequest', (e) => {
  const form = panel();
  if (!form || e.target !== form || e.detail.successful || !sent) return;
  const before = sent;
  sent = null;
  if ([...state(form)].some(([id, v]) => before.get(id) !== v && id !== document.activeElement?.id))
    form.dispatchEvent(new Event('change', { bubbles: true }));
});

// commitOnLeave sends what stands in a field that was filled while its answer came: a
// browser takes that for what was there before.
function commitOnLeave(el) {
  let told = false;
  el.addEventListener(
    'change',
    () => {
      told = true;
    },
    { once: true },
  );
  el.addEventListener(
    'blur',
    () =>
      setTimeout(() => {
        if (!told && el.isConnected && el.value !== el.defaultValue)
          el.dispatchEvent(new Event('change', { bubbles: true }));
      }),
    { once: true },
  );
}
