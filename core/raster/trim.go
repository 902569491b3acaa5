package raster

import "image"

// Trim returns the part of a picture that is not plain border: whatever lies
// inside rows and columns of one tone, that of the corner at the top left. A
// picture that is all one tone is left whole.
func Trim(m image.Image) image.Rectangle {
	b := m.Bounds()
	r0, g0, b0, _ := m.At(b.Min.X, b.Min.Y).RGBA()
	plain := func(x, y int) bool {
		r, g, bl, _ := m.At(x, y).RGBA()
		return near(r, r0) && near(g, g0) && near(bl, b0)
	}
	row := func(y, x0, x1 int) bool {
		for x := x0; x < x1; x++ {
			if !plain(x, y) {
				return false
			}
		}
		return true
	}
	column := func(x, y0, y1 int) bool {
		for y := y0; y < y1; y++ {
			if !plain(x, y) {
				return false
			}
		}
		return true
	}
	t := b
	for t.Min.Y < t.Max.Y && row(t.Min.Y, b.Min.X, b.Max.X) {
		t.Min.Y++
	}
	if t.Empty() {
		return b
	}
	for row(t.Max.Y-1, b.Min.X, b.Max.X) {
		t.Max.Y--
	}
	for column(t.Min.X, t.Min.Y, t.Max.Y) {
		t.Min.X++
	}
	for column(t.Max.X-1, t.Min.Y, t.Max.Y) {
		t.Max.X--
	}
	return t
}

// near forgives what compression does to a plain tone: 10 steps of 255.
func near(a, b uint32) bool {
	const most = 10 * 257
	return a < b+most && b < a+most
}
