package snapshot

import (
	"fmt"

	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/desk/cuts"
	"mivlet/desk/derive"
	"mivlet/store"
)

// CutImage is the image of a picture where it stands on a page, with its cuts made;
// address tells where each of them will be found, and may note it.
func (d *Desk) CutImage(n *Snapshot, s page.Stand, address func(store.Picture, store.Cut) string) (page.Image, error) {
	pic, r := n.Pictures[s.Picture], n.House.Rules
	if !s.Known {
		return page.Image{}, access.Refuse(access.Bad, fmt.Sprintf("There is no slot %q any more.", s.Placement.Slot), "Choose another one for the picture.")
	}
	at := func(c store.Cut) string { return address(pic, c) }
	if s.Kind == page.Album {
		return d.albumImage(n, pic, s, at)
	}
	m, err := d.image(n, pic, s.Slot, s.Sizes(), AltOf(s.Placement, pic), at)
	if err != nil {
		return m, err
	}
	if s.Kind == page.Strip {
		made, err := d.CutsFor(n, pic, s.Slot)
		if err != nil {
			return m, err
		}
		m.Sizes = fmt.Sprintf("%dpx", made[0].CSSWidth)
	}
	if s.Link.Leads(r) == rules.EnlargeLink {
		large, err := d.image(n, pic, page.EnlargedSlot(r), "100vw", m.Alt, at)
		m.Large = &large
		return m, err
	}
	return m, nil
}

// image is a picture in a slot, and what stands for it while it is held still, where it moves.
func (d *Desk) image(n *Snapshot, pic store.Picture, slot rules.Slot, sizes, alt string, at func(store.Cut) string) (page.Image, error) {
	made, err := d.CutsFor(n, pic, slot)
	if err != nil {
		return page.Image{}, err
	}
	m := cuts.Image(made, sizes, alt, at)
	if derive.Moves(pic, slot) {
		still, err := d.image(n, pic, slot.Still(), sizes, alt, at)
		m.Still = &still
		return m, err
	}
	lighter, err := d.lighter(n, pic, slot, made)
	m.Lighter = cuts.Lighter(lighter, at)
	return m, err
}

// CutsFor are the cuts of a picture for a slot as a snapshot has them, or made now.
func (d *Desk) CutsFor(n *Snapshot, pic store.Picture, slot rules.Slot) ([]store.Cut, error) {
	if made := n.MadeFor(pic, slot); len(made) > 0 {
		return made, nil
	}
	return d.cuts.CutsUnder(n.House.Rules, pic, slot)
}

// AltOf is the description of a picture where it stands: the one of the place,
// else the usual one; nothing where it is decorative.
func AltOf(at page.Placement, pic store.Picture) string {
	return at.Said(pic.Work.Alt, pic.Work.Decorative)
}
