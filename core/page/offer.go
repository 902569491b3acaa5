package page

import (
	"math"

	"mivlet/core/layout"
	"mivlet/core/rules"
)

// Waiting returns a block of a kind with places that wait for pictures, for the slots of the
// house that suit it best.
func Waiting(kind Kind, r rules.Rules) Block {
	b := Block{Kind: kind}
	place := Placement{Side: None, Slot: r.FirstSlot(rules.Slot.Stands)}
	switch kind {
	case Beside:
		room := r.TextWidth() - layout.MinimumBeside
		place.Side, place.Slot = Left, r.FirstSlot(func(s rules.Slot) bool { return s.Stands() && s.Width <= room })
	case Pair:
		b.Pictures = []Placement{place, place}
		return b
	case Strip:
		place.Slot = r.FirstSlot(func(s rules.Slot) bool { return s.Kind() == rules.ByHeight })
		b.Pictures = []Placement{place, place, place}
		return b
	}
	b.Placement = &place
	return b
}

// Offer is what a block with pictures would be in a gap: how large each picture stands there on
// a desktop, in CSS px, and with how many pixels it is sharp on every screen. One of the two
// lengths is 0 where the other rules.
type Offer struct {
	Kind       Kind
	Wide, High int
	Sharp      int // pixels along the length that rules
}

// Offers are the blocks with pictures that a gap can take.
func (d Doc) Offers(r rules.Rules, at Gap) []Offer {
	var all []Offer
	for _, kind := range []Kind{Picture, Beside, Pair, Strip} {
		b := Waiting(kind, r)
		b.ID = "offered"
		tried, err := d.InsertAt(at, b)
		if err != nil {
			continue
		}
		if s, ok := tried.Stand(r, b.ID, 0); ok {
			all = append(all, s.Offer())
		}
	}
	return all
}

// Offer is how large a picture stands in a place.
func (s Stand) Offer() Offer {
	o := Offer{Kind: s.Kind}
	ruling := &o.Wide
	if s.Kind == Strip || s.Slot.Kind() == rules.ByHeight {
		ruling, o.High = &o.High, s.Slot.Height
	} else {
		o.Wide = int(math.Round(s.Place.Width(layout.Desktop.Viewport())))
	}
	o.Sharp = int(math.Round(float64(*ruling) * s.Slot.Sharpest()))
	return o
}
