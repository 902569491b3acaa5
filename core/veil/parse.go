package veil

import (
	"errors"
	"fmt"
	"image"
	"strconv"
	"strings"
)

// Parse reads a veil as it is typed: SHAPE:X,Y,W,H or SHAPE:X,Y,W,H:STYLE, such as
// rect:370,194,1030,56, in pixels of the upright original. The shape is rect or ellipse; without a
// style it is a cover.
func Parse(s string) (Veil, error) {
	parts := strings.Split(s, ":")
	if len(parts) < 2 || len(parts) > 3 {
		return Veil{}, errors.New("a veil is SHAPE:X,Y,W,H[:STYLE]")
	}
	var n [4]int
	given := strings.Split(parts[1], ",")
	if len(given) != len(n) {
		return Veil{}, fmt.Errorf("4 numbers are wanted, not %d", len(given))
	}
	for i, p := range given {
		v, err := strconv.ParseFloat(strings.TrimSpace(p), 64)
		if err != nil || v != v || v < -1e7 || v > 1e7 {
			return Veil{}, fmt.Errorf("%q is no number", p)
		}
		n[i] = int(v)
	}
	v := Veil{Shape: Shape(parts[0]), Bounds: image.Rect(n[0], n[1], n[0]+n[2], n[1]+n[3]), Style: Cover}
	if len(parts) > 2 {
		v.Style = Style(parts[2])
	}
	if v.Shape == Polygon {
		return Veil{}, errors.New("here a veil is a rect or an ellipse")
	}
	return v, nil
}
