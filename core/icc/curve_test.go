package icc_test

import (
	"encoding/binary"
	"image"
	"image/color"
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/icc"
	"mivlet/core/light"
	"mivlet/internal/pinned"
)

// parametric is a curve of a kind (10.18).
func parametric(kind uint16, p ...float64) []byte {
	return append(binary.BigEndian.AppendUint16([]byte("para\x00\x00\x00\x00"), kind), append([]byte{0, 0}, fixed(p...)...)...)
}

// The functions of ICC.1:2022, table 68, at the points where they change over and around them.
func TestParametricCurves(t *testing.T) {
	const g, a, b, c, d, e, f = 1.75, 0.875, 0.125, 0.25, 0.1875, 0.0625, 0.03125
	power := func(x float64) float64 { return math.Pow(a*x+b, g) }
	for kind, is := range map[uint16]struct {
		with []float64
		want func(x float64) float64
	}{
		0: {[]float64{g}, func(x float64) float64 { return math.Pow(x, g) }},
		1: {[]float64{g, a, -b}, func(x float64) float64 {
			if x >= b/a {
				return math.Pow(a*x-b, g)
			}
			return 0
		}},
		2: {[]float64{g, a, -b, c}, func(x float64) float64 {
			if x >= b/a {
				return math.Pow(a*x-b, g) + c
			}
			return c
		}},
		3: {[]float64{g, a, b, c, d}, func(x float64) float64 {
			if x >= d {
				return power(x)
			}
			return c * x
		}},
		4: {[]float64{g, a, b, c, d, e, f}, func(x float64) float64 {
			if x >= d {
				return power(x) + e
			}
			return c*x + f
		}},
	} {
		tag := parametric(kind, is.with...)
		curve, size := icc.ReadCurve(tag)
		require.NotNil(t, curve, kind)
		assert.Equal(t, len(tag), size)
		for _, x := range []float64{0, 0.01, b / a, d, 0.2, 0.5, 0.9, 1} {
			assert.InDelta(t, is.want(x), curve(x), 1e-4, "kind %d at %v", kind, x)
		}
		short, _ := icc.ReadCurve(tag[:len(tag)-1])
		assert.Nil(t, short, "kind %d lacks a byte", kind)
	}
	for _, none := range [][]byte{parametric(5, 1, 1, 1, 1, 1, 1, 1), []byte("curv"), []byte("other\x00\x00\x00\x00\x00\x00\x00")} {
		curve, _ := icc.ReadCurve(none)
		assert.Nil(t, curve)
	}
	// sRGB's own curve (IEC 61966-2-1) is of kind 3.
	srgb, _ := icc.ReadCurve(parametric(3, 2.4, 1/1.055, 0.055/1.055, 1/12.92, 0.04045))
	for v := range 256 {
		assert.InDelta(t, light.Linear(float64(v)/255), srgb(float64(v)/255), 2e-4)
	}
}

// Curves that are told by samples (10.6) give each of them where it stands, and go straight between.
func TestSampledCurves(t *testing.T) {
	samples := []uint16{0, 1000, 60000, 20000, 65535}
	tag := binary.BigEndian.AppendUint32([]byte("curv\x00\x00\x00\x00"), uint32(len(samples)))
	for _, v := range samples {
		tag = binary.BigEndian.AppendUint16(tag, v)
	}
	curve, size := icc.ReadCurve(append(tag, 1, 2, 3))
	require.NotNil(t, curve)
	assert.Equal(t, len(tag), size, "what follows is not its own")
	for i, v := range samples {
		assert.InDelta(t, float64(v)/65535, curve(float64(i)/4), 1e-9)
		if i > 0 {
			assert.InDelta(t, (float64(v)+float64(samples[i-1]))/2/65535, curve((float64(i)-0.5)/4), 1e-9)
			assert.InDelta(t, (0.75*float64(v)+0.25*float64(samples[i-1]))/65535, curve((float64(i)-0.25)/4), 1e-9)
		}
	}
	assert.InDelta(t, 0, curve(-1), 1e-9)
	assert.InDelta(t, 1, curve(2), 1e-9)
	less, _ := icc.ReadCurve(tag[:len(tag)-1])
	assert.Nil(t, less)
	same, size := icc.ReadCurve([]byte("curv\x00\x00\x00\x00\x00\x00\x00\x00"))
	assert.Equal(t, 12, size)
	assert.InDelta(t, 0.3, same(0.3), 1e-9)
	gamma, size := icc.ReadCurve([]byte("curv\x00\x00\x00\x00\x00\x00\x00\x01\x02\x33"))
	assert.Equal(t, 14, size)
	assert.InDelta(t, math.Pow(0.3, 2.19921875), gamma(0.3), 1e-9)
}

// A part of a picture comes out as that part of the whole, whatever it is kept in.
func TestPartsComeOutAsTheWhole(t *testing.T) {
	n := rand.New(rand.NewPCG(3, 3))
	grid := icc.Read(profile("RGB ", "Lab ", lut8()))
	require.NotNil(t, grid)
	clear, full := image.NewNRGBA(image.Rect(0, 0, 17, 11)), image.NewRGBA(image.Rect(0, 0, 17, 11))
	for i := range clear.Pix {
		clear.Pix[i], full.Pix[i] = byte(n.Uint32()), byte(n.Uint32())
		if i%4 == 3 {
			full.Pix[i] = 255
		}
	}
	for _, m := range []interface {
		image.Image
		SubImage(image.Rectangle) image.Image
	}{clear, full} {
		all := grid.Convert(m)
		for _, r := range []image.Rectangle{image.Rect(3, 2, 9, 10), image.Rect(16, 0, 17, 11)} {
			part := grid.Convert(m.SubImage(r))
			from := part.Bounds().Min
			for y := range r.Dy() {
				for x := range r.Dx() {
					assert.Equal(t, color.NRGBAModel.Convert(all.At(r.Min.X+x, r.Min.Y+y)), color.NRGBAModel.Convert(part.At(from.X+x, from.Y+y)))
				}
			}
		}
		for y := range 11 {
			for x := range 17 {
				_, _, _, a := m.At(x, y).RGBA()
				_, _, _, b := all.At(x, y).RGBA()
				assert.Equal(t, a, b, "opacity stays")
			}
		}
	}
	assert.Nil(t, grid.Convert(image.NewCMYK(image.Rect(0, 0, 2, 2))), "inks are not what it is for")
}

func TestTablesAsBefore(t *testing.T) {
	tags := map[string][]byte{"8": lut8(), "16": lut16(), "all": elements(true), "few": elements(false)}
	for name, tag := range tags {
		table := icc.ReadTable(profile("RGB ", "Lab ", tag))
		require.NotNil(t, table, name)
		pinned.Hold(t, "table-"+name, 20, func(seed uint64) any {
			n := rand.New(rand.NewPCG(seed, 4))
			var all [][3]float64
			for range 30 {
				all = append(all, table.XYZ([]float64{n.Float64(), n.Float64(), n.Float64()}))
			}
			return append(all, table.XYZ([]float64{0, 0, 0}), table.XYZ([]float64{1, 1, 1}), table.XYZ([]float64{1, 0, float64(seed) / 19}))
		})
	}
}
