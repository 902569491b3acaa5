// Words as CommonMark can say them: nothing empty, no spaces at the ends of lines, no strong
// or slanted spaces at the ends of what is strong or slanted. To the eye it is the same.
import { Fragment, Mark } from '../../vendor/prosemirror.min.js';
import { schema } from './schema.js';

const { nodes } = schema;

// tidy returns the document as it comes back from being written and read.
export const tidy = (doc) => {
  const blocks = all(doc, true);
  return nodes.doc.create(null, blocks.length ? blocks : nodes.paragraph.create());
};

// tidyCaption is tidy for a caption.
export const tidyCaption = (caption) => nodes.caption.create(null, line(caption, false));

// all tidies the blocks within a node.
const all = (parent, top = false) => {
  const kept = [];
  parent.forEach((node) => {
    const tidied = block(node, top);
    if (tidied) kept.push(tidied);
  });
  return kept;
};

function block(node, top) {
  switch (node.type.name) {
    case 'paragraph':
    case 'heading': {
      const content = line(node, node.type === nodes.paragraph);
      if (content.size === 0) return null;
      return node.type.create(node.type === nodes.paragraph && !top ? null : node.attrs, content);
    }
    case 'blockquote': {
      const blocks = all(node);
      return blocks.length ? node.type.create(null, blocks) : null;
    }
    case 'bullet_list':
    case 'ordered_list':
      return list(node);
    case 'table':
      return table(node);
  }
  return node;
}

function list(node) {
  const items = [];
  node.forEach((item) => items.push(...itemsOf(all(item))));
  if (!items.length) return null;
  // Where a block of an item cannot follow without room before it, the whole list has room;
  // where nothing can have room between, it is tight.
  const apart = items.some((item) =>
    item.children.slice(1).some((b) => b.type !== nodes.bullet_list && b.attrs.order !== 1),
  );
  const could = items.length > 1 || items[0].childCount > 1;
  const seen = items.some((item) => item.children.some((b) => b.type === nodes.paragraph)); // only words show it
  return node.type.create({ ...node.attrs, tight: seen && !apart && (node.attrs.tight || !could) }, items);
}

// itemsOf makes an item of blocks. A list that would begin it takes its place instead.
function itemsOf(blocks) {
  if (!blocks.length) return [];
  if (!/_list$/.test(blocks[0].type.name)) return [nodes.list_item.create(null, blocks)];
  return [...blocks[0].children, ...itemsOf(blocks.slice(1))];
}

function table(node) {
  let columns = 0;
  node.forEach((row) => (columns = Math.max(columns, row.childCount)));
  if (!columns || !node.textContent.trim()) return null;
  const aligned = Array.from({ length: columns }, (_, i) => node.firstChild.maybeChild(i)?.attrs.align ?? null);
  const rows = [];
  node.forEach((row, _, n) => {
    const type = n === 0 ? nodes.table_header : nodes.table_cell;
    rows.push(
      nodes.table_row.create(
        null,
        aligned.map((align, i) => type.create({ align }, i < row.childCount ? line(row.child(i), false) : null)),
      ),
    );
  });
  return nodes.table.create(null, rows);
}

// line tidies what stands in a block of words; where it cannot break, breaks are spaces.
function line(node, breaks) {
  let parts = [];
  node.forEach((part) => {
    if (part.isText) {
      const text = part.text.replace(/[\t\n\r]/g, ' ').replace(/[\u0000-\u001f\u007f-\u009f\u2028\u2029\ufeff]/g, '');
      if (text) parts.push({ text, marks: part.marks });
    } else {
      parts.push(breaks ? { text: '\n', marks: [] } : { text: ' ', marks: part.marks }); // no mark goes over a break
    }
  });
  parts = letters(parts);
  trim(parts);
  for (const name of ['strong', 'em', 'link']) bare(parts, schema.marks[name]);
  const content = [];
  let run = null;
  const end = () => run && content.push(schema.text(run.text, run.marks));
  for (const { text, marks } of parts) {
    if (text === '\n') {
      end();
      run = null;
      content.push(nodes.hard_break.create(null, null, marks));
    } else if (run && Mark.sameSet(run.marks, marks)) {
      run.text += text;
    } else {
      end();
      run = { text, marks };
    }
  }
  end();
  return Fragment.fromArray(content);
}

// letters takes words apart, so that each letter has its own marks.
const letters = (parts) => parts.flatMap(({ text, marks }) => [...text].map((c) => ({ text: c, marks })));

const blank = (c) => /\s/.test(c);

// trim takes off spaces at both ends, and around breaks.
function trim(parts) {
  const kept = [];
  for (const part of parts) {
    if (part.text === '\n') {
      while (kept.length && blank(kept.at(-1).text) && kept.at(-1).text !== '\n') kept.pop();
      if (kept.length) kept.push(part);
    } else if (!blank(part.text) || (kept.length && kept.at(-1).text !== '\n')) {
      kept.push(part);
    }
  }
  while (kept.length && blank(kept.at(-1).text)) kept.pop();
  parts.splice(0, parts.length, ...kept);
}

// bare takes a mark off the spaces and breaks at the ends of each stretch that has it.
function bare(parts, type) {
  let from = 0;
  while (from < parts.length) {
    const mark = type.isInSet(parts[from].marks);
    let to = from + 1;
    if (!mark) {
      from = to;
      continue;
    }
    while (to < parts.length && mark.isInSet(parts[to].marks)) to++;
    for (let i = from; i < to && blank(parts[i].text); i++) parts[i].marks = mark.removeFromSet(parts[i].marks);
    for (let i = to - 1; i >= from && blank(parts[i].text); i--) parts[i].marks = mark.removeFromSet(parts[i].marks);
    from = to;
  }
}
