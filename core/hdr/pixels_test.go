package hdr_test

import (
	"image"
	"image/color"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"

	"mivlet/core/hdr"
	"mivlet/internal/pinned"
)

// coloured is a picture by chance of sixteen bits for each channel, some of it transparent.
func coloured(seed uint64, w, h int) *image.NRGBA64 {
	n := rand.New(rand.NewPCG(seed, 8))
	m := image.NewNRGBA64(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			c := color.NRGBA64{uint16(n.Uint32()), uint16(n.Uint32()), uint16(n.Uint32()), 0xFFFF}
			switch n.IntN(6) {
			case 0:
				c.A = uint16(n.Uint32())
			case 1:
				c.A = 0
			case 2: // dark, where eyes tell most apart
				c.R, c.G, c.B = c.R/8, c.G/8, c.B/8
			}
			m.SetNRGBA64(x, y, c)
		}
	}
	return m
}

// A part of a picture comes out as that part of the whole, wherever it lies, and what is half
// transparent has the colour that it has where it is not.
func TestPartsComeOutAsTheWhole(t *testing.T) {
	m := coloured(1, 19, 13)
	all := hdr.Convert(m, "Rec. 2020 "+hdr.PQ)
	for _, r := range []image.Rectangle{image.Rect(0, 0, 19, 13), image.Rect(4, 3, 15, 12), image.Rect(18, 0, 19, 13), image.Rect(0, 12, 19, 13)} {
		part := hdr.Convert(m.SubImage(r), "Rec. 2020 "+hdr.PQ)
		assert.Equal(t, image.Rectangle{Max: r.Size()}, part.Rect)
		for y := range r.Dy() {
			for x := range r.Dx() {
				assert.Equal(t, all.NRGBAAt(r.Min.X+x, r.Min.Y+y), part.NRGBAAt(x, y))
			}
		}
	}
	for y := range 13 {
		for x := range 19 {
			c := m.NRGBA64At(x, y)
			got := all.NRGBAAt(x, y)
			assert.Equal(t, uint8(c.A>>8), got.A)
			if c.A < 0x1000 {
				continue
			}
			c.A = 0xFFFF
			one := image.NewNRGBA64(image.Rect(0, 0, 1, 1))
			one.SetNRGBA64(0, 0, c)
			want := hdr.Convert(one, "Rec. 2020 "+hdr.PQ).NRGBAAt(0, 0)
			for _, v := range [][2]uint8{{want.R, got.R}, {want.G, got.G}, {want.B, got.B}} {
				assert.InDelta(t, v[0], v[1], 3, "what is multiplied by opacity loses some of its last bits")
			}
		}
	}
	assert.Empty(t, hdr.Convert(image.NewNRGBA64(image.Rectangle{}), "Rec. 2020 "+hdr.PQ).Pix)
}

func TestConvertAsBefore(t *testing.T) {
	pinned.Hold(t, "converted", 12, func(seed uint64) any {
		name := []string{"Rec. 2020 ", "Display P3 ", "sRGB "}[seed%3] + []string{hdr.PQ, hdr.HLG}[seed/3%2]
		return hdr.Convert(coloured(seed, 40, 30), name).Pix
	})
}
