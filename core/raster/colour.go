package raster

import (
	"image"
	"math/bits"
	"sync/atomic"

	"mivlet/core/cores"
	"mivlet/core/jpegenc"
)

// Two by two pixels stand out by colour alone where their chroma lies this far from its mean, in
// code values, and at least twice as far as their luma. An edge between two colours has some of
// them; where they are a fifth of an area of 32 by 16 pixels, there are letters or fine lines.
const (
	aloneFrom    = 20
	squaresAlone = 4 * aloneFrom * aloneFrom
	areaWide     = 16 // of two by two pixels
	areaHigh     = 8
	manyAlone    = areaWide * areaHigh / 5
)

// mostAreas is how many areas with letters a picture may have that is written without a colour for
// each pixel.
const mostAreas = 2

// colourOf says whether the pixels of a JPEG need a colour each: where letters or lines are set off
// by their colour alone, they are lost when four pixels share one.
func colourOf(m image.Image) jpegenc.Colour {
	rgba, ok := m.(*image.RGBA)
	if !ok || areasByColour(rgba) <= mostAreas {
		return jpegenc.FourToOne
	}
	return jpegenc.OneToOne
}

// areasByColour counts the areas with letters or lines that are set off by colour alone.
func areasByColour(m *image.RGBA) int {
	var areas atomic.Int64
	const high = 2 * areaHigh
	cores.Share((m.Rect.Dy()+high-1)/high, func(from, to int) {
		alone := make([]int, m.Rect.Dx()/2/areaWide+1)
		marks := make([]uint8, (m.Rect.Dx()/2+3)/4)
		for row := from; row < to; row++ {
			clear(alone)
			for y := row * high; y < min(row*high+high, m.Rect.Dy()-1); y += 2 {
				squares(m, y, marks, alone)
			}
			for _, n := range alone {
				if n >= manyAlone {
					areas.Add(1)
				}
			}
		}
	})
	return int(areas.Load())
}

// squares counts those of two by two pixels that stand out by their colour alone, in two rows. It
// finds in marks where the others may be passed over: see unlike.
func squares(m *image.RGBA, y int, marks []uint8, alone []int) {
	upper, lower := m.Pix[y*m.Stride:][:4*m.Rect.Dx()], m.Pix[(y+1)*m.Stride:][:4*m.Rect.Dx()]
	unlike(marks, upper, lower)
	for i, four := range marks {
		for ; four != 0; four &= four - 1 {
			at := 4*i + bits.TrailingZeros8(four)
			if byColourAlone((*[8]byte)(upper[8*at:]), (*[8]byte)(lower[8*at:])) {
				alone[at/areaWide]++
			}
		}
	}
}

// byColourAlone reports whether two by two pixels stand out by their colour alone.
func byColourAlone(p, q *[8]byte) bool {
	y0, b0, r0 := roughly(p[0], p[1], p[2])
	y1, b1, r1 := roughly(p[4], p[5], p[6])
	y2, b2, r2 := roughly(q[0], q[1], q[2])
	y3, b3, r3 := roughly(q[4], q[5], q[6])
	chroma := variation(b0, b1, b2, b3) + variation(r0, r1, r2, r3)
	return chroma > squaresAlone && chroma > 4*variation(y0, y1, y2, y3)
}

// roughly is the luma of a pixel and how far its chroma lies to blue and to red, in code values.
func roughly(red, green, blue uint8) (y, b, r int32) {
	k, l, m := int32(red), int32(green), int32(blue)
	return (77*k + 150*l + 29*m) >> 8, (-43*k - 85*l + 128*m) >> 8, (128*k - 107*l - 21*m) >> 8
}

// variation is the sum of the squares of how far each of four values lies from their mean.
func variation(a, b, c, d int32) int32 {
	sum := a + b + c + d
	return a*a + b*b + c*c + d*d - sum*sum/4
}

// alike reports whether two by two pixels differ too little, in red, green and blue, for their chroma to
// stand out: it lies within a range that is no wider than the widest of theirs, and the squares of
// four distances from their mean are no more than that of their range.
func alike(p, q *[8]byte) bool {
	for c := range 3 {
		a, b, d, e := p[c], p[4+c], q[c], q[4+c]
		if max(a, b, d, e)-min(a, b, d, e) > aloneFrom {
			return false
		}
	}
	return true
}
