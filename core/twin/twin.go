// Package twin tells whether two pictures show the same photo, though one is
// smaller, recompressed or slightly cropped: a perceptual hash.
//
// The luma is brought down to 32 × 32, its low frequencies are taken (a discrete
// cosine transform), and each of 64 of them gives one bit: above their median or
// not (common practice). Because cropping moves everything a little, a picture
// has three such hashes: of all of it, and of two smaller middles.
package twin

import (
	"image"
	"math"
	"math/bits"
	"slices"
)

// Hash is what is kept of a picture to compare it with others.
type Hash [3]uint64

// middles are the parts of a picture that are hashed, as shares of its sides.
var middles = [3]float64{1, 0.93, 0.86}

// Near is the most bits in which near-twins differ, of 64: two photos of
// different things differ in about 32.
const Near = 10

// Of hashes a picture. Some hundred pixels on a side are enough.
func Of(m image.Image) Hash {
	var h Hash
	b := m.Bounds()
	for i, share := range middles {
		dx, dy := int(float64(b.Dx())*(1-share)/2), int(float64(b.Dy())*(1-share)/2)
		h[i] = hash(m, image.Rect(b.Min.X+dx, b.Min.Y+dy, b.Max.X-dx, b.Max.Y-dy))
	}
	return h
}

// Distance returns the least number of bits in which a part of the one differs
// from a part of the other, from 0 to 64.
func (h Hash) Distance(o Hash) int {
	best := 64
	for i, a := range h {
		for j, b := range o {
			if i == 0 || j == 0 || i == j { // the whole of one in the other
				best = min(best, bits.OnesCount64(a^b))
			}
		}
	}
	return best
}

// Flat reports whether there was nothing to tell the picture by.
func (h Hash) Flat() bool { return h[0] == 0 }

const (
	side = 32 // pixels on a side before the transform
	low  = 8  // frequencies on a side that count
)

func hash(m image.Image, r image.Rectangle) uint64 {
	if r.Dx() < 2 || r.Dy() < 2 {
		return 0
	}
	grid := shrink(m, r)
	var freq [low * low]float64
	for v := range low {
		for u := range low {
			sum := 0.0
			for y := range side {
				for x := range side {
					sum += grid[y*side+x] * cosines[u][x] * cosines[v][y]
				}
			}
			freq[v*low+u] = sum
		}
	}
	rest := slices.Clone(freq[1:]) // the first is the mean light: it tells nothing
	slices.Sort(rest)
	median := rest[len(rest)/2]
	if rest[len(rest)-1]-rest[0] < 1 {
		return 0 // flat
	}
	var h uint64
	for i, f := range freq {
		if i > 0 && f > median {
			h |= 1 << i
		}
	}
	return h
}

var cosines = func() (c [low][side]float64) {
	for u := range low {
		for x := range side {
			c[u][x] = math.Cos(math.Pi * (float64(x) + 0.5) * float64(u) / side)
		}
	}
	return c
}()

// shrink averages the luma of a part into a grid, whatever its proportions.
func shrink(m image.Image, r image.Rectangle) [side * side]float64 {
	var sums, counts [side * side]float64
	rgba, fast := m.(*image.RGBA)
	for y := r.Min.Y; y < r.Max.Y; y++ {
		row := (y - r.Min.Y) * side / r.Dy() * side
		for x := r.Min.X; x < r.Max.X; x++ {
			at := row + (x-r.Min.X)*side/r.Dx()
			var v float64
			if fast {
				p := rgba.Pix[rgba.PixOffset(x, y):]
				v = 0.299*float64(p[0]) + 0.587*float64(p[1]) + 0.114*float64(p[2])
			} else {
				cr, cg, cb, _ := m.At(x, y).RGBA()
				v = (0.299*float64(cr) + 0.587*float64(cg) + 0.114*float64(cb)) / 257
			}
			sums[at] += v
			counts[at]++
		}
	}
	for i := range sums {
		if counts[i] > 0 {
			sums[i] /= counts[i]
		} else if i > 0 {
			sums[i] = sums[i-1] // fewer pixels than the grid has
		}
	}
	return sums
}
