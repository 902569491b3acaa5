// Where a link leads: an address that is typed or pasted, or a page or file that is found by
// words of its title.
import { schema } from './schema.js';
import { own } from '../own.js';

const { link: mark } = schema.marks;

// link makes the panel of a form. open shows it for what is chosen.
export function link(form) {
  const panel = document.createElement('div');
  panel.className = 'words-link';
  panel.hidden = true;
  panel.innerHTML = `<label class="field"><span>Link to</span><input type="text" autocomplete="off" spellcheck="false"
    placeholder="An address, or words of a page’s title"></label><ul class="found"></ul>
    <p><button type="button" class="button small primary">Set the link</button>
    <button type="button" class="quiet">Remove the link</button></p><p class="wrong" role="alert"></p>`;
  form.append(panel);
  const field = panel.querySelector('input'),
    found = panel.querySelector('.found'),
    [set, off] = panel.querySelectorAll('p button'),
    wrong = panel.querySelector('.wrong');
  let view, range, asked;

  const close = () => {
    panel.hidden = true;
    view.focus();
  };
  const apply = (href) => {
    const { from, to, text } = range,
      tr = view.state.tr;
    tr.removeMark(from, to, mark);
    if (href && from === to) tr.insert(from, schema.text(text || href, [mark.create({ href })]));
    else if (href) tr.addMark(from, to, mark.create({ href }));
    view.dispatch(tr);
    close();
  };
  const ask = async () => {
    const q = field.value.trim();
    asked = q;
    const res = await fetch(
      own(`/pages/${document.getElementById('page-screen').dataset.id}/links?q=${encodeURIComponent(q)}`),
    ).catch(() => null);
    if (!res?.ok || asked !== q) return;
    const list = await res.text().catch(() => '');
    // The hand stays where it was in the list.
    const at = [...found.querySelectorAll('button')].indexOf(document.activeElement);
    if (at >= 0) field.focus();
    found.innerHTML = list;
    found.querySelectorAll('button')[at]?.focus();
  };
  const submit = () => {
    const typed = field.value.trim(),
      href = address(typed),
      first = found.querySelector('button');
    if (href) apply(href);
    else if (typed && first) choose(first);
    else wrong.textContent = 'Enter an address such as https://example.org, or choose a page from the list.';
  };
  const choose = (button) => {
    range.text = button.dataset.title;
    apply(button.dataset.href);
  };
  // Nothing of the panel is sent with the form.
  for (const event of ['change', 'input']) panel.addEventListener(event, (e) => e.stopPropagation());
  field.addEventListener('input', () => {
    wrong.textContent = '';
    ask();
  });
  set.addEventListener('click', submit);
  off.addEventListener('click', () => apply(null));
  found.addEventListener('click', (e) => {
    const button = e.target.closest('button');
    if (button) choose(button);
  });
  panel.addEventListener('keydown', (e) => {
    const all = [field, ...found.querySelectorAll('button')],
      at = all.indexOf(document.activeElement);
    if (e.key === 'Escape') close();
    else if (e.key === 'Enter' && e.target === field) submit();
    else if (e.key === 'ArrowDown' && at >= 0) all[Math.min(at + 1, all.length - 1)].focus();
    else if (e.key === 'ArrowUp' && at > 0) all[at - 1].focus();
    else return;
    e.preventDefault();
    e.stopPropagation();
  });

  return {
    opened: () => !panel.hidden,
    open(v) {
      view = v;
      const { state } = view,
        { from, to, empty, $from } = state.selection;
      range = { from, to, text: '' };
      let href = '';
      state.doc.nodesBetween(from, Math.max(to, from), (node) => {
        href ||= mark.isInSet(node.marks)?.attrs.href ?? '';
      });
      if (empty && mark.isInSet($from.marks())) ({ href, ...range } = around($from));
      field.value = href;
      off.hidden = !href;
      wrong.textContent = '';
      panel.hidden = false;
      field.focus();
      field.select();
      ask();
      return true;
    },
  };
}

// around is the whole link that the hand is in.
function around($pos) {
  const { href } = mark.isInSet($pos.marks()).attrs,
    { parent } = $pos,
    linked = (i) => mark.isInSet(parent.maybeChild(i)?.marks ?? [])?.attrs.href === href;
  let first = $pos.index();
  if (!linked(first)) first--;
  let last = first;
  while (first > 0 && linked(first - 1)) first--;
  while (linked(last + 1)) last++;
  let from = $pos.start();
  for (let i = 0; i < first; i++) from += parent.child(i).nodeSize;
  let to = from;
  for (let i = first; i <= last; i++) to += parent.child(i).nodeSize;
  return { href, from, to, text: '' };
}

// address is what was typed as an address that can be followed; '' where it is none.
export function address(typed) {
  if (/^(https?:\/\/|mailto:|tel:)\S+$/i.test(typed) || /^[/#]\S*$/.test(typed)) return typed;
  if (/^[^\s@]+@[^\s@]+\.[a-z]{2,}$/i.test(typed)) return `mailto:${typed}`;
  if (/^(www\.)?[\p{L}\d-]+(\.[\p{L}\d-]+)*\.\p{L}{2,}(\/\S*)?$/u.test(typed)) return `https://${typed}`;
  return '';
}
