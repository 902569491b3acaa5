// The editor of words: a block is written where it stands, as it will look. What is written
// goes into the text field beneath, as CommonMark; that field is what is kept and sent.
import {
  EditorState,
  EditorView,
  TextSelection,
  baseKeymap,
  chainCommands,
  goToNextCell,
  history,
  keymap,
  liftListItem,
  redo,
  sinkListItem,
  splitListItem,
  tableEditing,
  toggleMark,
  undo,
} from '../../vendor/prosemirror.min.js';
import { schema } from './schema.js';
import { read, readCaption, write, writeCaption } from './commonmark.js';
import { bar } from './bar.js';
import { link } from './link.js';
import { paste } from './paste.js';
import { rules } from './rules.js';

const { nodes, marks } = schema;

// mount puts the editor in the place of a text field. It returns null where the text has what
// words cannot hold; then the field stays. point is where the hand was, in CSS px of the
// window, to begin there. A caption is one line: what makes paragraphs is not for it.
export function mount(field, point) {
  const line = field.dataset.words === 'caption';
  const doc = (line ? readCaption : read)(field.value);
  if (!doc) return null;
  const form = field.form,
    place = document.createElement('div');
  place.className = 'words-editor';
  field.before(place);
  field.hidden = true;
  let kept = field.defaultValue; // a draft that was picked up differs from it already
  const links = link(form);
  const view = new EditorView(place, {
    state: EditorState.create({
      doc,
      plugins: [
        ...(line ? [] : [rules()]),
        keymap({
          'Mod-b': toggleMark(marks.strong),
          'Mod-i': toggleMark(marks.em),
          'Mod-k': (_, __, v) => links.open(v),
          'Mod-z': undo,
          'Mod-y': redo,
          'Shift-Mod-z': redo,
          Escape: (_, __, v) => leave(v, form),
          ...(line ? { Enter: (_, __, v) => leave(v, form), 'Shift-Enter': () => true } : paragraphs),
        }),
        keymap(baseKeymap),
        history(),
        ...(line ? [] : [tableEditing()]),
        bar(form, links, line),
        paste(form),
      ],
    }),
    attributes: { role: 'textbox', 'aria-multiline': String(!line), 'aria-label': field.getAttribute('aria-label') },
    dispatchTransaction(tr) {
      this.updateState(this.state.apply(tr));
      if (!tr.docChanged) return;
      const text = (line ? writeCaption : write)(this.state.doc);
      if (text === field.value) return;
      field.value = text;
      field.dispatchEvent(new Event('input', { bubbles: true }));
    },
    handleClickOn: (_, __, ___, ____, e) => {
      if (e.target.closest?.('a')) e.preventDefault(); // it is written here, not followed
    },
  });
  // Whoever leaves the form has it sent, if anything was changed.
  form.addEventListener('focusout', (e) => {
    if (form.contains(e.relatedTarget)) return;
    setTimeout(() => {
      if (!form.isConnected || form.contains(document.activeElement)) return;
      if (field.value !== kept) {
        kept = field.value;
        field.dispatchEvent(new Event('change', { bubbles: true }));
      } else if (
        !e.relatedTarget?.matches('a, button, input, select, textarea, summary') &&
        !form.querySelector('.clash')
      ) {
        form.dispatchEvent(new CustomEvent('unchanged', { bubbles: true }));
      }
    });
  });
  begin(view, point);
  return view;
}

// What makes and leaves paragraphs, items of lists and cells of tables.
const paragraphs = {
  Enter: chainCommands(splitListItem(nodes.list_item), baseKeymap.Enter),
  'Shift-Enter': breakLine,
  Tab: chainCommands(goToNextCell(1), sinkListItem(nodes.list_item)),
  'Shift-Tab': chainCommands(goToNextCell(-1), liftListItem(nodes.list_item)),
};

// begin puts the hand where it clicked, else to the end.
function begin(view, point) {
  const at = point && view.posAtCoords({ left: point.x, top: point.y });
  const { doc } = view.state;
  const chosen = at ? TextSelection.near(doc.resolve(at.pos)) : TextSelection.atEnd(doc);
  view.dispatch(view.state.tr.setSelection(chosen));
  view.focus();
}

function breakLine(state, dispatch) {
  if (state.selection.$from.parent.type !== nodes.paragraph) return true;
  dispatch?.(state.tr.replaceSelectionWith(nodes.hard_break.create()).scrollIntoView());
  return true;
}

// leave gives the hand back to the page.
function leave(view, form) {
  view.dom.blur();
  form.dispatchEvent(new CustomEvent('left', { bubbles: true }));
  return true;
}
