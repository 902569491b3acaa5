// Words are kept as CommonMark, with tables (the form of GitHub Flavored Markdown, which many
// programs write). A paragraph of another look has a comment before it, which every other
// reader of CommonMark passes over: <!-- lead -->.
import { MarkdownIt, MarkdownParser } from '../../vendor/prosemirror.min.js';
import { schema, styles } from './schema.js';
import { inline } from './inline.js';
import { tidy, tidyCaption } from './tidy.js';

const reader = new MarkdownIt('commonmark', { html: true }).enable('table');
// In a caption nothing begins a list or a heading, and HTML is just words.
const lineReader = new MarkdownIt('commonmark', { html: false });
lineReader.block.ruler.enableOnly(['paragraph']);
lineReader.inline.ruler.disable(['html_inline']);

// Foreign is what a text has that words cannot hold.
class Foreign extends Error {}

const styled = new RegExp(`^<!-- (${styles.join('|')}) -->\\s*$`);

// tokens reads a text into tokens, with looks on the paragraphs that have them.
function tokens(text) {
  const all = [];
  let style = null;
  for (const token of reader.parse(text, {})) {
    if (token.type === 'html_block') {
      style = styled.exec(token.content)?.[1];
      if (!style || token.level > 0) throw new Foreign('HTML');
      continue;
    }
    if (style) {
      if (token.type !== 'paragraph_open') throw new Foreign('a look of no paragraph');
      token.meta = { style };
      style = null;
    }
    all.push(token);
  }
  if (style) throw new Foreign('a look of no paragraph');
  return all;
}

const aligned = (token) => ({ align: /text-align:(\w+)/.exec(token.attrGet('style') ?? '')?.[1] ?? null });
const handlers = {
  paragraph: { block: 'paragraph', getAttrs: (t) => ({ style: t.meta?.style ?? null }) },
  heading: { block: 'heading', getAttrs: (t) => ({ level: Number(t.tag[1]) }) },
  blockquote: { block: 'blockquote' },
  bullet_list: { block: 'bullet_list', getAttrs: (_, all, i) => ({ tight: tight(all, i) }) },
  ordered_list: {
    block: 'ordered_list',
    getAttrs: (t, all, i) => ({ order: Number(t.attrGet('start') ?? 1), tight: tight(all, i) }),
  },
  list_item: { block: 'list_item' },
  hr: { node: 'horizontal_rule' },
  hardbreak: { node: 'hard_break' },
  em: { mark: 'em' },
  strong: { mark: 'strong' },
  link: {
    mark: 'link',
    getAttrs: (t) => {
      if (t.attrGet('title')) throw new Foreign('a title of a link');
      return { href: t.attrGet('href') };
    },
  },
  table: { block: 'table' },
  thead: { ignore: true },
  tbody: { ignore: true },
  tr: { block: 'table_row' },
  th: { block: 'table_header', getAttrs: aligned },
  td: { block: 'table_cell', getAttrs: aligned },
};
const parser = new MarkdownParser(schema, { parse: tokens }, handlers);
const lineParser = new MarkdownParser(schema, lineReader, handlers);

// tight tells whether the list that begins at a token is: whether the first paragraph of its
// items stands without room around it.
function tight(all, i) {
  const { level } = all[i];
  const first = all
    .slice(i + 1)
    .find((t) => t.level <= level || (t.type === 'paragraph_open' && t.level === level + 2));
  return first.level > level && first.hidden;
}

// read returns the words of a text, or null where it has what they cannot hold without
// changing it.
export function read(text) {
  if (!text.trim()) return schema.nodes.doc.createAndFill();
  let doc;
  try {
    doc = parser.parse(text);
  } catch {
    return null; // a token that it does not know, or one that is foreign
  }
  return looks(text) === looks(write(doc)) ? doc : null;
}

// readCaption is read for a caption.
export function readCaption(text) {
  const line = text.replace(/[\t\r\n]/g, ' ').trim();
  let doc;
  try {
    doc = lineParser.parse(line);
  } catch {
    return null;
  }
  const made = schema.nodes.caption.create(null, doc.firstChild?.content);
  const same = lineReader.render(line) === lineReader.render(writeCaption(made));
  return same && made.children.every((part) => part.isText) ? made : null;
}

// writeCaption returns a caption as CommonMark.
export const writeCaption = (caption) => inline(tidyCaption(caption));

// looks is a text as HTML, whose lines may be broken anywhere.
const looks = (text) => reader.render(text).replace(/\s+/g, ' ').replaceAll('> ', '>').replaceAll(' <', '<');

// write returns a document as CommonMark.
export const write = (doc) => blocks(tidy(doc)).join('\n');

// blocks returns the lines of the blocks within a node, an empty one between each two, or none
// where they are tight.
function blocks(parent, packed = false) {
  const lines = [];
  let other = false; // two lists beside each other have markers of their own
  parent.forEach((node, _, n) => {
    const before = n > 0 ? parent.child(n - 1) : null;
    other = before?.type === node.type && !other;
    if (before && !packed) lines.push('');
    lines.push(...block(node, other));
  });
  return lines;
}

function block(node, other) {
  switch (node.type.name) {
    case 'paragraph': {
      const lines = inline(node).split('\n');
      return node.attrs.style ? [`<!-- ${node.attrs.style} -->`, ...lines] : lines;
    }
    case 'heading':
      return [`${'#'.repeat(node.attrs.level)} ${inline(node)}`];
    case 'blockquote':
      return blocks(node).map((line) => (line ? `> ${line}` : '>'));
    case 'horizontal_rule':
      return ['---'];
    case 'bullet_list':
      return list(node, () => (other ? '* ' : '- '));
    case 'ordered_list':
      return list(node, (n) => `${node.attrs.order + n}${other ? ')' : '.'} `);
    case 'table':
      return table(node);
  }
  throw new Error(`no way to write ${node.type.name}`);
}

function list(node, marker) {
  const { tight } = node.attrs;
  return node.children.flatMap((item, n) => {
    const mark = marker(n),
      lines = blocks(item, tight).map((line, i) => (i === 0 ? mark + line : line && ' '.repeat(mark.length) + line));
    return n > 0 && !tight ? ['', ...lines] : lines;
  });
}

function table(node) {
  const row = (cells) => `| ${cells.join(' | ')} |`,
    rows = node.children.map((r) => row(r.children.map((cell) => inline(cell))));
  const rule = { left: ':--', right: '--:', center: ':-:' };
  rows.splice(1, 0, row(node.firstChild.children.map((cell) => rule[cell.attrs.align] ?? '---')));
  return rows;
}
