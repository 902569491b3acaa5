package page

import (
	"slices"

	"mivlet/core/layout"
	"mivlet/core/rules"
)

// BandLayout is the measures of a band. What is nil or 0 is as its pattern and the
// house have it. Lengths are CSS px.
type BandLayout struct {
	Pattern string          `json:"pattern"`           // of the house: how it is divided into columns
	Cap     int             `json:"cap,omitempty"`     // widest content with its padding
	Gutter  *layout.Lengths `json:"gutter,omitempty"`  // between columns
	Padding *layout.Lengths `json:"padding,omitempty"` // at the left and at the right
	Above   *layout.Lengths `json:"above,omitempty"`   // space before its content
	Below   *layout.Lengths `json:"below,omitempty"`   // space after it
	Ground  Ground          `json:"ground,omitempty"`  // its colour
	Order   []int           `json:"order,omitempty"`   // of the columns on a phone, counted from 0
	// Background is a picture behind it; nil is none.
	Background *Background `json:"background,omitempty"`
}

// Ground is the colour of a band.
type Ground string

// The grounds. Text keeps a contrast of at least 7:1 on each.
const (
	Paper Ground = ""     // white
	Mist  Ground = "mist" // a light tint
	Deep  Ground = "deep" // dark, with light text
)

// Grounds lists all grounds in the order they are offered.
var Grounds = []Ground{Paper, Mist, Deep}

// Spread is a band with what stands in it. The blocks before the first band of a
// page are one, too: its ID is empty, and wide pictures reach out of its text.
type Spread struct {
	ID      string
	Frame   *BandLayout // nil before the first band
	Columns [][]Block
}

// Spreads returns the page's bands in order. A page that begins with a band has
// no empty one before it; one without any block has one.
func (d Doc) Spreads(r rules.Rules) []Spread {
	all := []Spread{{Columns: make([][]Block, 1)}}
	for _, b := range d.Blocks {
		if b.Kind == Band {
			all = append(all, Spread{b.ID, b.Band, make([][]Block, columnsOf(r, b.Band))})
			continue
		}
		s := &all[len(all)-1]
		c := min(b.Column, len(s.Columns)-1)
		s.Columns[c] = append(s.Columns[c], b)
	}
	if len(all) > 1 && len(all[0].Columns[0]) == 0 {
		return all[1:]
	}
	return all
}

func columnsOf(r rules.Rules, f *BandLayout) int {
	return len(patternOf(r, f).Shares)
}

// patternOf is the pattern of a band; one column where the house has it no more.
func patternOf(r rules.Rules, f *BandLayout) rules.Pattern {
	if f != nil {
		if p, ok := r.Pattern(f.Pattern); ok && len(p.Shares) > 0 {
			return p
		}
	}
	return rules.Pattern{ID: "wide", Shares: []float64{1}}
}

// Section returns the band ready for the arithmetic.
func (f *BandLayout) Section(r rules.Rules) layout.Band {
	p := patternOf(r, f)
	if f.Cap > 0 {
		p.Cap = f.Cap
	}
	s := r.SectionOf(p)
	if f.Gutter != nil {
		s.Gutter = *f.Gutter
	}
	if f.Padding != nil {
		s.Padding = *f.Padding
	}
	return s
}

// StackedOrder is the order of the columns on a phone.
func (f *BandLayout) StackedOrder(r rules.Rules) []int {
	if p := patternOf(r, f); len(f.Order) != len(p.Shares) {
		return p.Order
	}
	return f.Order
}

// bandOf returns the band that the block at a position stands in; nil before the
// first.
func (d Doc) bandOf(index int) *BandLayout {
	for _, b := range slices.Backward(d.Blocks[:index]) {
		if b.Kind == Band {
			return b.Band
		}
	}
	return nil
}

// Stand is one picture of a page and where it stands.
type Stand struct {
	Block string // the block that holds it
	Kind  Kind   // of that block
	Nth   int    // which of the block's pictures, counted from 0
	Placement
	Place layout.Place
	Slot  rules.Slot // as it is here: as wide as the place gets
	Known bool       // false where the house has the slot no more
	Flow  bool       // it stands before the first band, where room is wider than the text
	House rules.Slot // the slot as the house has it
	// Beyond tells that it is in an album which shows fewer thumbnails: it is only enlarged.
	Beyond bool
	sizes  string // for a browser's choice, where its place alone does not say
}

// Stands returns every picture of the page, and every place that waits for one,
// in reading order, with where it stands by the rules of the house.
func (d Doc) Stands(r rules.Rules) []Stand {
	var all []Stand
	for i, b := range d.Blocks {
		for n := range b.Holds() {
			all = append(all, standOf(r, d.bandOf(i), b, n))
		}
	}
	return all
}

// Stand returns where the nth picture of a block stands.
func (d Doc) Stand(r rules.Rules, block string, n int) (Stand, bool) {
	i := d.index(block)
	if i < 0 || n < 0 || n >= len(d.Blocks[i].Holds()) {
		return Stand{}, false
	}
	return standOf(r, d.bandOf(i), d.Blocks[i], n), true
}

// standOf works out where a picture stands. The file is made for the widest that
// the place gets: on a phone a stacked column can be wider than on a desktop.
func standOf(r rules.Rules, band *BandLayout, b Block, n int) Stand {
	p := b.Holds()[n]
	if b.Kind == Album {
		return albumStand(r, band, b, n)
	}
	s := Stand{Block: b.ID, Kind: b.Kind, Nth: n, Placement: p, Flow: band == nil && b.Kind == Picture}
	s.House, s.Known = r.Slot(p.Slot)
	s.Slot = s.House
	if b.Kind == Strip {
		s.Place = layout.Place{Rule: layout.Rule{Fixed: s.Slot.Width}}
		return s
	}
	switch {
	case band != nil:
		s.Place = layout.Place{Section: band.Section(r), Column: b.Column, Rule: slotRule(s.House, band.Pattern)}
		s.Place.Column = min(b.Column, len(s.Place.Section.Shares)-1)
	case p.Rule != nil || b.Kind == Pair || b.Kind == Beside:
		s.Place = layout.Place{Section: r.Text(), Rule: slotRule(s.House, "")}
	default:
		s.Place = r.Place(s.House)
	}
	if p.Rule != nil {
		s.Place.Rule = *p.Rule
	}
	if b.Kind == Pair {
		s.Place.Rule = layout.Rule{}
		s.Place.Parts, s.Place.Between = len(b.Pictures), layout.Same(PairGap)
	}
	if p.Air != nil {
		s.Place.Rule.Inset = p.Air.Left + p.Air.Right
	}
	if s.Slot.Stands() {
		s.Slot.Width = s.Place.Fullest()
		s.Slot = s.Slot.ForScreens(s.Place.Width)
	}
	return s
}

// slotRule is how wide a slot's picture is in a column of a pattern: as its rule
// says where it follows from that pattern, else as wide as it is.
func slotRule(s rules.Slot, pattern string) layout.Rule {
	if s.Kind() == rules.ByColumn && s.Pattern == pattern {
		return s.Rule
	}
	return layout.Rule{Fixed: s.Width}
}

// ShownWidth is how wide the picture is at a viewport, in CSS px. cut is how wide
// its cut is meant to be shown, which rules where the slot's height does.
func (s Stand) ShownWidth(viewport, cut int) float64 {
	switch {
	case s.Kind == Strip:
		return float64(cut)
	case s.Kind == Album && s.sizes == "": // in rows
		return float64(cut) * float64(rowBest.Desktop) / rowMost
	}
	return s.Place.Width(viewport)
}
