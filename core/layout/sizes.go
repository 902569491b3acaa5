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
	if b := s.bound(); b > 0 && whole.from >= b {
		column.px, column.vw = column.at(b), 0
	}
	rule := column
	limit := math.Inf(1)
	switch {
	case p.Rule.Fixed > 0:
		limit = float64(p.Rule.Fixed)
	case p.Rule.Percent > 0:
		rule.vw, rule.px = column.vw*p.Rule.Percent/100, column.px*p.Rule.Percent/100
	}
	if p.Rule.Cap > 0 {
		limit = math.Min(limit, float64(p.Rule.Cap))
	}
	return rule.limited(limit)
}

// limited holds a stretch below a limit.
func (p piece) limited(limit float64) []piece {
	flat := piece{p.from, p.to, 0, limit}
	if math.IsInf(limit, 1) {
		return []piece{p}
	}
	if p.vw <= 0 {
		return []piece{{p.from, p.to, 0, math.Min(p.px, limit)}}
	}
	meet := int(math.Ceil((limit - p.px) / p.vw)) // from here on the limit rules
	switch {
	case meet <= p.from:
		return []piece{flat}
	case p.to > 0 && meet >= p.to:
		return []piece{p}
	}
	return []piece{{p.from, meet, p.vw, p.px}, {meet, p.to, 0, limit}}
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
func (p Place) Sizes() string {
	var parts []string
	for _, s := range p.pieces() {
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

// usual is the screen at which a place that grows for ever is taken, in CSS px
// (common practice).
const usual = 1920

// Full returns how wide the place is on a wide desktop, which its cuts are made
// for. On a phone a stacked column can be wider by some pixels; sharp cuts have
// enough for that.
func (p Place) Full() int {
	if p.Section.bound() == 0 {
		return int(math.Round(p.Width(usual)))
	}
	return int(math.Round(p.Width(Widest)))
}
