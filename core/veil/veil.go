// Package veil hides a region of a picture so that nobody can bring it back.
//
// Small blurs and mosaics over text can be read (Hill, Zhou, Saul, Shacham,
// PoPETs 2016(4)) and blurred faces recognised (McPherson, Shokri, Shmatikov,
// arXiv:1609.00408). A veil therefore limits information, not sharpness: the
// region is reduced to a few averaged cells, and only those averages are drawn
// back. Two pictures whose cells have the same averages give the same veiled
// picture, to the last bit; that is the whole of what gets through.
package veil

import (
	"fmt"
	"image"
	"math"
	"slices"

	"mivlet/core/fit"
)

// Shape is the outline of a veil.
type Shape string

// The shapes.
const (
	Rect    Shape = "rect"
	Ellipse Shape = "ellipse"
	Polygon Shape = "polygon"
)

// Style is how the averages are drawn back.
type Style string

// The styles: a smooth blend, flat squares, one colour.
const (
	Soft   Style = "soft"
	Blocks Style = "blocks"
	Solid  Style = "solid"
)

// Reason is what a veil hides.
type Reason string

// The reasons.
const (
	Face   Reason = "face"
	Number Reason = "number"
	Name   Reason = "name"
	Plate  Reason = "plate"
	Other  Reason = "other"
)

// Reasons lists them in the order they are offered.
var Reasons = []Reason{Face, Number, Name, Plate, Other}

// Left says in plain words what a number of cells across leaves of a region.
func Left(s Style, cells int) string {
	switch {
	case s == Solid:
		return "one colour: something was here"
	case cells <= TextCells:
		return fmt.Sprintf("%d across: not one letter", cells)
	case cells <= 4:
		return fmt.Sprintf("%d cells across: someone, not who", cells)
	}
	return fmt.Sprintf("%d cells across: someone, their hair and clothes", cells)
}

// MostCells is the most cells along the shorter side: six across a face still
// show that somebody is there, not who.
const MostCells = 6

// TextCells is the most cells across a line of text: with two, not one letter
// is left (held against a program that reads text).
const TextCells = 2

// LeastCell is the least side of a cell, in source pixels: a small region gets
// fewer cells rather than smaller ones.
const LeastCell = 8

// Veil is one hidden region, in pixels of the upright original.
type Veil struct {
	ID     string          `json:"id,omitempty"` // stays with the veil for life; empty where nobody keeps it
	Shape  Shape           `json:"shape"`
	Bounds image.Rectangle `json:"bounds"`           // of a rect or an ellipse
	Points []image.Point   `json:"points,omitempty"` // of a polygon, in order
	Style  Style           `json:"style"`
	Cells  int             `json:"cells"` // along the shorter side: 1 for a line of text, 3 to 6 for a face
	Reason Reason          `json:"reason,omitempty"`
}

// Check refuses a veil that hides nothing or tells too much.
func (v Veil) Check() error {
	switch {
	case v.Shape != Rect && v.Shape != Ellipse && v.Shape != Polygon:
		return fmt.Errorf("a veil has the shape rect, ellipse or polygon, not %q", v.Shape)
	case v.Style != Soft && v.Style != Blocks && v.Style != Solid:
		return fmt.Errorf("a veil has the style soft, blocks or solid, not %q", v.Style)
	case v.Cells < 1 || v.Cells > MostCells:
		return fmt.Errorf("a veil has 1 to %d cells along its shorter side, not %d", MostCells, v.Cells)
	case v.Shape == Polygon && len(v.Points) < 3:
		return fmt.Errorf("a polygon needs three points, not %d", len(v.Points))
	case v.Box().Empty():
		return fmt.Errorf("a veil of %d × %d pixels hides nothing", v.Box().Dx(), v.Box().Dy())
	}
	return nil
}

// Box returns the smallest rectangle around the region.
func (v Veil) Box() image.Rectangle {
	if v.Shape != Polygon {
		return v.Bounds
	}
	var b image.Rectangle
	for i, p := range v.Points {
		at := image.Rectangle{p, p.Add(image.Pt(1, 1))}
		if i == 0 {
			b = at
		} else {
			b = b.Union(at)
		}
	}
	return b
}

// Reach is the rectangle around all that the veil changes, its rim included.
func (v Veil) Reach() image.Rectangle {
	b := v.Box()
	return b.Inset(-int(math.Ceil(rim(min(b.Dx(), b.Dy())))))
}

// rim is the width of the feathered rim around a region with a shorter side, in
// pixels.
func rim(short int) float64 { return math.Max(2, float64(short)/30) }

// Scaled returns the veil as it lies on a copy of another size: outwards, as that
// must not show the rim of what is hidden.
func (v Veil) Scaled(s fit.Scale) Veil {
	if !v.Bounds.Empty() {
		v.Bounds = s.Outward(v.Bounds)
	}
	v.Points = slices.Clone(v.Points)
	for i, p := range v.Points {
		v.Points[i] = s.Point(p)
	}
	return v
}

// Map returns the veil with its outline carried over by to, which maps pixels
// by turning and mirroring.
func (v Veil) Map(to func(image.Point) image.Point) Veil {
	if !v.Bounds.Empty() {
		a, b := to(v.Bounds.Min), to(v.Bounds.Max.Sub(image.Pt(1, 1)))
		v.Bounds = image.Rect(min(a.X, b.X), min(a.Y, b.Y), max(a.X, b.X)+1, max(a.Y, b.Y)+1)
	}
	points := make([]image.Point, len(v.Points))
	for i, p := range v.Points {
		points[i] = to(p)
	}
	v.Points = points
	return v
}

// outside returns how far the middle of a pixel lies outside the region, in
// pixels; 0 or less is inside.
func (v Veil) outside(x, y int) float64 {
	px, py := float64(x)+0.5, float64(y)+0.5
	b := v.Bounds
	switch v.Shape {
	case Ellipse:
		rx, ry := float64(b.Dx())/2, float64(b.Dy())/2
		nx, ny := (px-float64(b.Min.X)-rx)/rx, (py-float64(b.Min.Y)-ry)/ry
		return (math.Hypot(nx, ny) - 1) * math.Min(rx, ry)
	case Polygon:
		return outsidePolygon(v.Points, px, py)
	}
	dx := math.Max(float64(b.Min.X)-px, px-float64(b.Max.X))
	dy := math.Max(float64(b.Min.Y)-py, py-float64(b.Max.Y))
	if dx <= 0 && dy <= 0 {
		return math.Max(dx, dy)
	}
	return math.Hypot(math.Max(dx, 0), math.Max(dy, 0))
}

func outsidePolygon(points []image.Point, x, y float64) float64 {
	inside, near := false, math.Inf(1)
	for i, j := 0, len(points)-1; i < len(points); j, i = i, i+1 {
		ax, ay := float64(points[i].X), float64(points[i].Y)
		bx, by := float64(points[j].X), float64(points[j].Y)
		if (ay > y) != (by > y) && x < (bx-ax)*(y-ay)/(by-ay)+ax {
			inside = !inside
		}
		near = math.Min(near, toSegment(x, y, ax, ay, bx, by))
	}
	if inside {
		return -near
	}
	return near
}

func toSegment(x, y, ax, ay, bx, by float64) float64 {
	dx, dy := bx-ax, by-ay
	t := 0.0
	if l := dx*dx + dy*dy; l > 0 {
		t = math.Min(1, math.Max(0, ((x-ax)*dx+(y-ay)*dy)/l))
	}
	return math.Hypot(x-ax-t*dx, y-ay-t*dy)
}
