// Package textline finds lines of text in a picture by their structure alone: it
// reads nothing. Strokes stand close beside each other, darker or lighter than an
// even ground, and make long low bands.
//
// Pixels that differ from their neighbour by much are joined along the row where
// the gap between them is short (run-length smoothing: Wong, Casey, Wahl, IBM
// Journal of Research and Development 26(6), 1982, memory); what then hangs
// together is a band, and a band is a line of text where it looks like one.
package textline

import (
	"cmp"
	"image"
	"image/color"
	"math"
	"slices"
)

// Line is a line of text.
type Line struct {
	Bounds  image.Rectangle
	Figures bool // its signs are all of one height, as those of numbers are
}

// What counts as a line.
const (
	contrast  = 28   // steps of 255 between neighbours that make an edge
	lowest    = 7    // pixels; what is lower cannot be read
	highest   = 0.12 // of the picture's height
	longest   = 1.1  // gap that is joined, in heights of a sign of common size
	leastLong = 1.6  // heights a line is long at least
	evenness  = 26.0 // of 255: how much the ground under the strokes may vary
	apart     = 45.0 // of 255: how far strokes and ground differ at least
	parted    = 0.72 // of the variance of levels lies between strokes and ground
)

// Find returns the lines of text in a picture, from top to bottom. Text that is
// turned, or stands on a busy ground, is not found.
func Find(m image.Image) []Line {
	g := toGrey(m)
	var found []Line
	// Small signs want short gaps to be joined, large ones long gaps; those larger
	// still are looked for in the picture at half and a quarter of its size.
	for scale := 1; scale <= 4; scale *= 2 {
		for _, sign := range []int{10, 18, 34} {
			for _, band := range g.bands(int(longest * float64(sign))) {
				if l, ok := g.line(band); ok {
					l.Bounds = image.Rectangle{l.Bounds.Min.Mul(scale), l.Bounds.Max.Mul(scale)}
					found = add(found, l)
				}
			}
		}
		g = g.half()
	}
	slices.SortFunc(found, func(a, b Line) int {
		return cmp.Or(cmp.Compare(a.Bounds.Min.Y, b.Bounds.Min.Y), cmp.Compare(a.Bounds.Min.X, b.Bounds.Min.X))
	})
	return found
}

// add keeps of lines that overlap the longer one.
func add(found []Line, l Line) []Line {
	for i, old := range found {
		both := old.Bounds.Intersect(l.Bounds)
		if area(both) > min(area(old.Bounds), area(l.Bounds))/2 {
			if l.Bounds.Dx() > old.Bounds.Dx() && l.Bounds.Dy() <= old.Bounds.Dy()*3/2 {
				found[i] = l
			}
			return found
		}
	}
	return append(found, l)
}

func area(r image.Rectangle) int { return r.Dx() * r.Dy() }

// grey is a picture in levels of luma.
type grey struct {
	pix  []uint8
	w, h int
}

func toGrey(m image.Image) grey {
	b := m.Bounds()
	g := grey{make([]uint8, b.Dx()*b.Dy()), b.Dx(), b.Dy()}
	rgba, fast := m.(*image.RGBA)
	for y := range g.h {
		for x := range g.w {
			if fast {
				p := rgba.Pix[y*rgba.Stride+4*x:]
				g.pix[y*g.w+x] = uint8((299*int(p[0]) + 587*int(p[1]) + 114*int(p[2])) / 1000) // ITU-T T.871
				continue
			}
			g.pix[y*g.w+x] = color.GrayModel.Convert(m.At(b.Min.X+x, b.Min.Y+y)).(color.Gray).Y
		}
	}
	return g
}

// half returns the picture at half its size.
func (g grey) half() grey {
	s := grey{make([]uint8, g.w/2*(g.h/2)), g.w / 2, g.h / 2}
	for y := range s.h {
		for x := range s.w {
			at := 2*y*g.w + 2*x
			s.pix[y*s.w+x] = uint8((int(g.pix[at]) + int(g.pix[at+1]) + int(g.pix[at+g.w]) + int(g.pix[at+g.w+1]) + 2) / 4)
		}
	}
	return s
}

