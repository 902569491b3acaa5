package hdr_test

import (
	"image"
	"image/color"
	"testing"

	"github.com/stretchr/testify/assert"

	"mivlet/core/hdr"
)

// Brightness of values as ITU-R BT.2408 tells it (table 1): paper white, 203, has 58 per cent of PQ and
// 75 of HLG on a screen of 1000; 100 has 51 per cent of PQ; and 10,000 is all of it (SMPTE ST 2084).
func TestPublishedValues(t *testing.T) {
	assert.InDelta(t, 203, hdr.Light(0.5807), 1)
	assert.InDelta(t, 100, hdr.Light(0.5081), 0.5)
	assert.InDelta(t, 1000, hdr.Light(0.7518), 3)
	assert.InDelta(t, 10000, hdr.Light(1), 1e-6)
	assert.Zero(t, hdr.Light(0))
	for _, l := range []float64{0.01, 1, 48, 203, 4000} {
		assert.InEpsilon(t, l, hdr.Light(hdr.Value(l)), 1e-9)
	}
	assert.InDelta(t, 1.0/12, hdr.Scene(0.5), 1e-9)
	assert.InDelta(t, 1, hdr.Scene(1), 1e-6)
	assert.InDelta(t, 0.265, hdr.Scene(0.75), 0.001)
}

// What is dark stays as it is, what is brighter grows ever less, and the brightest is white.
func TestMapped(t *testing.T) {
	for _, l := range []float64{0.5, 5, 20, 80} {
		assert.InEpsilon(t, l/203, hdr.Mapped(l), 0.001)
	}
	before := 0.0
	for l := 1.0; l <= 1000; l += 7 {
		v := hdr.Mapped(l)
		assert.Greater(t, v, before)
		before = v
	}
	assert.Greater(t, hdr.Mapped(203), 0.6)
	assert.Less(t, hdr.Mapped(203), 0.95)
	assert.InDelta(t, 1, hdr.Mapped(1000), 1e-6)
	assert.InDelta(t, 1, hdr.Mapped(9000), 1e-6)
}

func TestNamed(t *testing.T) {
	for name, want := range map[string][2]string{"Rec. 2020 PQ": {"Rec. 2020", "PQ"}, "Display P3 HLG": {"Display P3", "HLG"}, "Rec. 2020": {"Rec. 2020", ""}, "": {"", ""}} {
		primaries, transfer := hdr.Named(name)
		assert.Equal(t, want, [2]string{primaries, transfer}, name)
	}
}

// Greys stay grey, a red of sRGB stays that red, and what is transparent stays so.
func TestConvert(t *testing.T) {
	value := func(l float64) uint16 { return uint16(hdr.Value(l)*65535 + 0.5) }
	m := image.NewNRGBA64(image.Rect(3, 4, 7, 5))
	grey := value(0.2140 * 203) // half of the values of sRGB
	m.SetNRGBA64(3, 4, color.NRGBA64{grey, grey, grey, 0xFFFF})
	m.SetNRGBA64(4, 4, color.NRGBA64{grey, grey, grey, 0x8000})
	// A dark red of sRGB in Rec. 2020 (BT.2087, inverse: memory).
	m.SetNRGBA64(5, 4, color.NRGBA64{value(0.6274 * 40), value(0.0691 * 40), value(0.0164 * 40), 0xFFFF})
	m.SetNRGBA64(6, 4, color.NRGBA64{0xFFFF, 0xFFFF, 0xFFFF, 0xFFFF})
	out := hdr.Convert(m, "Rec. 2020 PQ")
	a, b, red, sun := out.NRGBAAt(0, 0), out.NRGBAAt(1, 0), out.NRGBAAt(2, 0), out.NRGBAAt(3, 0)
	assert.InDelta(t, 128, int(a.R), 1)
	assert.Equal(t, [2]uint8{a.R, a.R}, [2]uint8{a.G, a.B})
	assert.Equal(t, uint8(0x80), b.A)
	assert.InDelta(t, int(a.R), int(b.R), 1)
	assert.InDelta(t, 123, int(red.R), 2) // 40 of 203 as light is 0.197, which is 123 as a value of sRGB
	assert.Less(t, max(red.G, red.B), uint8(8))
	assert.Equal(t, color.NRGBA{255, 255, 255, 255}, sun)

	// Paper white of HLG comes to what it comes to in PQ.
	h := image.NewNRGBA64(image.Rect(0, 0, 1, 1))
	h.SetNRGBA64(0, 0, color.NRGBA64{0xBFFF, 0xBFFF, 0xBFFF, 0xFFFF})
	p := image.NewNRGBA64(h.Rect)
	p.SetNRGBA64(0, 0, color.NRGBA64{value(203), value(203), value(203), 0xFFFF})
	assert.InDelta(t, int(hdr.Convert(p, "Rec. 2020 PQ").Pix[0]), int(hdr.Convert(h, "Rec. 2020 HLG").Pix[0]), 1)
}
