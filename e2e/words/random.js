// Documents by chance: any that the editor's schema allows, with the letters that CommonMark
// gives a meaning to more often than others. Runs in the browser, beside the editor's own
// modules, which are given to it.
(schema, seed) => {
  let state = seed >>> 0;
  const next = () => {
    // mulberry32 (public domain)
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
  const below = (n) => Math.floor(next() * n),
    pick = (list) => list[below(list.length)],
    times = (least, most, make) => Array.from({ length: least + below(most - least + 1) }, make);
  const letters = [
    ...'abcdefgh  xyz019 ',
    ...'*_`[]()<>!&#+-=~:;.|\\"\'/{}$%^@,?',
    ...'äßçñ',
    ...'é€—“”\u00a0日本😀±',
  ];
  const pieces = [
    '1. ',
    '- ',
    '+ ',
    '12) ',
    '# ',
    '> ',
    '---',
    '***',
    '&amp;',
    '&#35;',
    '![',
    '](',
    '<b>',
    '``',
    '~~~',
    ' | ',
    ':-:|',
    'word ',
    'a.b',
    '\\',
    '  ',
    '=',
  ];
  const text = () =>
    times(1, 6, () => (next() < 0.3 ? pick(pieces) : times(1, 5, () => pick(letters)).join(''))).join('');
  const marks = () => {
    const set = [];
    if (next() < 0.3) set.push(schema.marks.strong.create());
    if (next() < 0.3) set.push(schema.marks.em.create());
    if (next() < 0.15)
      set.push(
        schema.marks.link.create({
          href: pick(['https://example.org/a_(b)?c=1&d=2', '/touring/autumn', '#top', 'mailto:a@example.org']),
        }),
      );
    return set.reduce((all, m) => m.addToSet(all), []);
  };
  const inline = (breaks) =>
    times(0, 5, () =>
      breaks && next() < 0.15 ? schema.nodes.hard_break.create(null, null, marks()) : schema.text(text(), marks()),
    );
  const { nodes } = schema;
  const paragraph = (top) =>
    nodes.paragraph.create(top && next() < 0.3 ? { style: pick(['lead', 'small', 'note']) } : null, inline(true));
  const list = (depth) => {
    const ordered = next() < 0.5;
    return (ordered ? nodes.ordered_list : nodes.bullet_list).create(
      ordered ? { order: pick([1, 1, 0, 3, 99]), tight: next() < 0.6 } : { tight: next() < 0.6 },
      times(1, 3, () =>
        nodes.list_item.create(null, [
          paragraph(false),
          ...times(0, depth ? 2 : 0, () =>
            pick([() => paragraph(false), () => list(depth - 1), () => quote(depth - 1)])(),
          ),
        ]),
      ),
    );
  };
  const quote = (depth) =>
    nodes.blockquote.create(
      null,
      times(1, 3, () => block(depth, false)),
    );
  const table = () => {
    const columns = 1 + below(3),
      aligned = times(columns, columns, () => pick([null, null, 'left', 'right', 'center']));
    return nodes.table.create(
      null,
      times(1, 3, () => 0).map((_, n) =>
        nodes.table_row.create(
          null,
          aligned.map((align) => (n ? nodes.table_cell : nodes.table_header).create({ align }, inline(false))),
        ),
      ),
    );
  };
  const block = (depth, top) => {
    const kinds = [
      () => paragraph(top),
      () => paragraph(top),
      () => nodes.heading.create({ level: 2 + below(3) }, inline(false)),
      () => nodes.horizontal_rule.create(),
      table,
    ];
    if (depth > 0)
      kinds.push(
        () => list(depth - 1),
        () => list(depth - 1),
        () => quote(depth - 1),
      );
    return pick(kinds)();
  };
  return () =>
    nodes.doc.create(
      null,
      times(1, 5, () => block(2, true)),
    );
};
