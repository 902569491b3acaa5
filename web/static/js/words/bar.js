// The bar above what is written: what the paragraph is, strong, slanted, a link, a table.
// It stands above the block, and on a narrow screen at the lower edge of the window.
import {
  Plugin,
  TextSelection,
  addColumnAfter,
  addRowAfter,
  deleteColumn,
  deleteRow,
  deleteTable,
  isInTable,
  lift,
  liftListItem,
  setBlockType,
  toggleMark,
  wrapIn,
  wrapInList,
} from '../../vendor/prosemirror.min.js';
import { schema, styles } from './schema.js';

const { nodes, marks } = schema;

// The kinds of a paragraph, as the list of the bar names them.
const kinds = [
  ['paragraph', 'Paragraph'],
  ['lead', 'Lead: an opening text'],
  ['small', 'Small'],
  ['note', 'Note'],
  ['heading 2', 'Heading 2'],
  ['heading 3', 'Heading 3'],
  ['heading 4', 'Heading 4'],
  ['bullet_list', 'List'],
  ['ordered_list', 'Numbered list'],
  ['blockquote', 'Quotation'],
];

// line has it without what is for paragraphs.
export const bar = (form, links, line) =>
  new Plugin({
    view(view) {
      const made = build(view, form, links, line);
      form.prepend(made.dom);
      made.update(view);
      return { update: made.update, destroy: () => made.dom.remove() };
    },
  });

function build(view, form, links, line) {
  const dom = element('div', { className: 'words-bar' });
  dom.setAttribute('role', 'toolbar');
  dom.setAttribute('aria-label', 'How it is written');
  const kind = element('select', {});
  kind.setAttribute('aria-label', 'Kind of paragraph');
  for (const [value, text] of kinds) kind.append(element('option', { value, textContent: text }));
  // It belongs to the bar and is not sent.
  for (const event of ['change', 'input']) kind.addEventListener(event, (e) => e.stopPropagation());
  kind.addEventListener('change', () => {
    become(view, kind.value);
    view.focus();
  });
  const button = (text, key, act) => {
    const b = element('button', { type: 'button', textContent: text });
    if (key) b.title = key;
    b.addEventListener('mousedown', (e) => e.preventDefault()); // what is chosen stays chosen
    b.addEventListener('click', () => {
      view.focus(); // before the button may go, which would end the writing
      act(view.state, view.dispatch, view);
      if (!links.opened()) view.focus();
    });
    return b;
  };
  const strong = button('Strong', 'Ctrl+B', toggleMark(marks.strong)),
    em = button('Slanted', 'Ctrl+I', toggleMark(marks.em)),
    address = button('Link', 'Ctrl+K', (_, __, v) => links.open(v)),
    table = button('Table', '', insertTable);
  strong.className = 'is-strong';
  em.className = 'is-slanted';
  const cells = element('span', { className: 'of-table' });
  cells.append(
    button('Row below', '', addRowAfter),
    button('Column right', '', addColumnAfter),
    button('Remove row', '', deleteRow),
    button('Remove column', '', deleteColumn),
    button('Remove table', '', deleteTable),
  );
  const text = button('As text', '', () => asText(form));
  dom.append(...(line ? [strong, em, address, text] : [kind, strong, em, address, table, cells, text]));
  const update = (v) => {
    const { state } = v;
    strong.setAttribute('aria-pressed', has(state, marks.strong));
    em.setAttribute('aria-pressed', has(state, marks.em));
    address.setAttribute('aria-pressed', has(state, marks.link));
    const within = isInTable(state);
    cells.hidden = !within;
    table.hidden = within;
    kind.disabled = within;
    kind.value = kindOf(state);
  };
  return { dom, update };
}

const element = (tag, properties) => Object.assign(document.createElement(tag), properties);

// has tells whether what is chosen has a mark, or what is typed next will.
function has({ selection: { from, to, empty, $from }, storedMarks, doc }, mark) {
  return empty ? Boolean(mark.isInSet(storedMarks ?? $from.marks())) : doc.rangeHasMark(from, to, mark);
}

// kindOf is the entry of the list for where the hand is.
function kindOf({ selection: { $from } }) {
  for (let d = $from.depth; d > 0; d--) {
    const { name } = $from.node(d).type;
    if (name === 'bullet_list' || name === 'ordered_list') return name;
  }
  for (let d = $from.depth; d > 0; d--) if ($from.node(d).type === nodes.blockquote) return 'blockquote';
  const { type, attrs } = $from.parent;
  return type === nodes.heading ? `heading ${attrs.level}` : (attrs.style ?? 'paragraph');
}

// become makes of the paragraphs that are chosen what the list says.
function become(view, kind) {
  const run = (command) => command(view.state, view.dispatch);
  // Out of lists and quotations first, as far as they go.
  for (
    let n = 0;
    n < 8 && (run(liftListItem(nodes.list_item)) || (kindOf(view.state) === 'blockquote' && run(lift)));
    n++
  );
  const [name, level] = kind.split(' ');
  if (name === 'heading') run(setBlockType(nodes.heading, { level: Number(level) }));
  else if (name === 'blockquote') (run(setBlockType(nodes.paragraph)), run(wrapIn(nodes.blockquote)));
  else if (/_list$/.test(name)) (run(setBlockType(nodes.paragraph)), run(wrapInList(nodes[name])));
  else run(setBlockType(nodes.paragraph, { style: styles.includes(name) ? name : null }));
}

// insertTable puts in a table of two columns, and the hand into its first cell.
function insertTable(state, dispatch) {
  const row = (type) => nodes.table_row.create(null, [type.create(), type.create()]);
  const table = nodes.table.create(null, [row(nodes.table_header), row(nodes.table_cell), row(nodes.table_cell)]);
  const tr = state.tr.replaceSelectionWith(table);
  let at = tr.selection.from;
  tr.doc.descendants((node, pos) => {
    if (node === table || (node.type === nodes.table && node.eq(table))) at = pos;
  });
  dispatch(tr.setSelection(TextSelection.near(tr.doc.resolve(at + 1))).scrollIntoView());
}

// asText has texts written in a text field from now on, in this browser.
function asText(form) {
  localStorage.setItem('mivlet-write-as-text', 'yes');
  form.dispatchEvent(new CustomEvent('as-text', { bubbles: true }));
}
