package raster_test

import (
	"bytes"
	"image"
	"image/color"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/raster"
	"mivlet/core/veil"
)

// Small cuts that are made of the halves of what a large one wants are as true to cuts of all pixels as
// those that are decoded for themselves.
func TestHalvesLookTheSame(t *testing.T) {
	for name, at := range hard {
		data, known := jpegOf(t, 2400, 700, at)
		all, err := raster.Decode(bytes.NewReader(data), known, limits)
		require.NoError(t, err)
		work := func(width int) raster.Transform {
			return raster.Transform{From: all.Upright().Rect(), Size: fit.ByWidth(all.Upright(), width), Turn: facts.Upright}
		}
		cuts := []raster.Transform{work(140), work(290), work(600)}
		most, err := raster.DecodeFor(bytes.NewReader(data), known, limits, raster.Most(all.Upright(), cuts))
		require.NoError(t, err)
		require.Equal(t, 4, most.Eighths(), "half of its size, so that the smaller ones are made of a quarter and an eighth")
		scales := raster.NewScales(most, known)
		for _, w := range cuts {
			alone, err := raster.DecodeFor(bytes.NewReader(data), known, limits, w.Needs(all.Upright()))
			require.NoError(t, err)
			want, got, other := all.Do(w), scales.Do(w), alone.Do(w)
			assert.GreaterOrEqual(t, raster.SSIM(want, got), raster.SSIM(want, other)-0.001, "%s at %d", name, w.Size.W)
			assert.GreaterOrEqual(t, bluePSNR(want, got), min(bluePSNR(want, other)-0.5, 45), "%s at %d", name, w.Size.W)
		}
	}
}

// Each of several cuts of a picture with something hidden is the same whatever that is, turned and
// straightened, too; and it looks as it does when it is made alone, of all pixels.
func TestHalvesTellNothingOfWhatIsHidden(t *testing.T) {
	stored := fit.Size{W: 1201, H: 803}
	v := veil.Veil{Shape: veil.Rect, Bounds: image.Rect(333, 222, 467, 301), Style: veil.Cover, Reason: veil.Number}
	made := func(inside color.RGBA, o facts.Orientation, straighten float64, veils ...veil.Veil) (pixels [][]byte) {
		hidden := o.RectToStored(v.Bounds, stored).Inset(1)
		data, known := jpegOf(t, stored.W, stored.H, func(x, y int, r *rand.Rand) color.RGBA {
			if c := hard["noise"](x, y, r); !image.Pt(x, y).In(hidden) {
				return c
			}
			return inside
		})
		known.Orientation = o
		src, err := raster.Decode(bytes.NewReader(data), known, limits)
		require.NoError(t, err)
		scales := raster.NewScales(src, known)
		for _, width := range []int{60, 130, 290, 520} {
			w := raster.Transform{From: src.Upright().Rect(), Size: fit.ByWidth(src.Upright(), width), Turn: facts.Upright, Straighten: straighten, Veils: veils}
			m := scales.Do(w)
			assert.GreaterOrEqual(t, raster.SSIM(src.Do(w), m), 0.99, "%d px, orientation %d", width, o)
			pixels = append(pixels, m.(*image.RGBA).Pix)
		}
		return pixels
	}
	red, blue := color.RGBA{255, 0, 0, 255}, color.RGBA{0, 40, 255, 255}
	for _, o := range []facts.Orientation{facts.Upright, facts.Turn90Clockwise} {
		for _, straighten := range []float64{0, 3} {
			assert.Equal(t, made(red, o, straighten, v), made(blue, o, straighten, v), "orientation %d, %v degrees", o, straighten)
		}
	}
	assert.NotEqual(t, made(red, facts.Upright, 0), made(blue, facts.Upright, 0), "without the veil they differ")
}
