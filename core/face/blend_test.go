package face

import (
	"image"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	scaled "golang.org/x/image/draw"
)

// Blending is what golang.org/x/image/draw calls ApproxBiLinear, to three of 255, larger and smaller, also in a part of a
// picture and at its rims; the weights here are 256ths.
func TestBlendingIsBilinear(t *testing.T) {
	t.Parallel()
	dice := rand.New(rand.NewPCG(8, 8))
	whole := image.NewRGBA(image.Rect(0, 0, 90, 70))
	for i := range whole.Pix {
		whole.Pix[i] = uint8(dice.IntN(256))
	}
	for _, from := range []image.Rectangle{whole.Rect, image.Rect(3, 5, 40, 41), image.Rect(7, 7, 8, 30), image.Rect(9, 9, 60, 10), image.Rect(80, 60, 81, 61)} {
		m := whole.SubImage(from).(*image.RGBA)
		for _, size := range []image.Point{{113, 97}, from.Size(), {1, 1}, {33, 24}, {1, 50}, {200, 3}} {
			got := blended(m, size)
			want := image.NewRGBA(image.Rectangle{Max: size})
			scaled.ApproxBiLinear.Scale(want, want.Rect, m, m.Rect, scaled.Src, nil)
			for i := range want.Pix {
				if diff := int(got.Pix[i]) - int(want.Pix[i]); diff < -3 || diff > 3 {
					t.Fatalf("%v at %v: %d, want %d (byte %d)", from, size, got.Pix[i], want.Pix[i], i)
				}
			}
			if size == from.Size() {
				for y := range size.Y {
					assert.Equal(t, m.Pix[y*m.Stride:][:4*size.X], got.Pix[y*got.Stride:][:4*size.X], "nothing changes")
				}
			}
		}
	}
	// One colour stays that colour, to the bit.
	for _, v := range []uint8{0, 1, 127, 128, 254, 255} {
		m := image.NewRGBA(image.Rect(0, 0, 5, 4))
		for i := range m.Pix {
			m.Pix[i] = v
		}
		for _, p := range blended(m, image.Pt(17, 9)).Pix {
			assert.Equal(t, v, p)
		}
	}
}

// A picture is looked at in the size that is asked for.
func TestFindAtASize(t *testing.T) {
	t.Parallel()
	photo := sample(t, 6)
	small := resized(photo, 0.8)
	all := FindAt(small, photo.Rect.Max)
	assert.Len(t, all, 4)
	for i, f := range Find(photo) {
		middle := f.Bounds.Min.Add(f.Bounds.Max).Div(2)
		assert.True(t, middle.In(all[i].Bounds), "%v lies in %v", middle, all[i].Bounds)
	}
	assert.Empty(t, FindAt(image.NewRGBA(image.Rectangle{}), image.Pt(100, 100)))
}
