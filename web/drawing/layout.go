package drawing

import (
	"fmt"
	"math"

	"mivlet/core/layout"
	"mivlet/core/rules"
)

// Field is a figure of the drawing that can be typed into.
type Field struct {
	Box
	Path  string // in the rules
	Label string
	Value int
}

// Sheet is a page of a pattern on a screen, with every measure of it.
type Sheet struct {
	W, H    float64
	Screen  Box
	Page    Box
	Columns []Box
	Dims    []Dimension
	Fields  []Field
	Stacked bool
}

// Layout draws how a pattern divides a page on a screen of a viewport, in a
// drawing of the given width. What can be changed are fields, what follows are
// dimension lines.
func Layout(r rules.Rules, p rules.Pattern, viewport int, width float64) Sheet {
	const top, height, under = 74.0, 150.0, 96.0
	section := r.SectionOf(p)
	d := section.Breaks.Device(viewport)
	scale := (width - 20) / float64(viewport)
	s := Sheet{W: width, H: top + height + under, Stacked: section.Stacked(viewport)}
	at := func(css float64) float64 { return css * scale }
	s.Screen = Box{10, top - 12, at(float64(viewport)), height + 24}
	outer := float64(section.Content(viewport) + 2*section.Padding.On(d))
	left := 10 + (s.Screen.W-at(outer))/2
	s.Page = Box{left, top, at(outer), height}

	pad, gutter, inner := at(float64(section.Padding.On(d))), at(float64(section.Gutter.On(d))), at(float64(section.ColumnPadding.On(d)))
	x, y := left+pad, top+10
	low := top + height
	for i := range p.Shares {
		w := at(section.Column(viewport, i))
		box := Box{x + inner, y, w, height - 20}
		if s.Stacked {
			box.H = (height - 20 - 6*float64(len(p.Shares)-1)) / float64(len(p.Shares))
			y += box.H + 6
		} else {
			x += w + 2*inner + gutter
		}
		s.Columns = append(s.Columns, box)
		if !s.Stacked || i == 0 {
			s.Dims = append(s.Dims, Dimension{X1: box.X, Y1: low + 20, X2: box.X + box.W, Y2: low + 20, Label: figure(section.Column(viewport, i))})
		}
	}
	s.Dims = append(s.Dims,
		Dimension{X1: 10, Y1: 18, X2: 10 + s.Screen.W, Y2: 18, Label: fmt.Sprintf("screen %d", viewport)},
		Dimension{X1: s.Page.X, Y1: 48, X2: s.Page.X + s.Page.W, Y2: 48})
	s.fields(r, p, d, pad, gutter, low+44)
	return s
}

// fields sets the figures that can be changed beside what they measure.
func (s *Sheet) fields(r rules.Rules, p rules.Pattern, d layout.Device, pad, gutter, y float64) {
	const w, h = 72.0, 28.0
	put := func(middle, y float64, path, label string, value int) {
		x := math.Min(math.Max(middle-w/2, 0), s.W-w)
		for _, f := range s.Fields { // beside each other, never over each other
			if f.Y == y && x < f.X+f.W+6 {
				x = f.X + f.W + 6
			}
		}
		s.Fields = append(s.Fields, Field{Box{x, y, w, h}, path, label, value})
	}
	name := d.String()
	middle := s.Page.X + s.Page.W/2
	if p.Cap > 0 {
		put(middle, 34, "/page/patterns/"+p.ID+"/cap", "widest section", p.Cap)
	} else {
		put(middle, 34, "/page/cap", "widest page", r.Page.Cap)
	}
	put(s.Page.X+pad/2, y, "/page/padding/"+name, "outer padding", r.Page.Padding.On(d))
	first := s.Columns[0]
	put(math.Max(first.X+w/2, s.Page.X+pad/2+w+6), y, "/page/column_padding/"+name, "inside a column", r.Page.ColumnPadding.On(d))
	if len(s.Columns) > 1 && !s.Stacked {
		put(first.X+first.W+gutter/2, y, "/page/gutter/"+name, "gutter", r.Page.Gutter.On(d))
	}
}

func figure(v float64) string { return fmt.Sprint(math.Round(v*10) / 10) }
