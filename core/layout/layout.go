// Package layout works out how wide each place for a picture is on each
// screen: from the page's width over a section and its columns to the picture
// in one of them. The same figures give the sizes attribute, the dimension
// lines on screen, the stylesheet and the pixels of the cuts; a browser
// measuring the rendered page agrees with them to one pixel. All lengths are
// CSS pixels.
package layout

import "math"

// Device is a class of screens, told apart by the width of the viewport.
type Device int

// The devices, from narrow to wide.
const (
	Phone Device = iota
	Tablet
	Desktop
)

// Devices lists them all.
var Devices = [3]Device{Phone, Tablet, Desktop}

func (d Device) String() string { return [3]string{"phone", "tablet", "desktop"}[d] }

// Viewport returns a usual width of such a screen (common practice: a phone is
// 375 to 390 px wide).
func (d Device) Viewport() int { return [3]int{390, 768, 1280}[d] }

// Breaks are the widths at which one device ends and the next begins.
type Breaks struct {
	Tablet  int `json:"tablet"`  // narrowest tablet; all below is a phone
	Desktop int `json:"desktop"` // narrowest desktop
}

// Device returns the class of a viewport.
func (b Breaks) Device(viewport int) Device {
	switch {
	case viewport < b.Tablet:
		return Phone
	case viewport < b.Desktop:
		return Tablet
	}
	return Desktop
}

// Lengths is a length for each device.
type Lengths struct {
	Phone   int `json:"phone"`
	Tablet  int `json:"tablet"`
	Desktop int `json:"desktop"`
}

// Same is one length for all devices.
func Same(px int) Lengths { return Lengths{px, px, px} }

// On returns the length on a device.
func (l Lengths) On(d Device) int { return [3]int{l.Phone, l.Tablet, l.Desktop}[d] }

// Band is a band of a page: how wide its content may be and how it is
// divided into columns. On a phone columns stand below each other.
type Band struct {
	Breaks        Breaks
	PageCap       int     // widest page; 0 means none
	Cap           int     // widest content with its padding; 0 means none
	Padding       Lengths // at the left and at the right of the section
	Gutter        Lengths // between two columns
	ColumnPadding Lengths // at the left and at the right inside each column
	Shares        []float64
}

// bound returns the viewport from which the section grows no more; 0 where it
// grows for ever.
func (s Band) bound() int {
	switch {
	case s.PageCap <= 0:
		return max(s.Cap, 0)
	case s.Cap <= 0:
		return s.PageCap
	}
	return min(s.PageCap, s.Cap)
}

// Content returns the width that the columns and gutters of the section share
// at a viewport: min(viewport, page cap, cap) − 2·padding.
func (s Band) Content(viewport int) int {
	return max(0, s.Outer(viewport)-2*s.Padding.On(s.Breaks.Device(viewport)))
}

// Outer returns the width of the band with its padding at a viewport.
func (s Band) Outer(viewport int) int {
	if b := s.bound(); b > 0 {
		return min(viewport, b)
	}
	return viewport
}

// Column returns the inner width of a column, counted from 0, at a viewport:
// (content − (n−1)·gutter)·share − 2·column padding; where columns are stacked,
// content − 2·column padding.
func (s Band) Column(viewport, column int) float64 {
	d := s.Breaks.Device(viewport)
	room := float64(s.Content(viewport))
	if d != Phone {
		room = (room - float64((len(s.Shares)-1)*s.Gutter.On(d))) * s.share(column)
	}
	return math.Max(0, room-float64(2*s.ColumnPadding.On(d)))
}

// ColumnLeft returns how far a column's content lies from the left edge of the band at a
// viewport; where columns are stacked, all lie at the same place.
func (s Band) ColumnLeft(viewport, column int) float64 {
	d := s.Breaks.Device(viewport)
	left := float64(s.Padding.On(d) + s.ColumnPadding.On(d))
	if d == Phone {
		return left
	}
	for i := range min(column, len(s.Shares)) {
		left += s.Column(viewport, i) + float64(2*s.ColumnPadding.On(d)+s.Gutter.On(d))
	}
	return left
}

// Stacked reports whether the columns stand below each other at a viewport.
func (s Band) Stacked(viewport int) bool {
	return len(s.Shares) > 1 && s.Breaks.Device(viewport) == Phone
}

// share is the part of the room that a column gets.
func (s Band) share(column int) float64 {
	total := s.allShares()
	if column < 0 || column >= len(s.Shares) || total <= 0 {
		return 0
	}
	return s.Shares[column] / total
}

// allShares is what the shares of all columns add up to.
func (s Band) allShares() float64 {
	total := 0.0
	for _, v := range s.Shares {
		total += v
	}
	return total
}

// Widest is a viewport that is wider than every screen: what the section gives
// there is what its slots are cut for.
const Widest = 1 << 14

// Place is where a picture stands: a column of a section, and how wide the
// picture is in it.
type Place struct {
	Section Band
	Column  int
	Rule    Rule
	Parts   int     // pictures that share the column beside each other; 0 and 1 are one
	Between Lengths // between two of them
}

// Width returns how wide the picture is at a viewport.
func (p Place) Width(viewport int) float64 {
	room := p.Section.Column(viewport, p.Column)
	if p.Parts > 1 {
		room = math.Max(0, (room-float64((p.Parts-1)*p.Between.On(p.Section.Breaks.Device(viewport))))/float64(p.Parts))
	}
	return p.Rule.Of(room)
}

// Fullest returns how wide the place gets on any usual screen: on a wide desktop,
// or on a phone, where stacked columns can be wider.
func (p Place) Fullest() int {
	return max(p.Full(), int(math.Round(p.Width(Phone.Viewport()))))
}

// Beside reports whether text has room beside the picture at a viewport. On a
// phone nothing stands beside anything; elsewhere a column needs MinimumBeside.
func (p Place) Beside(viewport int) bool {
	if p.Section.Breaks.Device(viewport) == Phone {
		return false
	}
	return p.Section.Column(viewport, p.Column)-p.Width(viewport) >= MinimumBeside
}

// MinimumBeside is the least room in which text still flows beside a picture:
// about four words (common practice).
const MinimumBeside = 150

// Rule says how wide a picture is in its column. The zero value fills it.
type Rule struct {
	Fixed   int     `json:"fixed,omitempty"`   // CSS px; 0 for none
	Percent float64 `json:"percent,omitempty"` // of the column; 0 for none
	Cap     int     `json:"cap,omitempty"`     // never wider than this; 0 for none
	Inset   int     `json:"inset,omitempty"`   // CSS px of the column that stay free beside it
}

// Of returns the width in a column of the given width. It never leaves it.
func (r Rule) Of(column float64) float64 {
	w := column
	switch {
	case r.Fixed > 0:
		w = float64(r.Fixed)
	case r.Percent > 0:
		w = column * r.Percent / 100
	}
	if r.Cap > 0 {
		w = math.Min(w, float64(r.Cap))
	}
	return math.Max(0, math.Min(w, column-float64(r.Inset)))
}
