package raster

import (
	"image"
	"math"

	"mivlet/core/facts"
	"mivlet/core/fit"
)

// straightened makes a cut of a source that is turned by a small angle about
// its middle. The part lies in the turned plane. What it covers is first
// brought down to twice the size of the cut, then turned, then halved.
func (s *Source) straightened(w Transform) image.Image {
	whole := s.Upright()
	sin, cos := math.Sincos(w.Straighten * math.Pi / 180)
	middle := [2]float64{float64(whole.W) / 2, float64(whole.H) / 2}
	// back carries a point of the turned plane to the source.
	back := func(x, y float64) (float64, float64) {
		dx, dy := x-middle[0], y-middle[1]
		return middle[0] + cos*dx + sin*dy, middle[1] - sin*dx + cos*dy
	}
	cover := coverOf(w.From, back).Intersect(whole.Rect())
	size := w.Turn.Turned(w.Size)
	scale := math.Min(1, 2*float64(size.W)/float64(w.From.Dx()))
	near := fit.Size{W: max(1, int(math.Round(float64(cover.Dx())*scale))), H: max(1, int(math.Round(float64(cover.Dy())*scale)))}
	flat := s.Do(Transform{From: cover, Size: near, Turn: facts.Upright, Veils: w.Veils})

	big := fit.Size{W: max(1, int(math.Round(float64(w.From.Dx())*scale))), H: max(1, int(math.Round(float64(w.From.Dy())*scale)))}
	px, py := float64(near.W)/float64(cover.Dx()), float64(near.H)/float64(cover.Dy())
	turned := rotate(flat, big, func(x, y float64) (float64, float64) {
		sx, sy := back(float64(w.From.Min.X)+x*float64(w.From.Dx())/float64(big.W), float64(w.From.Min.Y)+y*float64(w.From.Dy())/float64(big.H))
		return (sx - float64(cover.Min.X)) * px, (sy - float64(cover.Min.Y)) * py
	})
	return FromImage(turned).Do(Transform{From: big.Rect(), Size: w.Size, Turn: w.Turn})
}

// coverOf returns the pixels of the source that a part of the turned plane
// reaches, with some room for the kernel.
func coverOf(r image.Rectangle, back func(x, y float64) (float64, float64)) image.Rectangle {
	x0, y0, x1, y1 := math.Inf(1), math.Inf(1), math.Inf(-1), math.Inf(-1)
	for _, p := range []image.Point{r.Min, {X: r.Max.X, Y: r.Min.Y}, {X: r.Min.X, Y: r.Max.Y}, r.Max} {
		x, y := back(float64(p.X), float64(p.Y))
		x0, y0, x1, y1 = math.Min(x0, x), math.Min(y0, y), math.Max(x1, x), math.Max(y1, y)
	}
	const room = 4
	return image.Rect(int(x0)-room, int(y0)-room, int(x1)+room+1, int(y1)+room+1)
}

// rotate samples m at the places that at gives, with a cubic kernel
// (Catmull-Rom) in linear light.
func rotate(m image.Image, size fit.Size, at func(x, y float64) (float64, float64)) image.Image {
	solid := opaque(m)
	out, ch, set := blank(size, solid)
	b := m.Bounds()
	light := make([]float32, b.Dx()*b.Dy()*ch)
	add := adder(m, solid, srgb)
	for y := range b.Dy() {
		add(light[y*b.Dx()*ch:(y+1)*b.Dx()*ch], y, 0, b.Dx(), 1)
	}
	line := make([]float32, size.W*ch)
	for y := range size.H {
		for x := range size.W {
			sx, sy := at(float64(x)+0.5, float64(y)+0.5)
			cubic(line[x*ch:(x+1)*ch], light, b.Dx(), b.Dy(), sx-0.5, sy-0.5)
		}
		set(y, line)
	}
	return out
}

// cubic samples light of w × h pixels at x, y into px.
func cubic(px, light []float32, w, h int, x, y float64) {
	clear(px)
	ix, iy := int(math.Floor(x)), int(math.Floor(y))
	wx, wy := catmullRom(float32(x-math.Floor(x))), catmullRom(float32(y-math.Floor(y)))
	for j := range 4 {
		row := min(max(iy+j-1, 0), h-1) * w
		for i := range 4 {
			k := wx[i] * wy[j]
			p := (row + min(max(ix+i-1, 0), w-1)) * len(px)
			for c := range px {
				px[c] += k * light[p+c]
			}
		}
	}
}

// catmullRom returns the weights of the four pixels around a place t of the way
// from the second to the third.
func catmullRom(t float32) [4]float32 {
	return [4]float32{
		((-t+2)*t - 1) * t / 2,
		((3*t-5)*t*t + 2) / 2,
		((-3*t+4)*t + 1) * t / 2,
		(t - 1) * t * t / 2,
	}
}
