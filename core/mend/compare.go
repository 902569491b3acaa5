package mend

import (
	"bytes"
	"cmp"
	"image"
	"image/draw"
	"slices"

	"mivlet/core/fit"
	"mivlet/core/survey"
)

// Compared is where a page no longer looks as it did, in one window. Pictures do not count: they may show other files.
// Where a page could not be compared, Fault says why.
type Compared struct {
	Page     string    `json:"page"`            // its path
	Viewport int       `json:"viewport"`        // which of [survey.Viewports]
	Areas    []fit.Box `json:"areas,omitempty"` // in CSS pixels of the page
	Fault    string    `json:"fault,omitempty"`
}

// Width is how wide the window was, in CSS pixels.
func (c Compared) Width() int { return int(survey.Viewports[c.Viewport]) }

// Verdict is what comparing pages in all windows came to.
type Verdict struct {
	Alike int      // pages that look as before
	Other []string // pages that do not in some window, in the order in which they were compared
	Not   []string // pages that could not be compared in some window, and look as before in the others
}

// Judge adds up how pages compare.
func Judge(all []Compared) (v Verdict) {
	type page struct{ differs, failed bool }
	pages := map[string]page{}
	var order []string
	for _, one := range all {
		p, known := pages[one.Page]
		if !known {
			order = append(order, one.Page)
		}
		pages[one.Page] = page{p.differs || len(one.Areas) > 0, p.failed || one.Fault != ""}
	}
	for _, path := range order {
		switch p := pages[path]; {
		case p.differs:
			v.Other = append(v.Other, path)
		case p.failed:
			v.Not = append(v.Not, path)
		default:
			v.Alike++
		}
	}
	return v
}

// cell is the side of the squares in which differences are gathered, in pixels: what lies nearer to each other
// than that is one difference.
const cell = 8

// mostAreas is how many differences of a page are told apart.
const mostAreas = 200

// Differences gathers where two drawings of a page differ. A page may be tall: it comes as strips. The zero value is
// ready, and has found nothing.
type Differences struct {
	cells map[image.Point]bool // squares in which something differs
	areas []image.Rectangle
}

// Strip compares a strip of both pages, which begins at a height, pixel by pixel. Where one is wider or taller, what the
// other lacks differs.
func (d *Differences) Strip(top int, was, now image.Image) {
	a, b := pixels(was), pixels(now)
	size := a.Rect.Union(b.Rect)
	for y := range size.Dy() {
		if a.Rect.Dx() == b.Rect.Dx() && y < a.Rect.Dy() && y < b.Rect.Dy() && bytes.Equal(row(a, y), row(b, y)) {
			continue // as nearly all are
		}
		for x := range size.Dx() {
			if p := image.Pt(x, y); !p.In(a.Rect) || !p.In(b.Rect) || a.RGBAAt(x, y) != b.RGBAAt(x, y) {
				d.mark(x/cell, (top+y)/cell)
			}
		}
	}
}

// row are the bytes of a row of pixels.
func row(m *image.RGBA, y int) []byte { return m.Pix[y*m.Stride : y*m.Stride+4*m.Rect.Dx()] }

// Moved notes that a picture has another place or another size than it had.
func (d *Differences) Moved(was, now image.Rectangle) { d.areas = append(d.areas, was.Union(now)) }

func (d *Differences) mark(x, y int) {
	if d.cells == nil {
		d.cells = map[image.Point]bool{}
	}
	d.cells[image.Pt(x, y)] = true
}

// pixels are those of an image, from its corner on.
func pixels(m image.Image) *image.RGBA {
	r := image.NewRGBA(image.Rectangle{Max: m.Bounds().Size()})
	draw.Draw(r, r.Rect, m, m.Bounds().Min, draw.Src)
	return r
}

// Areas are the differences from top to bottom, in pixels of the page: each holds what lies side by side, and none
// overlaps another. There are 200 at most, of which the last one holds the rest.
func (d *Differences) Areas() []fit.Box {
	all := slices.Clone(d.areas)
	seen := map[image.Point]bool{}
	for at := range d.cells {
		if seen[at] {
			continue
		}
		var area image.Rectangle
		seen[at] = true
		for next := []image.Point{at}; len(next) > 0; {
			p := next[len(next)-1]
			next = next[:len(next)-1]
			area = area.Union(image.Rectangle{Min: p, Max: p.Add(image.Pt(1, 1))})
			for y := -1; y <= 1; y++ {
				for x := -1; x <= 1; x++ {
					if q := p.Add(image.Pt(x, y)); d.cells[q] && !seen[q] {
						seen[q] = true
						next = append(next, q)
					}
				}
			}
		}
		all = append(all, image.Rectangle{Min: area.Min.Mul(cell), Max: area.Max.Mul(cell)})
	}
	for _, most := range []int{10 * mostAreas, mostAreas} { // to join very many takes long
		all = joined(atMost(all, most))
	}
	slices.SortFunc(all, fromTop)
	var boxes []fit.Box
	for _, area := range all {
		boxes = append(boxes, fit.BoxOf(area))
	}
	return boxes
}

// joined are areas, with those that overlap as one.
func joined(all []image.Rectangle) []image.Rectangle {
	var apart []image.Rectangle
	for _, area := range all {
		for i := 0; i < len(apart); i++ {
			if apart[i].Overlaps(area) {
				area = area.Union(apart[i])
				apart = slices.Delete(apart, i, i+1)
				i = -1 // it may reach others now
			}
		}
		apart = append(apart, area)
	}
	return apart
}

// atMost are the topmost areas; the last of them holds the rest.
func atMost(all []image.Rectangle, most int) []image.Rectangle {
	slices.SortFunc(all, fromTop)
	if len(all) <= most {
		return all
	}
	for _, more := range all[most:] {
		all[most-1] = all[most-1].Union(more)
	}
	return all[:most]
}

func fromTop(a, b image.Rectangle) int {
	return cmp.Or(cmp.Compare(a.Min.Y, b.Min.Y), cmp.Compare(a.Min.X, b.Min.X))
}
