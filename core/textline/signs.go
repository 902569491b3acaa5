package textline

import (
	"cmp"
	"image"
	"slices"
)

// signs returns the boxes of the strokes in a band that hang together, and how many
// are too low to be a sign.
func (g grey) signs(band image.Rectangle, cut uint8, dark bool) (signs []image.Rectangle, crumbs int) {
	w, h := band.Dx(), band.Dy()
	mask := make([]bool, w*h)
	for y := range h {
		for x := range w {
			above := g.pix[(band.Min.Y+y)*g.w+band.Min.X+x] > cut
			mask[y*w+x] = above != dark
		}
	}
	m := marks{mask, w, h}
	for start := range mask {
		if !mask[start] {
			continue
		}
		box := m.take(start, true)
		if box.Dy() >= h/4 && box.Dy() >= 3 {
			signs = append(signs, box)
		} else {
			crumbs++
		}
	}
	slices.SortFunc(signs, func(a, b image.Rectangle) int { return cmp.Compare(a.Min.X, b.Min.X) })
	return signs, crumbs
}

// aligned reports whether most signs stand on one line: their feet, or those of
// their neighbours where the line rises or falls a little.
func aligned(signs []image.Rectangle, h int) bool {
	near := 0
	for i := 1; i < len(signs); i++ {
		if d := signs[i].Max.Y - signs[i-1].Max.Y; d*6 <= h && -d*6 <= h {
			near++
		}
	}
	return near*100 >= (len(signs)-1)*60
}

// strokes reports whether signs stand all along a band of some size, none of them
// as long as a rule or a shadow.
func strokes(signs []image.Rectangle, w, h int) bool {
	covered, long := 0, 0
	for _, s := range signs {
		covered += s.Dx()
		long = max(long, s.Dx())
	}
	return covered*10 >= w*3 && long < max(6*h, w/2)
}

// figures reports whether nearly all signs are of one height, and of a number of
// signs that telephone numbers, plates and the like have.
func figures(signs []image.Rectangle) bool {
	if len(signs) < 5 || len(signs) > 24 {
		return false
	}
	heights := make([]int, len(signs))
	for i, s := range signs {
		heights[i] = s.Dy()
	}
	slices.Sort(heights)
	middle := heights[len(heights)/2]
	same := 0
	for _, h := range heights {
		if d := h - middle; d*6 <= middle && -d*6 <= middle {
			same++
		}
	}
	return same*100 >= len(signs)*85
}
