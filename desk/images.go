package desk

import (
	"fmt"

	"mivlet/core/fit"
	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/store"
)

// cutImage is the image of a picture where it stands on a page, with its cuts made;
// address tells where each of them will be found, and may note it.
func (d *Desk) cutImage(n *snapshot, s page.Stand, address func(store.Picture, store.Cut) string) (page.Image, error) {
	pic, r := n.pictures[s.Picture], n.house.Rules
	if !s.Known {
		return page.Image{}, refuse(Bad, fmt.Sprintf("There is no slot %q any more.", s.Placement.Slot), "Choose another one for the picture.")
	}
	at := func(c store.Cut) string { return address(pic, c) }
	cuts, err := d.cutsFor(n, pic, s.Slot)
	if err != nil {
		return page.Image{}, err
	}
	m := imageOf(cuts, s.Place.Sizes(), AltOf(s.Placement, pic), at)
	if s.Kind == page.Strip {
		m.Sizes = fmt.Sprintf("%dpx", cuts[0].CSSWidth)
	}
	if s.Link.Leads(r) == rules.EnlargeLink {
		large, err := d.cutsFor(n, pic, enlarged(r))
		if err != nil {
			return m, err
		}
		l := imageOf(large, "100vw", m.Alt, at)
		m.Large = &l
	}
	return m, nil
}

// cutsFor are the cuts of a picture for a slot as a snapshot has them, or made now.
func (d *Desk) cutsFor(n *snapshot, pic store.Picture, slot rules.Slot) ([]store.Cut, error) {
	if made := n.madeFor(pic, slot); len(made) > 0 {
		return made, nil
	}
	return d.cutsUnder(n.house.Rules, pic, slot)
}

// enlarged is the slot of a picture that was opened over its page: as large as the
// house says, whole.
func enlarged(r rules.Rules) rules.Slot {
	return rules.Slot{ID: "enlarged", Title: "Enlarged", Width: r.Placing.Enlarged, Height: r.Placing.Enlarged, Inside: true, Densities: []float64{1}, Budget: 700_000}
}

// imageOf lets a browser choose from cuts.
func imageOf(cuts []store.Cut, sizes, alt string, address func(store.Cut) string) page.Image {
	first := cuts[0]
	m := page.Image{Src: address(first), Width: first.Width, Height: first.Height, Alt: alt}
	if len(cuts) > 1 {
		var cs []fit.Candidate
		for _, c := range cuts {
			cs = append(cs, fit.Candidate{URL: address(c), Width: c.Width})
		}
		m.SrcSet, m.Sizes = fit.SrcSet(cs), sizes
	}
	return m
}