// edge reports whether the picture changes by much at a pixel, along the row.
func (g grey) edge(x, y int) bool {
	if x < 1 || x >= g.w-1 {
		return false
	}
	d := int(g.pix[y*g.w+x+1]) - int(g.pix[y*g.w+x-1])
	return d > contrast || d < -contrast
}

// bands joins edges with gaps up to gap, and returns what hangs together.
func (g grey) bands(gap int) []image.Rectangle {
	mask := make([]bool, g.w*g.h)
	for y := range g.h {
		last := -gap - 1
		for x := range g.w {
			if !g.edge(x, y) {
				continue
			}
			mask[y*g.w+x] = true
			if x-last <= gap {
				for i := max(last, 0); i < x; i++ {
					mask[y*g.w+i] = true
				}
			}
			last = x
		}
	}
	return hanging(mask, g.w, g.h)
}

// hanging returns the boxes of what hangs together in a mask.
func hanging(mask []bool, w, h int) []image.Rectangle {
	var boxes []image.Rectangle
	m := marks{mask, w, h}
	for start := range mask {
		if !mask[start] {
			continue
		}
		box := m.take(start, false)
		if box.Dy() >= lowest && float64(box.Dx()) >= leastLong*lowest && float64(box.Dy()) <= highest*float64(h) {
			boxes = append(boxes, box)
		}
	}
	return boxes
}

// line judges whether a band is a line of text: strokes and ground well apart,
// the ground even, and strokes following each other all along.
func (g grey) line(band image.Rectangle) (Line, bool) {
	w, h := band.Dx(), band.Dy()
	if float64(w) < leastLong*float64(h) {
		return Line{}, false
	}
	cut := g.threshold(band)
	var sum, sum2, n, rim [2]float64
	for y := band.Min.Y; y < band.Max.Y; y++ {
		for x := band.Min.X; x < band.Max.X; x++ {
			v := g.pix[y*g.w+x]
			side := 0
			if v > cut {
				side = 1
			}
			sum[side] += float64(v)
			sum2[side] += float64(v) * float64(v)
			n[side]++
			if y == band.Min.Y || y == band.Max.Y-1 {
				rim[side]++
			}
		}
	}
	if n[0] == 0 || n[1] == 0 {
		return Line{}, false
	}
	mean := [2]float64{sum[0] / n[0], sum[1] / n[1]}
	ground := 0
	if rim[1] > rim[0] { // above and below the strokes there is ground
		ground = 1
	}
	ink := n[1-ground] / (n[0] + n[1])
	between := n[0] * n[1] / (n[0] + n[1]) * (mean[1] - mean[0]) * (mean[1] - mean[0])
	within := sum2[0] - n[0]*mean[0]*mean[0] + sum2[1] - n[1]*mean[1]*mean[1]
	if between < parted*(between+within) {
		return Line{}, false
	}
	spread := math.Sqrt(max(0, sum2[ground]/n[ground]-mean[ground]*mean[ground]))
	if mean[1]-mean[0] < apart || spread > evenness || ink < 0.06 || ink > 0.62 {
		return Line{}, false
	}
	signs, crumbs := g.signs(band, cut, ground == 1)
	if len(signs) < 3 || crumbs > 2*len(signs) || !strokes(signs, w, h) || !aligned(signs, h) {
		return Line{}, false
	}
	grown := band.Inset(-max(1, h/8)).Intersect(image.Rect(0, 0, g.w, g.h))
	return Line{grown, figures(signs)}, true
}

// threshold parts the levels of a band in two (Otsu, IEEE Transactions on
// Systems, Man, and Cybernetics 9(1), 1979).
func (g grey) threshold(band image.Rectangle) uint8 {
	var levels [256]float64
	total, all := 0.0, 0.0
	for y := band.Min.Y; y < band.Max.Y; y++ {
		for x := band.Min.X; x < band.Max.X; x++ {
			v := g.pix[y*g.w+x]
			levels[v]++
			total++
			all += float64(v)
		}
	}
	best, at := -1.0, 0
	n, sum := 0.0, 0.0
	for v := range 255 {
		n += levels[v]
		sum += float64(v) * levels[v]
		if n == 0 || n == total {
			continue
		}
		d := sum/n - (all-sum)/(total-n)
		if between := n * (total - n) * d * d; between > best {
			best, at = between, v
		}
	}
	return uint8(at)
}
