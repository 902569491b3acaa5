package raster_test

import (
	"bytes"
	"fmt"
	"image"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/raster"
	"mivlet/core/veil"
)

// Cuts of a part are the same to the pixel when no more than the part is decoded: however the picture
// is turned, at every scale, and for smaller cuts made of larger ones.
func TestCutsOfAPartNeedNoMore(t *testing.T) {
	data, stored := jpegOf(t, 803, 607, hard["noise"])
	for o := facts.Upright; o <= facts.Turn90AntiClocks; o++ {
		known := stored
		known.Orientation = o
		whole := known.Upright()
		for _, part := range []image.Rectangle{
			image.Rect(0, 0, whole.W, 151), image.Rect(133, 217, 555, 501), image.Rect(whole.W-350, whole.H-251, whole.W, whole.H), image.Rect(401, 3, 603, 607),
		} {
			for _, widths := range [][]int{{30}, {65, 15}, {120, 30}, {190, 95, 20}} {
				t.Run(fmt.Sprintf("%d/%v/%v", o, part, widths), func(t *testing.T) {
					t.Parallel()
					var cuts []raster.Transform
					for _, width := range widths {
						cuts = append(cuts, raster.Transform{From: part, Size: fit.ByWidth(fit.SizeOf(part), width), Turn: facts.Upright})
					}
					want := raster.Most(whole, cuts)
					require.Equal(t, part, raster.Reads(cuts))
					all, err := raster.DecodeFor(bytes.NewReader(data), known, limits, want)
					require.NoError(t, err)
					some, err := raster.DecodePart(bytes.NewReader(data), known, limits, want, part)
					require.NoError(t, err)
					assert.True(t, all.Whole())
					assert.False(t, some.Whole())
					assert.Less(t, some.Bytes(), all.Bytes())
					assert.Equal(t, all.Upright(), some.Upright())
					assert.Equal(t, all.Eighths(), some.Eighths())
					before, after := raster.NewScales(all, known), raster.NewScales(some, known)
					for _, w := range cuts {
						require.Equal(t, before.Do(w), after.Do(w), "%v", w.Size)
					}
				})
			}
		}
	}
}

// What needs all of a picture says so.
func TestWhatReadsTheWhole(t *testing.T) {
	part := raster.Transform{From: image.Rect(10, 20, 30, 40), Size: fit.Size{W: 5, H: 5}, Turn: facts.Upright}
	other := raster.Transform{From: image.Rect(20, 0, 50, 40), Size: fit.Size{W: 5, H: 5}, Turn: facts.Upright}
	assert.Equal(t, image.Rect(10, 0, 50, 40), raster.Reads([]raster.Transform{part, other}))
	turned, veiled := part, part
	turned.Straighten = 2
	veiled.Veils = []veil.Veil{{Shape: veil.Rect, Bounds: image.Rect(12, 22, 14, 24), Style: veil.Cover, Reason: veil.Number}}
	assert.Zero(t, raster.Reads([]raster.Transform{other, turned}))
	assert.Zero(t, raster.Reads([]raster.Transform{other, veiled}))
}

// A file of another kind is decoded whole, and says so.
func TestPartsOfOtherFiles(t *testing.T) {
	m := image.NewRGBA(image.Rect(0, 0, 90, 70))
	for i := range m.Pix {
		m.Pix[i] = uint8(i*7) | 3
	}
	e, err := raster.Encode(m, raster.Options{Format: raster.PNG})
	require.NoError(t, err)
	known, err := facts.Read(bytes.NewReader(e.Data))
	require.NoError(t, err)
	s, err := raster.DecodePart(bytes.NewReader(e.Data), known, limits, fit.Size{}, image.Rect(10, 10, 30, 30))
	require.NoError(t, err)
	assert.True(t, s.Whole())
	assert.Equal(t, fit.Size{W: 90, H: 70}, s.Decoded())
}
