package raster

import (
	"image"
	"image/color"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
)

// Reading pixels without a value on the heap gives what Go's own colour model gives, for
// every kind of picture.
func TestPixelsAreReadAsTheColourModelHasThem(t *testing.T) {
	noise := rand.New(rand.NewPCG(3, 3))
	r := image.Rect(2, 3, 20, 17)
	kinds := []interface {
		image.Image
		Set(x, y int, c color.Color)
	}{image.NewNRGBA64(r), image.NewRGBA64(r), image.NewNRGBA(r), image.NewRGBA(r), image.NewGray16(r), image.NewPaletted(r, color.Palette{color.NRGBA{9, 200, 3, 77}, color.White, color.Transparent})}
	for _, m := range kinds {
		for y := r.Min.Y; y < r.Max.Y; y++ {
			for x := r.Min.X; x < r.Max.X; x++ {
				m.Set(x, y, color.NRGBA64{uint16(noise.Uint32()), uint16(noise.Uint32()), uint16(noise.Uint32()), uint16(noise.Uint32())})
			}
		}
		at := straight(m)
		for y := r.Min.Y; y < r.Max.Y; y++ {
			for x := r.Min.X; x < r.Max.X; x++ {
				assert.Equal(t, color.NRGBA64Model.Convert(m.At(x, y)), at(x, y), "%T", m)
			}
		}
		assert.Zero(t, testing.AllocsPerRun(10, func() { at(5, 5) }), "%T", m)
	}
}
