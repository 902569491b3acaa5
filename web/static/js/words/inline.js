// The words within a block, as CommonMark. Marks open and close where the standard lets them
// (0.31, 6.2, emphasis): a delimiter stands between a letter and a sign only where the letter
// outside is written by its number, which counts as a sign.
import { schema } from './schema.js';

const { link, strong } = schema.marks;

// inline returns the text of a block; a break is a backslash at the end of its line.
export function inline(node) {
  const w = new Writer(node);
  node.forEach((part, _, n) => {
    w.to(part.marks, n);
    if (part.isText) w.text(part.text, node.maybeChild(n + 1));
    else w.put('\\\n');
  });
  w.to([], node.childCount);
  return w.out;
}

const letter = (c) => /[\p{L}\p{N}\p{M}]/u.test(c);
const blank = (c) => /\s/.test(c);
const sign = (c) => /[!-/:-@[-`{-~]/.test(c); // to every reader; of others beyond ASCII some say so
const number = (c) => `&#${c.codePointAt(0)};`;

class Writer {
  out = '';
  open = []; // marks, the outermost first
  last = ''; // the last letter, where it was written as itself; else empty
  begun = false; // whether a mark has just been opened
  numbered = false; // whether the next letter is written by its number
  constructor(node) {
    this.node = node;
    this.heading = node.type.name === 'heading';
    // A bar parts cells; below a break it could make a table of two lines.
    this.bars = /^table_/.test(node.type.name) || node.children.some((part) => !part.isText);
    this.slant = node.children.some((part) => strong.isInSet(part.marks)) ? '_' : '*';
  }

  // to closes and opens marks, so that those of the n-th part are open.
  to(marks, n) {
    let keep = this.open.findIndex((o) => !o.isInSet(marks));
    if (keep < 0) keep = this.open.length;
    if (marks.some((m) => m.type === link && !m.isInSet(this.open))) keep = 0; // a link is within no other mark
    while (this.open.length > keep) this.close(this.open.pop());
    const far = (mark) => {
      if (mark.type === link) return Infinity;
      let to = n;
      while (to < this.node.childCount && mark.isInSet(this.node.child(to).marks)) to++;
      return to;
    };
    const missing = marks.filter((m) => !m.isInSet(this.open)).sort((a, b) => far(b) - far(a));
    missing.forEach((mark, i) => this.begin(mark, i === missing.length - 1 ? this.node.child(n).text : ''));
  }

  begin(mark, within) {
    this.open.push(mark);
    if (mark.type === link) return this.put('[');
    const delimiter = mark.type === strong ? '**' : this.slant;
    const open = this.last && !blank(this.last) && !sign(this.last);
    // One letter alone may yet be written by its number.
    const [first, second] = within;
    if (open && (delimiter === '_' || !second || !letter(first))) this.renumber();
    this.put(delimiter);
    this.begun = true;
  }

  close(mark) {
    if (mark.type === link) return this.put(`](${address(mark.attrs.href)})`);
    const delimiter = mark.type === strong ? '**' : this.slant;
    if (this.last && blank(this.last)) this.renumber();
    const plain = this.last && letter(this.last) && delimiter !== '_';
    this.put(delimiter);
    this.numbered = !plain;
  }

  // renumber writes the last letter once more, by its number.
  renumber() {
    this.out = this.out.slice(0, -this.last.length) + number(this.last);
    this.last = '';
  }

  put(text) {
    this.out += text;
    this.last = '';
    this.begun = this.numbered = false;
  }

  text(text, next) {
    const letters = [...text];
    letters.forEach((c, i) => {
      // A backslash before the one that breaks a line is read in more than one way.
      const breaks = c === '\\' && i === letters.length - 1 && next && !next.isText;
      const byNumber = breaks || (blank(c) ? this.begun : this.numbered && !sign(c));
      const within = i > 1 && i + 2 < letters.length && letter(letters[i - 1]) && letter(letters[i + 1]);
      const written = byNumber ? number(c) : this.escaped(c, letters[i + 1] ?? '', within, next);
      this.put(written);
      if (written === c) this.last = c;
    });
  }

  // escaped returns a letter as it may stand before another, or before the part that is next.
  // Within a word, and beside none that may be written by its number, an underscore is one.
  escaped(c, after, within, next) {
    const line = this.out.slice(this.out.lastIndexOf('\n') + 1);
    const escape =
      /[\\`*[\]<]/.test(c) ||
      (c === '_' && !within) ||
      (c === '&' && /[#\p{L}]/u.test(after || 'a')) ||
      (c === '!' && !after && next) ||
      (c === '|' && this.bars) ||
      (c === '#' && this.heading) ||
      (line === '' && /[#>+\-=~:]/.test(c)) ||
      (/[.)]/.test(c) && /^\d{1,9}$/.test(line)); // that would begin a list
    return escape ? `\\${c}` : c;
  }
}

// address is where a link leads, as it may stand within parentheses.
function address(href) {
  const safe = href.replace(/[\\<>\s|]/g, (c) => encodeURIComponent(c));
  return /[()*_[\]&]/.test(safe) ? `<${safe.replace(/&(?=[#\w]+;)/g, '&amp;')}>` : safe;
}
