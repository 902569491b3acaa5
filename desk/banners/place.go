package banners

import (
	"slices"

	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/desk/pages"
)

// Place puts a spot of the house into a gap of a page. Once the page is published, banners run
// there.
func (d *Desk) Place(id uint, at page.Gap, spot string) error {
	if err := d.pages.MayWorkOn(id); err != nil {
		return err
	}
	s, ok := d.Rules().Spot(spot)
	if !ok || s.Where != rules.AsBlock {
		return access.Refuse(access.Bad, "This spot cannot be put on a page.", "Choose one that the house rules place as a block.")
	}
	b := page.Block{ID: access.NewBlock(), Kind: page.Spot, Text: s.ID}
	return d.pages.Edit(id, pages.Newest, "Added the spot "+s.Title, func(doc page.Doc) (page.Doc, error) {
		if slices.Contains(doc.Spots(), spot) {
			return doc, access.Refuse(access.Bad, "This spot stands on the page already.", "A spot stands on a page once. Move the one that is there.")
		}
		return doc.InsertAt(at, b)
	})
}
