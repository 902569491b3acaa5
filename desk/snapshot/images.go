package snapshot

import (
	"fmt"

	"mivlet/core/fit"
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
	m := imageOf(made, sizes, alt, at)
	if derive.Moves(pic, slot) {
		still, err := d.image(n, pic, slot.Still(), sizes, alt, at)
		m.Still = &still
		return m, err
	}
	m.Lighter, err = d.lighter(n, pic, slot, made, at)
	return m, err
}

// lighter are the files in other formats that the house offers beside a JPEG, where they weigh less.
func (d *Desk) lighter(n *Snapshot, pic store.Picture, slot rules.Slot, made []store.Cut, at func(store.Cut) string) (all []page.Lighter, err error) {
	if made[0].MediaType != "image/jpeg" {
		return nil, nil
	}
	for _, format := range n.House.Rules.Placing.Lighter {
		others, err := d.CutsFor(n, pic, slot.As(format))
		if err != nil {
			return nil, err
		}
		if cuts.Weight(others) < cuts.Weight(made) {
			all = append(all, page.Lighter{MediaType: others[0].MediaType, SrcSet: srcSet(others, at)})
		}
	}
	return all, nil
}

// srcSet lists cuts for a browser's choice.
func srcSet(made []store.Cut, address func(store.Cut) string) string {
	cs := make([]fit.Candidate, len(made))
	for i, c := range made {
		cs[i] = fit.Candidate{URL: address(c), Width: c.Width}
	}
	return fit.SrcSet(cs)
}

// CutsFor are the cuts of a picture for a slot as a snapshot has them, or made now.
func (d *Desk) CutsFor(n *Snapshot, pic store.Picture, slot rules.Slot) ([]store.Cut, error) {
	if made := n.MadeFor(pic, slot); len(made) > 0 {
		return made, nil
	}
	return d.cuts.CutsUnder(n.House.Rules, pic, slot)
}

// imageOf lets a browser choose from cuts. Who chooses none takes the one for a usual desktop.
func imageOf(made []store.Cut, sizes, alt string, address func(store.Cut) string) page.Image {
	usual := cuts.Loaded(made, float64(made[0].CSSWidth), 1)
	m := page.Image{Src: address(usual), Width: usual.Width, Height: usual.Height, Alt: alt}
	if len(made) > 1 {
		m.SrcSet, m.Sizes = srcSet(made, address), sizes
	}
	return m
}

// AltOf is the description of a picture where it stands: the one of the place,
// else the usual one; nothing where it is decorative.
func AltOf(at page.Placement, pic store.Picture) string {
	return at.Said(pic.Work.Alt, pic.Work.Decorative)
}
