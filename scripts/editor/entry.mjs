// What the scripts of Mivlet use of the editor's libraries, and nothing else of them.
export { EditorState, Plugin, TextSelection } from 'prosemirror-state';
export { EditorView } from 'prosemirror-view';
export { DOMParser, DOMSerializer, Fragment, Mark, Node, Schema, Slice } from 'prosemirror-model';
export { baseKeymap, chainCommands, setBlockType, toggleMark, lift, wrapIn } from 'prosemirror-commands';
export { history, undo, redo } from 'prosemirror-history';
export { keymap } from 'prosemirror-keymap';
export { inputRules, InputRule, textblockTypeInputRule, wrappingInputRule } from 'prosemirror-inputrules';
export { liftListItem, sinkListItem, splitListItem, wrapInList } from 'prosemirror-schema-list';
export { MarkdownParser } from 'prosemirror-markdown';
export {
  addColumnAfter,
  addRowAfter,
  deleteColumn,
  deleteRow,
  deleteTable,
  goToNextCell,
  isInTable,
  tableEditing,
} from 'prosemirror-tables';
export { default as MarkdownIt } from 'markdown-it';
