package layout

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
)

// piece is a stretch of viewports over which a width is vw·viewport + px.
type piece struct {
	from, to int // to is not part of it; 0 means for ever
	vw       float64
	px       float64
}

func (p piece) at(viewport int) float64 { return p.vw*float64(viewport) + p.px }

// pieces takes the width of a place apart into straight stretches.
func (p Place) pieces() []piece {
	s := p.Section
	cuts := []int{1}
	for _, c := range []int{s.Breaks.Tablet, s.Breaks.Desktop, s.bound()} {
		if c > 1 && !slices.Contains(cuts, c) {
			cuts = append(cuts, c)
		}
	}
	slices.Sort(cuts)
	var all []piece
	for i, from := range cuts {
		to := 0
		if i+1 < len(cuts) {
			to = cuts[i+1]
		}
		all = append(all, p.split(piece{from, to, 0, 0})...)
	}
	return merged(all)
}

// split works out one stretch between two breaks. Where a fixed width or a cap
// begins to rule inside it, it becomes two.
func (p Place) split(whole piece) []piece {
	s := p.Section
	d := s.Breaks.Device(whole.from)
	share, gutters := s.share(p.Column), float64((len(s.Shares)-1)*s.Gutter.On(d))
	if d == Phone {
		share, gutters = 1, 0
	}
	// The column, while the section still grows with the screen.
	column := piece{whole.from, whole.to, share, share*(-2*float64(s.Padding.On(d))-gutters) - 2*float64(s.ColumnPadding.On(d))}
	if p.Parts > 1 {
		column.vw /= float64(p.Parts)
		column.px = (column.px - float64((p.Parts-1)*p.Between.On(d))) / float64(p.Parts)
	}
	if b := s.bound(); b > 0 && whole.from >= b {
		column.px, column.vw = column.at(b), 0
	}
	rule, room := column, column
	room.px -= float64(p.Rule.Inset)
	flat := func(px int) piece { return piece{whole.from, whole.to, 0, float64(px)} }
	switch {
	case p.Rule.Fixed > 0:
		rule = flat(p.Rule.Fixed)
	case p.Rule.Percent > 0:
		rule.vw, rule.px = column.vw*p.Rule.Percent/100, column.px*p.Rule.Percent/100
	}
	all := lower(rule, room)
	if p.Rule.Cap > 0 {
		var capped []piece
		for _, one := range all {
			capped = append(capped, lower(one, piece{one.from, one.to, 0, float64(p.Rule.Cap)})...)
		}
		all = capped
	}
	return all
}

// lower returns the lower of two straight lines over one stretch, which becomes
// two where they cross inside it.
func lower(a, b piece) []piece {
	if a.vw < b.vw {
		a, b = b, a
	}
	if a.vw == b.vw {
		a.px = math.Min(a.px, b.px)
		return []piece{a}
	}
	meet := int(math.Ceil((b.px - a.px) / (a.vw - b.vw))) // from here on b is lower
	switch {
	case meet <= a.from:
		return []piece{b}
	case a.to > 0 && meet >= a.to:
		return []piece{a}
	}
	a.to, b.from = meet, meet
	return []piece{a, b}
}

// merged joins neighbours that are one straight stretch.
func merged(all []piece) []piece {
	out := all[:1]
	for _, p := range all[1:] {
		last := &out[len(out)-1]
		if math.Abs(last.vw-p.vw) < 1e-9 && math.Abs(last.px-p.px) < 1e-9 {
			last.to = p.to
			continue
		}
		out = append(out, p)
	}
	return out
}

// Sizes returns the sizes attribute for the place (HTML Living Standard, "sizes
// attributes"): how wide the picture will be, for a browser that has not laid
// the page out yet.
func (p Place) Sizes() string { return sizesOf(p.pieces()) }

// SizesBelow is the sizes attribute of a picture that stands in one place on phones, and in
// another on wider screens, of sections with the same breaks.
func SizesBelow(phone, wider Place) string {
	tablet := wider.Section.Breaks.Tablet
	var all []piece
	for _, one := range phone.pieces() {
		if one.from < tablet {
			if one.to == 0 || one.to > tablet {
				one.to = tablet
			}
			all = append(all, one)
		}
	}
	for _, one := range wider.pieces() {
		if one.to == 0 || one.to > tablet {
			one.from = max(one.from, tablet)
			all = append(all, one)
		}
	}
	return sizesOf(merged(all))
}

func sizesOf(pieces []piece) string {
	var parts []string
	for _, s := range pieces {
		expr := s.css()
		if s.to > 0 {
			expr = fmt.Sprintf("(max-width: %dpx) %s", s.to-1, expr)
		}
		parts = append(parts, expr)
	}
	return strings.Join(parts, ", ")
}

// css writes the width of a stretch as a CSS length.
func (p piece) css() string {
	px := number(math.Abs(p.px)) + "px"
	switch {
	case p.vw == 0:
		return number(math.Max(p.px, 0)) + "px"
	case p.px == 0:
		return number(100*p.vw) + "vw"
	case p.px < 0:
		return fmt.Sprintf("calc(%svw - %s)", number(100*p.vw), px)
	}
	return fmt.Sprintf("calc(%svw + %s)", number(100*p.vw), px)
}

// number writes a figure with at most four places.
func number(v float64) string {
	return strconv.FormatFloat(math.Round(v*1e4)/1e4, 'f', -1, 64)
}

// Wide is the screen at which a place that grows for ever is taken, in CSS px
// (common practice).
const Wide = 1920

// Full returns how wide the place is on a wide desktop, which its cuts are made
// for. On a phone a stacked column can be wider by some pixels; sharp cuts have
// enough for that.
func (p Place) Full() int {
	if p.Section.bound() == 0 {
		return int(math.Round(p.Width(Wide)))
	}
	return int(math.Round(p.Width(Widest)))
}
