package raster

import (
	"image"
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
		for row := from; row < to; row++ {
			clear(alone)
			for y := row * high; y < min(row*high+high, m.Rect.Dy()-1); y += 2 {
				squares(m, y, alone)
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

// squares counts those of two by two pixels that stand out by their colour alone, in two rows.
func squares(m *image.RGBA, y int, alone []int) {
	upper, lower := m.Pix[y*m.Stride:][:4*m.Rect.Dx()], m.Pix[(y+1)*m.Stride:][:4*m.Rect.Dx()]
	for x := 0; x+7 < len(upper); x += 8 {
		p, q := (*[8]byte)(upper[x:]), (*[8]byte)(lower[x:])
		if alike(p, q) {
			continue
		}
		var sums, squares [3]int32 // luma, blue and red
		for _, c := range [4]*[3]byte{(*[3]byte)(p[:]), (*[3]byte)(p[4:]), (*[3]byte)(q[:]), (*[3]byte)(q[4:])} {
			r, g, b := int32(c[0]), int32(c[1]), int32(c[2])
			for i, v := range [3]int32{(77*r + 150*g + 29*b) >> 8, (-43*r - 85*g + 128*b) >> 8, (128*r - 107*g - 21*b) >> 8} {
				sums[i] += v
				squares[i] += v * v
			}
		}
		for i := range squares {
			squares[i] -= sums[i] * sums[i] / 4
		}
		chroma := squares[1] + squares[2]
		if chroma > squaresAlone && chroma > 4*squares[0] {
			alone[x/8/areaWide]++
		}
	}
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
