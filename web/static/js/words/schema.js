// What words can be made of: the parts of CommonMark that an editor of pages needs, and
// tables. What is not in it does not come in by pasting either.
import { Schema } from '../../vendor/prosemirror.min.js';

// The looks a paragraph can have beside the usual one; the house says how large each is.
export const styles = ['lead', 'small', 'note'];

const cell = (tag, role) => ({
  content: 'inline*',
  attrs: { align: { default: null }, colspan: { default: 1 }, rowspan: { default: 1 }, colwidth: { default: null } },
  tableRole: role,
  isolating: true,
  parseDOM: [{ tag, getAttrs: (dom) => ({ align: dom.getAttribute('align') || null }) }],
  toDOM: ({ attrs }) => [tag, attrs.align ? { align: attrs.align } : {}, 0],
});

export const schema = new Schema({
  nodes: {
    doc: { content: 'block+' },
    paragraph: {
      content: 'inline*',
      group: 'block',
      attrs: { style: { default: null } },
      parseDOM: [{ tag: 'p', getAttrs: (dom) => ({ style: styles.find((s) => dom.classList.contains(s)) ?? null }) }],
      toDOM: ({ attrs }) => ['p', attrs.style ? { class: attrs.style } : {}, 0],
    },
    heading: {
      content: 'text*',
      group: 'block',
      attrs: { level: { default: 2 } },
      defining: true,
      parseDOM: [1, 2, 3, 4, 5, 6].map((level) => ({ tag: `h${level}`, attrs: { level: Math.max(level, 2) } })),
      toDOM: ({ attrs }) => [`h${attrs.level}`, 0],
    },
    blockquote: {
      content: 'block+',
      group: 'block',
      defining: true,
      parseDOM: [{ tag: 'blockquote' }],
      toDOM: () => ['blockquote', 0],
    },
    bullet_list: {
      content: 'list_item+',
      group: 'block list',
      attrs: { tight: { default: true } },
      parseDOM: [{ tag: 'ul' }],
      toDOM: () => ['ul', 0],
    },
    ordered_list: {
      content: 'list_item+',
      group: 'block list',
      attrs: { order: { default: 1 }, tight: { default: true } },
      parseDOM: [
        {
          tag: 'ol',
          getAttrs: (dom) => ({ order: Math.max(0, Number.parseInt(dom.getAttribute('start'), 10) || 1) }),
        },
      ],
      toDOM: ({ attrs }) => ['ol', attrs.order === 1 ? {} : { start: attrs.order }, 0],
    },
    list_item: {
      content: '(paragraph | blockquote) (paragraph | list | blockquote)*',
      defining: true,
      parseDOM: [{ tag: 'li' }],
      toDOM: () => ['li', 0],
    },
    // A caption is a document of its own, of one line.
    caption: { content: 'text*' },
    horizontal_rule: { group: 'block', parseDOM: [{ tag: 'hr' }], toDOM: () => ['hr'] },
    table: {
      content: 'table_row+',
      group: 'block',
      tableRole: 'table',
      isolating: true,
      parseDOM: [{ tag: 'table' }],
      toDOM: () => ['table', ['tbody', 0]],
    },
    table_row: {
      content: '(table_cell | table_header)*',
      tableRole: 'row',
      parseDOM: [{ tag: 'tr' }],
      toDOM: () => ['tr', 0],
    },
    table_cell: cell('td', 'cell'),
    table_header: cell('th', 'header_cell'),
    text: { group: 'inline' },
    hard_break: {
      inline: true,
      group: 'inline',
      selectable: false,
      parseDOM: [{ tag: 'br' }],
      toDOM: () => ['br'],
    },
  },
  marks: {
    link: {
      attrs: { href: {} },
      inclusive: false,
      parseDOM: [{ tag: 'a[href]', getAttrs: (dom) => ({ href: dom.getAttribute('href') }) }],
      toDOM: ({ attrs }) => ['a', { href: attrs.href }, 0],
    },
    strong: { parseDOM: [{ tag: 'strong' }, { tag: 'b' }], toDOM: () => ['strong', 0] },
    em: { parseDOM: [{ tag: 'em' }, { tag: 'i' }], toDOM: () => ['em', 0] },
  },
});
