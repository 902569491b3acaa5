// Package drawing lays out Mivlet's to-scale drawings: a page with its column,
// a picture in it, and dimension lines as in a technical drawing. It works out
// coordinates; the templates draw them as SVG.
package drawing

import (
	"fmt"
	"math"

	"mivlet/core/fit"
	"mivlet/core/layout"
	"mivlet/core/rules"
)

// Box is a rectangle in the drawing.
type Box struct{ X, Y, W, H float64 }

// Dimension is a dimension line with an end tick at each end and a figure.
type Dimension struct {
	X1, Y1, X2, Y2 float64
	Label          string
	Vertical       bool
}

// Middle returns where the figure stands.
func (d Dimension) Middle() Box { return Box{X: (d.X1 + d.X2) / 2, Y: (d.Y1 + d.Y2) / 2} }

// Screen is one screen with a page on it.
type Screen struct {
	Title   string
	W, H    float64 // of the whole drawing
	Page    Box
	Picture Box
	Text    []Box // bars that stand for lines of text
	Dims    []Dimension
}

// Room around the page for the dimension lines, in drawing units.
const (
	marginTop  = 20.0
	marginLeft = 4.0
	marginSide = 46.0
)

// Column draws a slot where it stands on a screen of the given viewport width
// (CSS px). picture is the size it is cut from; scale is drawing units per CSS
// pixel.
func Column(title string, r rules.Rules, viewport int, slot rules.Slot, picture fit.Size, scale, height float64) Screen {
	place := r.Place(slot)
	pageWidth := min(viewport, r.Page.Cap)
	shown := int(place.Width(viewport))
	column := int(r.Text().Column(viewport, 0))
	if slot.Kind() == rules.ByColumn && len(place.Section.Shares) > 1 {
		column = place.Section.Content(viewport)
	}
	beside := slot.Stands() && layout.Place{Section: r.Text(), Rule: layout.Rule{Fixed: shown}}.Beside(viewport)
	size := fit.ByWidth(picture, max(1, shown))

	s := Screen{Title: title, Page: Box{marginLeft, marginTop, float64(pageWidth) * scale, height - marginTop - 2}}
	s.W, s.H = s.Page.X+s.Page.W+marginSide, height
	left := s.Page.X + (s.Page.W-float64(column)*scale)/2
	pic := Box{left, marginTop + 16, float64(shown) * scale, float64(size.H) * scale}
	if at, ok := besideOf(place, viewport); ok {
		pic.X += at * scale
	} else if shown > column || !beside {
		pic.X = s.Page.X + (s.Page.W-pic.W)/2
	}
	pic.H = math.Min(pic.H, s.Page.H-22)
	s.Picture = pic

	right := left + float64(column)*scale
	for y := marginTop + 6; y+3 < s.Page.Y+s.Page.H-3; y += 9 {
		line := Box{left, y, float64(column) * scale, 3}
		if y+6 > pic.Y && y < pic.Y+pic.H+4 {
			if !beside {
				continue
			}
			line.X = pic.X + pic.W + 8
			line.W = right - line.X
		}
		if line.W > 6 {
			s.Text = append(s.Text, line)
		}
	}
	s.Dims = []Dimension{
		{pic.X, marginTop - 5, pic.X + pic.W, marginTop - 5, fmt.Sprint(shown), false},
		{s.Page.X + s.Page.W + 12, pic.Y, s.Page.X + s.Page.W + 12, pic.Y + pic.H, fmt.Sprint(size.H), true},
	}
	return s
}

// besideOf is where a slot of one of several columns begins, in CSS px from the
// left of the content; false where no column stands beside it.
func besideOf(p layout.Place, viewport int) (float64, bool) {
	if len(p.Section.Shares) < 2 || p.Section.Stacked(viewport) {
		return 0, false
	}
	d := p.Section.Breaks.Device(viewport)
	at := float64(p.Section.ColumnPadding.On(d))
	for i := range p.Column {
		at += p.Section.Column(viewport, i) + float64(2*p.Section.ColumnPadding.On(d)+p.Section.Gutter.On(d))
	}
	return at, true
}
