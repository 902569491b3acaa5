// Package fit works out which pixels a slot needs from a picture: the size of
// each cut, the part of the source it is taken from, and how crisp it will be.
//
// It never enlarges. Where the source has fewer pixels than the slot asks for,
// the cut takes what is there and its effective density says how soft it is.
package fit

import (
	"image"
	"math"
)

// Size is a width and a height in pixels.
type Size struct {
	W int `json:"width"`
	H int `json:"height"`
}

// SizeOf returns the size of a rectangle.
func SizeOf(r image.Rectangle) Size { return Size{r.Dx(), r.Dy()} }

// Empty reports whether the size has no pixels.
func (s Size) Empty() bool { return s.W <= 0 || s.H <= 0 }

// Rect returns the rectangle of this size at the origin.
func (s Size) Rect() image.Rectangle { return image.Rect(0, 0, s.W, s.H) }

// ByWidth scales src to the width w, keeping its proportions. The height is
// rounded half away from zero and is at least 1.
func ByWidth(src Size, w int) Size {
	return Size{w, scaled(src.H, w, src.W)}
}

// ByHeight scales src to the height h, keeping its proportions. The width is
// rounded half away from zero and is at least 1.
func ByHeight(src Size, h int) Size {
	return Size{scaled(src.W, h, src.H), h}
}

// Inside scales src by the smaller of the two scales that box allows, so that
// nothing is cropped.
func Inside(src, box Size) Size {
	if src.W*box.H >= box.W*src.H {
		return ByWidth(src, box.W)
	}
	return ByHeight(src, box.H)
}

// scaled returns max(1, round(side·to/from)).
func scaled(side, to, from int) int {
	return max(1, int(math.Round(float64(side)*float64(to)/float64(from))))
}

// Focus is the spot of a frame that must survive every crop, as fractions of
// the frame's width and height from 0 to 1. The zero value is the top left
// corner; [Centre] is what a picture has until somebody chooses.
type Focus struct {
	X float64 `json:"x"`
	Y float64 `json:"y"`
}

// Centre is the middle of the frame.
var Centre = Focus{0.5, 0.5}

// BoxFrame returns the largest part of frame that has the ratio of box, placed
// so that the focus is as near its middle as the frame allows.
func BoxFrame(frame image.Rectangle, box Size, f Focus) image.Rectangle {
	src := SizeOf(frame)
	part := src
	if src.W*box.H > box.W*src.H {
		part.W = min(src.W, scaled(box.W, src.H, box.H))
	} else {
		part.H = min(src.H, scaled(box.H, src.W, box.W))
	}
	x := slide(f.X, src.W, part.W)
	y := slide(f.Y, src.H, part.H)
	return image.Rect(x, y, x+part.W, y+part.H).Add(frame.Min)
}

// slide places a stretch of length part inside whole with its middle at the
// fraction at, as far as whole allows.
func slide(at float64, whole, part int) int {
	x := int(math.Round(at*float64(whole) - float64(part)/2))
	return min(max(x, 0), whole-part)
}
