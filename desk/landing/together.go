package landing

import (
	"slices"

	"mivlet/core/page"
	"mivlet/desk/access"
	"mivlet/desk/pages"
)

// Together has the pictures that stand one below the other around a block stand together: in
// pairs or in one strip (see [page.Doc.Together]). It returns where the picture of the block stands
// now. One undo has them stand alone again.
func (d *Desk) Together(pageID uint, block string, kind page.Kind) (at Place, err error) {
	if err := d.pages.MayWorkOn(pageID); err != nil {
		return at, err
	}
	steps := map[page.Kind]string{page.Pair: "Put pictures into pairs", page.Strip: "Put pictures into a strip"}
	if steps[kind] == "" {
		return at, access.Refuse(access.Bad, "Pictures cannot stand together like that.", "Choose pairs or a strip.")
	}
	return at, d.pages.Edit(pageID, pages.Newest, steps[kind], func(doc page.Doc) (page.Doc, error) {
		run := doc.Run(block)
		if len(run) < 2 {
			return doc, access.Refuse(access.Missing, "Fewer than two pictures stand one below the other here now.", "Look again: somebody has moved them.")
		}
		was := slices.IndexFunc(run, func(b page.Block) bool { return b.ID == block })
		at = Place{run[0].ID, was}
		if kind == page.Pair {
			at = Place{run[was-was%2].ID, was % 2}
		}
		doc, err := doc.Together(block, kind, d.Rules())
		if err != nil {
			return doc, access.Because(access.Bad, "They cannot stand together like that.", "The house rules have no slot for it.", err)
		}
		return doc, nil
	})
}
