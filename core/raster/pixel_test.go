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

// A block averaged at once has the light of its pixels added one by one, wherever it begins:
// on the first or on the second of two pixels that share their chroma.
func TestBlocksAddUpTheirPixels(t *testing.T) {
	noise := rand.New(rand.NewPCG(5, 5))
	for _, ratio := range []image.YCbCrSubsampleRatio{image.YCbCrSubsampleRatio420, image.YCbCrSubsampleRatio422, image.YCbCrSubsampleRatio444} {
		m := image.NewYCbCr(image.Rect(0, 0, 40, 8), ratio)
		for _, plane := range [][]uint8{m.Y, m.Cb, m.Cr} {
			for i := range plane {
				plane[i] = uint8(noise.Uint32())
			}
		}
		add := adder(m, true, srgb)
		for k := 2; k < 10; k++ {
			for x0 := range 4 {
				for x1 := x0 + 1; x1 <= 40; x1 += 5 {
					single, blocks := make([]float32, 3*(x1-x0)), make([]float32, 3*((x1-x0+k-1)/k))
					add(single, 3, x0, x1, 1)
					add(blocks, 3, x0, x1, k)
					for i := range blocks {
						var sum float32
						for j := range k {
							if at := (i/3*k+j)*3 + i%3; at < len(single) {
								sum += single[at]
							}
						}
						assert.InDelta(t, sum, blocks[i], 1e-5, "%v: blocks of %d from %d to %d", ratio, k, x0, x1)
					}
				}
			}
		}
	}
}

// What is opaque is what the standard library says: for pictures of any width, with one pixel that is not, or
// none, and for parts of larger pictures.
func TestOpaqueIsTheLibrarys(t *testing.T) {
	for w := 1; w < 12; w++ {
		whole := image.NewNRGBA(image.Rect(0, 0, w+2, 5))
		for i := range whole.Pix {
			whole.Pix[i] = uint8(i)
			if i%4 == 3 {
				whole.Pix[i] = 255
			}
		}
		m := whole.SubImage(image.Rect(1, 1, w+1, 4)).(*image.NRGBA)
		rgba := &image.RGBA{Pix: m.Pix, Stride: m.Stride, Rect: m.Rect}
		assert.True(t, opaque(m) && opaque(rgba))
		for y := range 5 {
			for x := range w + 2 {
				whole.Pix[y*whole.Stride+4*x+3] = 254
				assert.Equal(t, m.Opaque(), opaque(m), "%d × 3, not opaque at %d, %d", w, x-1, y-1)
				assert.Equal(t, rgba.Opaque(), opaque(rgba))
				whole.Pix[y*whole.Stride+4*x+3] = 255
			}
		}
	}
}
