// What comes in by pasting: headings, lists, links and tables as they are, everything else as
// plain words. Pictures come in by the gap behind the block, through Arrivals.
import { Fragment, Plugin, Slice } from '../../vendor/prosemirror.min.js';
import { schema } from './schema.js';

const { nodes } = schema;

export const paste = (form) =>
  new Plugin({
    props: {
      transformPastedHTML: clean,
      clipboardTextParser: plain,
      handlePaste(view, e) {
        const files = [...(e.clipboardData?.files ?? [])].filter((f) => f.type.startsWith('image/'));
        if (
          !files.length ||
          e.clipboardData
            .getData('text/html')
            .replace(/<[^>]*>/g, '')
            .trim()
        )
          return false;
        form.dispatchEvent(new CustomEvent('pictures', { bubbles: true, detail: files }));
        return true;
      },
    },
  });

// clean takes out of HTML what word processors put there, and makes lists of what only looks
// like lists.
export function clean(html) {
  const doc = new DOMParser().parseFromString(html, 'text/html');
  for (const el of doc.querySelectorAll('style, script, meta, link, title, xml, img, svg, picture, video, o\\:p'))
    el.remove();
  listsOf(doc);
  styled(doc);
  for (const cell of doc.querySelectorAll('td, th')) {
    cell.removeAttribute('colspan');
    cell.removeAttribute('rowspan');
    // A cell holds words and no paragraphs.
    for (const br of cell.querySelectorAll('br')) br.replaceWith(' ');
    for (const block of cell.querySelectorAll('p, div, li, h1, h2, h3, h4, h5, h6')) block.append(' ');
    for (const block of [...cell.querySelectorAll('p, div, ul, ol, li, h1, h2, h3, h4, h5, h6')])
      block.replaceWith(...block.childNodes);
  }
  for (const h of doc.querySelectorAll('h1, h5, h6')) {
    const level = doc.createElement(h.tagName === 'H1' ? 'h2' : 'h4');
    level.append(...h.childNodes);
    h.replaceWith(level);
  }
  for (const a of doc.querySelectorAll('a[href]'))
    if (!/^(https?:|mailto:|tel:|[/#])/i.test(a.getAttribute('href'))) a.replaceWith(...a.childNodes);
  return doc.body.innerHTML;
}

// styled makes strong and slanted what only styles say so of, and takes all styles out.
function styled(doc) {
  for (const el of doc.body.querySelectorAll('[style]')) {
    const style = el.getAttribute('style');
    el.removeAttribute('style');
    const weight = /font-weight:\s*(\w+)/i.exec(style)?.[1];
    if (/^(b|strong)$/i.test(el.tagName) && /^(normal|[1-4]00)$/.test(weight)) {
      el.replaceWith(...el.childNodes);
      continue;
    }
    if (/^(bold(er)?|[6-9]00)$/.test(weight)) within(el, 'strong');
    if (/font-style:\s*(italic|oblique)/i.test(style)) within(el, 'em');
  }
}

// within puts what is in an element into another within it.
function within(el, tag) {
  const inner = el.ownerDocument.createElement(tag);
  inner.append(...el.childNodes);
  el.append(inner);
}

// listsOf finds paragraphs that a word processor marks as items of a list, and makes one.
function listsOf(doc) {
  const items = [...doc.querySelectorAll('p[class*="MsoList"], p[style*="mso-list"]')];
  for (const p of items) {
    for (const sign of p.querySelectorAll('[style*="mso-list:Ignore"], [style*="mso-list: Ignore"]')) sign.remove();
    const numbered = /^\s*\(?(\d+|[a-z])[.)]\s*/i,
      sign = /^[\s\u00a0]*[·•§o\u2022\u25cf\u25aa-][\s\u00a0]+/,
      was = p.textContent,
      ordered = numbered.test(was) && !sign.test(was);
    const first = firstText(p);
    if (first) first.data = first.data.replace(ordered ? numbered : sign, '');
    const item = doc.createElement('li');
    item.append(...p.childNodes);
    const before = p.previousElementSibling,
      kind = ordered ? 'OL' : 'UL';
    if (before?.tagName === kind && before.dataset.made) {
      before.append(item);
      p.remove();
    } else {
      const list = doc.createElement(kind);
      list.dataset.made = 'yes';
      list.append(item);
      p.replaceWith(list);
    }
  }
}

const firstText = (el) => document.createTreeWalker(el, NodeFilter.SHOW_TEXT).nextNode();

// plain makes paragraphs of a plain text: at empty lines, and where a line ends early. A line
// that goes to the margin, as in an e-mail, goes on.
function plain(text) {
  const paragraphs = text
    .replaceAll('\r\n', '\n')
    .split(/\n{2,}/)
    .map((part) => {
      const content = [];
      const lines = part.split('\n');
      lines.forEach((line, i) => {
        if (i > 0) content.push(lines[i - 1].length > 55 ? schema.text(' ') : nodes.hard_break.create());
        if (line) content.push(schema.text(line));
      });
      return nodes.paragraph.create(null, content);
    });
  return new Slice(Fragment.fromArray(paragraphs), 1, 1);
}
