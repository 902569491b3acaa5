package fit

import (
	"image"
	"math"
)

// Scale carries places in a picture over to a copy of it of another size.
type Scale struct{ X, Y float64 }

// ScaleOf is the scale from a picture of one size to one of another.
func ScaleOf(from, to Size) Scale {
	return Scale{float64(to.W) / float64(from.W), float64(to.H) / float64(from.H)}
}

// Point carries a point over, to the nearest pixel.
func (s Scale) Point(p image.Point) image.Point {
	return image.Pt(int(math.Round(float64(p.X)*s.X)), int(math.Round(float64(p.Y)*s.Y)))
}

// Rect carries a rectangle over, each edge to the nearest pixel.
func (s Scale) Rect(r image.Rectangle) image.Rectangle {
	return image.Rectangle{Min: s.Point(r.Min), Max: s.Point(r.Max)}
}

// Outward carries a rectangle over so that nothing of it is left outside.
func (s Scale) Outward(r image.Rectangle) image.Rectangle {
	return image.Rect(int(math.Floor(float64(r.Min.X)*s.X)), int(math.Floor(float64(r.Min.Y)*s.Y)), int(math.Ceil(float64(r.Max.X)*s.X)), int(math.Ceil(float64(r.Max.Y)*s.Y)))
}
