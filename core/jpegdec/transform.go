package jpegdec

import (
	"math"

	"mivlet/core/t81"
)

// reach tells how many rows and columns the coefficients up to the k-th take.
var reach = func() (r [64]struct{ rows, cols uint8 }) {
	rows, cols := uint8(0), uint8(0)
	for k, at := range t81.Zigzag {
		rows, cols = max(rows, at/8+1), max(cols, at%8+1)
		r[k].rows, r[k].cols = rows, cols
	}
	return r
}()

// block is the coefficients of 8 × 8 pixels, in rows, brought to their size.
type block struct {
	at   [64]float32
	last int // the last one that is not zero, in zigzag order
	// power is the sum of the squares of all but the first: 64 times the variance of the pixels.
	power float32
}

// put sets the k-th coefficient in zigzag order, but for the first. They come in order.
func (b *block) put(k int, v float32) {
	b.at[t81.Zigzag[k&63]&63] = v
	b.power += float32(v * v)
	b.last = k
}

// matrix takes 8 coefficients to n values: averages of what the inverse cosine transform (T.81,
// A.3.3) gives, as a resampler averages blocks of pixels. It stands in rows of values and in
// rows of coefficients.
type matrix struct {
	byValue, byCoefficient [64]float32
}

// matrices are those of 1, 2, 4 and 8 values.
var matrices = func() (all [9]matrix) {
	for _, n := range []int{1, 2, 4, 8} {
		several := 8 / n
		for i := range n {
			for k := range 8 {
				v := 0.0
				for x := i * several; x < (i+1)*several; x++ {
					v += cosine(x, k) / float64(several)
				}
				all[n].byValue[8*i+k], all[n].byCoefficient[8*k+i] = float32(v), float32(v)
			}
		}
	}
	return all
}()

// cosine is what the k-th coefficient gives to the x-th of eight values.
func cosine(x, k int) float64 {
	if k == 0 {
		return math.Sqrt2 / 4
	}
	return math.Cos(float64(2*x+1)*float64(k)*math.Pi/16) / 2
}

// middle is added to what the transform gives (T.81, A.3.1).
const middle = 128

// A brush turns blocks into pixels, one after the other.
type brush struct {
	block block    // room for one
	whole [64]byte // and for its pixels
	aside [64]byte // and for fewer
}

// drawWithin is draw for a block near the place, in blocks, where somebody else goes on with the row.
func (w *brush) drawWithin(c *component, b *block, x, y, until int) {
	if (until-x)*c.nh >= 8 {
		w.draw(c, b, x, y)
		return
	}
	w.drawAt(c, b, w.aside[:], 8)
	at := c.at(x, y)
	for i := range c.nv {
		copy(at[i*c.stride:][:c.nh], w.aside[8*i:])
	}
}

// draw turns a block that is kept into pixels of its component's plane. To the right of them it may
// draw some more, on which the next block is drawn.
func (w *brush) draw(c *component, b *block, x, y int) { w.drawAt(c, b, c.at(x, y), c.stride) }

// at is the place of a block in the plane.
func (c *component) at(x, y int) []byte {
	return c.plane[(y-c.kept.Min.Y)*c.nv*c.stride+(x-c.kept.Min.X)*c.nh:]
}

func (w *brush) drawAt(c *component, b *block, at []byte, stride int) {
	if b.last == 0 {
		flat(at, stride, c.nh, c.nv, b.at[0])
		return
	}
	inverse(at, stride, b, c.nh, c.nv)
	if c.luma && c.nh < 8 {
		w.asLight(at, stride, b, c.nh)
	}
}

// flat fills a block that has no other coefficient than its first.
func flat(at []byte, stride, nh, nv int, first float32) {
	v := byteOf(first/8 + middle)
	for y := range nv {
		row := at[y*stride:][:nh]
		for x := range row {
			row[x] = v
		}
	}
}

// byteOf rounds to the nearest code value, halves to even, as the wide registers do.
func byteOf(v float32) byte {
	const magic = 3 << 22 // from here on a float32 has no room for halves
	v = min(max(v, 0), 255)
	return byte(math.Float32bits(v + magic))
}

// inverse transforms a block into nh × nv pixels.
func inverse(at []byte, stride int, b *block, nh, nv int) {
	r := reach[b.last&63]
	rows, cols := int(r.rows), int(r.cols)
	if wide {
		inverseWide(&at[0], stride, &b.at, &matrices[nv].byValue, &matrices[nh].byCoefficient, nv, rows, cols)
		return
	}
	inversePlain(at, stride, b, nh, nv, rows, cols)
}

func inversePlain(at []byte, stride int, b *block, nh, nv, rows, cols int) {
	down, across := &matrices[nv].byValue, &matrices[nh].byCoefficient
	for i := range nv {
		var t [8]float32
		for k := range rows {
			m := down[(8*i+k)&63]
			from := b.at[8*k&63:][:8]
			for x := range cols {
				t[x&7] += float32(m * from[x&7]) // rounded before it is added, on every machine
			}
		}
		o := [8]float32{middle, middle, middle, middle, middle, middle, middle, middle}
		for k := range cols {
			v := t[k&7]
			m := across[8*k&63:][:8]
			for x := range nh {
				o[x&7] += float32(v * m[x&7])
			}
		}
		row := at[i*stride:][:nh]
		for x := range row {
			row[x] = byteOf(o[x&7])
		}
	}
}
