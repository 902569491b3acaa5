// What is typed at the beginning of a line, as many write it in plain text: a hyphen makes a
// list, 1. a numbered one, > a quotation, ## a heading.
import { inputRules, textblockTypeInputRule, wrappingInputRule } from '../../vendor/prosemirror.min.js';
import { schema } from './schema.js';

const { nodes } = schema;

export const rules = () =>
  inputRules({
    rules: [
      wrappingInputRule(/^\s*[-*]\s$/, nodes.bullet_list),
      wrappingInputRule(
        /^(\d{1,3})[.)]\s$/,
        nodes.ordered_list,
        (m) => ({ order: Number(m[1]) }),
        (m, before) => before.childCount + before.attrs.order === Number(m[1]),
      ),
      wrappingInputRule(/^\s*>\s$/, nodes.blockquote),
      textblockTypeInputRule(/^(#{2,4})\s$/, nodes.heading, (m) => ({ level: m[1].length })),
    ],
  });
