package raster

import (
	"image"

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
	b := m.Bounds()
	areas := 0
	alone := make([]int, b.Dx()/2/areaWide+1)
	for y := 0; y+1 < b.Dy(); y += 2 {
		if y/2%areaHigh == 0 {
			clear(alone)
		}
		upper, lower := m.Pix[y*m.Stride:][:4*b.Dx()], m.Pix[(y+1)*m.Stride:][:4*b.Dx()]
		for x := 0; x+7 < len(upper); x += 8 {
			p := [4]*[4]byte{(*[4]byte)(upper[x:]), (*[4]byte)(upper[x+4:]), (*[4]byte)(lower[x:]), (*[4]byte)(lower[x+4:])}
			var sums, squares [3]int32 // luma, blue and red
			for _, c := range p {
				r, g, bl := int32(c[0]), int32(c[1]), int32(c[2])
				for i, v := range [3]int32{(77*r + 150*g + 29*bl) >> 8, (-43*r - 85*g + 128*bl) >> 8, (128*r - 107*g - 21*bl) >> 8} {
					sums[i] += v
					squares[i] += v * v
				}
			}
			for i := range squares {
				squares[i] -= sums[i] * sums[i] / 4
			}
			chroma := squares[1] + squares[2]
			if chroma > squaresAlone && chroma > 4*squares[0] {
				if alone[x/8/areaWide]++; alone[x/8/areaWide] == manyAlone {
					areas++
				}
			}
		}
	}
	return areas
}
