// Package layout works out how wide each place for a picture is on each
// screen. The same figures give the sizes attribute, the dimension lines on
// screen and the pixels of the cuts; a browser measuring the rendered page
// agrees with them to one pixel. All lengths are CSS pixels.
package layout

import (
	"fmt"
	"math"
)

// Section is a band of a page: how wide its content may be and how it is
// divided into columns.
type Section struct {
	PageCap int // widest page; 0 means none
	Cap     int // widest content of this section; 0 means none
	Padding int // at the left and at the right of the section
	Gutter  int // between two columns
	Columns []Column
}

// Column is one column of a section.
type Column struct {
	Share   float64 // part of the room that all columns divide
	Padding int     // at the left and at the right, inside the column
}

// Content returns the width that the columns and gutters of the section share
// at a viewport: min(viewport, page cap, cap) − 2·padding.
func (s Section) Content(viewport int) int {
	w := viewport
	for _, limit := range []int{s.PageCap, s.Cap} {
		if limit > 0 {
			w = min(w, limit)
		}
	}
	return max(0, w-2*s.Padding)
}

// Widths returns the inner width of every column at a viewport:
// (content − (n−1)·gutter)·share − 2·column padding.
func (s Section) Widths(viewport int) []float64 {
	room := float64(s.Content(viewport) - max(0, len(s.Columns)-1)*s.Gutter)
	total := 0.0
	for _, c := range s.Columns {
		total += c.Share
	}
	widths := make([]float64, len(s.Columns))
	for i, c := range s.Columns {
		widths[i] = math.Max(0, room*c.Share/total-float64(2*c.Padding))
	}
	return widths
}

// Page is the frame that all pages of a house share: one column of text, and
// a wider room that wide pictures may reach into.
type Page struct {
	Column     int `json:"column"`      // widest text column
	Wide       int `json:"wide"`        // widest picture
	Padding    int `json:"padding"`     // left and right of the page
	PhoneBelow int `json:"phone_below"` // below this viewport nothing stands beside anything
}

// SlotWidth returns how wide a slot of the given width is at a viewport: never
// wider than the page's inner width.
func (p Page) SlotWidth(viewport, slot int) int {
	return max(0, min(slot, p.Wide, viewport-2*p.Padding))
}

// Sizes returns the sizes attribute for a slot of the given width.
func (p Page) Sizes(slot int) string {
	slot = min(slot, p.Wide)
	return fmt.Sprintf("(max-width: %dpx) calc(100vw - %dpx), %dpx", slot+2*p.Padding-1, 2*p.Padding, slot)
}

// Beside reports whether text has room beside a picture of the given width at
// a viewport.
func (p Page) Beside(viewport, slot int) bool {
	return viewport >= p.PhoneBelow && slot < p.SlotWidth(viewport, p.Column)
}
