package veil

import (
	"image"
	"math"
	"slices"
)

// outside returns how far the middle of a pixel lies outside the outline, in
// pixels, and never more than it does; 0 or less is inside.
func (v Veil) outside(x, y int) float64 {
	px, py := float64(x)+0.5, float64(y)+0.5
	switch v.Shape {
	case Ellipse:
		b := v.Bounds
		rx, ry := float64(b.Dx())/2, float64(b.Dy())/2
		nx, ny := (px-float64(b.Min.X)-rx)/rx, (py-float64(b.Min.Y)-ry)/ry
		return (math.Hypot(nx, ny) - 1) * math.Min(rx, ry)
	case Polygon:
		return outsidePolygon(v.Points, px, py)
	}
	return outsideRect(v.Bounds, px, py)
}

func outsideRect(b image.Rectangle, px, py float64) float64 {
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
		if d := toSegment(x-ax, y-ay, bx-ax, by-ay); d < near {
			near = d
		}
	}
	if near = math.Sqrt(near); inside {
		return -near
	}
	return near
}

// toSegment is how far a point is from a segment that goes from 0, 0 to dx, dy, squared.
func toSegment(x, y, dx, dy float64) float64 {
	along, length := x*dx+y*dy, dx*dx+dy*dy
	switch {
	case along <= 0:
		return x*x + y*y
	case along >= length:
		return (x-dx)*(x-dx) + (y-dy)*(y-dy)
	}
	t := along / length
	return (x-t*dx)*(x-t*dx) + (y-t*dy)*(y-t*dy)
}

// Hide reports whether one of some veils lies over most of a rectangle, as they stand in
// the first frame.
func Hide(veils []Veil, r image.Rectangle) bool {
	return slices.ContainsFunc(veils, func(v Veil) bool { return v.At(0).Hides(r) })
}

// Hides reports whether a veil lies over most of a rectangle: over its middle and over at
// least seven in ten of it.
func (v Veil) Hides(r image.Rectangle) bool {
	const probes = 10
	in := 0
	for i := range probes {
		for j := range probes {
			x, y := r.Min.X+(2*i+1)*r.Dx()/(2*probes), r.Min.Y+(2*j+1)*r.Dy()/(2*probes)
			if v.outside(x, y) <= 0 {
				in++
			}
		}
	}
	middle := r.Min.Add(r.Max).Div(2)
	return in*10 >= 7*probes*probes && v.outside(middle.X, middle.Y) <= 0
}
