// Package drawing lays out Mivlet's to-scale drawings: a page with its column,
// a picture in it, and dimension lines as in a technical drawing. It works out
// coordinates; the templates draw them as SVG.
package drawing

import (
	"fmt"
	"math"

	"mivlet/core/fit"
	"mivlet/core/layout"
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

// Column draws a slot in its column on a screen of the given viewport width
// (CSS px). picture is the size it is cut from; scale is drawing units per CSS
// pixel. beside tells whether text is to flow beside the picture.
func Column(title string, page layout.Page, viewport, slot int, picture fit.Size, beside bool, scale, height float64) Screen {
	pageWidth := min(viewport, page.Wide+2*page.Padding)
	shown := page.SlotWidth(viewport, slot)
	column := page.SlotWidth(viewport, page.Column)
	beside = beside && page.Beside(viewport, shown)
	size := fit.ByWidth(picture, max(1, shown))

	s := Screen{Title: title, Page: Box{marginLeft, marginTop, float64(pageWidth) * scale, height - marginTop - 2}}
	s.W, s.H = s.Page.X+s.Page.W+marginSide, height
	left := s.Page.X + (s.Page.W-float64(column)*scale)/2
	pic := Box{left, marginTop + 16, float64(shown) * scale, float64(size.H) * scale}
	if shown > column || !beside {
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
