package contrast_test

import (
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"testing"

	"github.com/stretchr/testify/assert"

	"mivlet/core/contrast"
)

func grey(v uint8) color.RGBA { return color.RGBA{v, v, v, 255} }

func plain(w, h int, c color.Color) *image.RGBA {
	m := image.NewRGBA(image.Rect(0, 0, w, h))
	draw.Draw(m, m.Rect, image.NewUniform(c), image.Point{}, draw.Src)
	return m
}

// WCAG 2.2: black on white has 21 to 1. Technique G18 and its well-known neighbours: #767676
// is the lightest grey with 4.5 to 1 on white, #949494 the lightest with 3 to 1 (common
// practice); pure red on white has 4.0, blue 8.6 (computed from the definition by hand).
func TestRatiosOfTheStandard(t *testing.T) {
	white := contrast.Luminance(grey(255))
	on := func(c color.RGBA) float64 { return contrast.Ratio(contrast.Luminance(c), white) }
	assert.InDelta(t, 21, on(grey(0)), 1e-9)
	assert.InDelta(t, 1, on(grey(255)), 1e-9)
	assert.GreaterOrEqual(t, on(grey(0x76)), 4.5)
	assert.Less(t, on(grey(0x77)), 4.5)
	assert.GreaterOrEqual(t, on(grey(0x94)), 3.0)
	assert.Less(t, on(grey(0x95)), 3.0)
	assert.InDelta(t, 3.998, on(color.RGBA{255, 0, 0, 255}), 0.001)
	assert.InDelta(t, 8.592, on(color.RGBA{0, 0, 255, 255}), 0.001)
	assert.InDelta(t, 1.372, on(color.RGBA{0, 255, 0, 255}), 0.001)
	assert.Equal(t, contrast.Ratio(0.2, 0.7), contrast.Ratio(0.7, 0.2))
}

// A half of black over white is #808080 (Compositing and Blending Level 1: values of sRGB
// are mixed as they are), and white on that has 3.95 to 1.
func TestShadeIsMixedAsABrowserMixes(t *testing.T) {
	b := contrast.Behind(plain(32, 32, color.White), 1)
	assert.InDelta(t, 1, b.Least(contrast.Shade{}), 1e-9)
	assert.InDelta(t, contrast.Ratio(1, contrast.Luminance(grey(128))), b.Least(contrast.Shade{Percent: 50}), 0.02)
	assert.InDelta(t, 21, b.Least(contrast.Shade{Percent: 100}), 1e-9)
	dark := contrast.Behind(plain(32, 32, color.Black), 1)
	ink := contrast.Luminance(contrast.DarkText)
	assert.InDelta(t, contrast.Ratio(0, ink), dark.Least(contrast.Shade{Light: true}), 1e-9)
	assert.InDelta(t, contrast.Ratio(1, ink), dark.Least(contrast.Shade{Light: true, Percent: 100}), 1e-9)
	assert.Equal(t, b.Least(contrast.Shade{Percent: 100}), b.Least(contrast.Shade{Percent: 130}), "no more than all of it")
}

// The worst place counts, wherever it lies, also at the far edge; a speck does not, and what
// lies outside of the text's areas does not.
func TestTheWorstPlaceBehindTheText(t *testing.T) {
	whole := contrast.Behind(plain(203, 101, grey(20)), 1).Least(contrast.Shade{})
	for _, spot := range []image.Rectangle{image.Rect(0, 0, 16, 16), image.Rect(187, 85, 203, 101), image.Rect(96, 48, 112, 64)} {
		m := plain(203, 101, grey(20))
		draw.Draw(m, spot, image.White, image.Point{}, draw.Src)
		assert.InDelta(t, 1, contrast.Behind(m, 1).Least(contrast.Shade{}), 0.01, "%v", spot)
		assert.Greater(t, contrast.Behind(m, 1, image.Rect(120, 10, 180, 80)).Least(contrast.Shade{}), whole-0.01, "%v is not behind the text", spot)
	}
	m := plain(203, 101, grey(20))
	m.Set(50, 50, color.White)
	assert.InDelta(t, whole, contrast.Behind(m, 1).Least(contrast.Shade{}), 1.3, "one speck of %v", image.Pt(50, 50))
	assert.Equal(t, 21.0, contrast.Behind(m, 1, image.Rect(500, 500, 600, 600)).Least(contrast.Shade{}), "nothing lies behind it")
}

// A copy with other pixels for the same CSS px is looked at by patches of the same size; what
// is no RGBA is read, too.
func TestPatchesGoByCSSPixels(t *testing.T) {
	m := plain(64, 64, grey(20))
	draw.Draw(m, image.Rect(0, 0, 8, 8), image.White, image.Point{}, draw.Src)
	coarse, fine := contrast.Behind(m, 1).Least(contrast.Shade{}), contrast.Behind(m, 0.5).Least(contrast.Shade{})
	assert.Greater(t, coarse, fine, "8 px are a quarter of a patch at 1, and a patch at 0.5")
	assert.InDelta(t, 1, fine, 1e-9)
	grayer := image.NewGray(image.Rect(3, 3, 40, 40))
	draw.Draw(grayer, grayer.Rect, image.NewUniform(grey(0x76)), image.Point{}, draw.Src)
	assert.InDelta(t, 4.54, contrast.Behind(grayer, 1).Least(contrast.Shade{}), 0.01)
	assert.Equal(t, contrast.Behind(m, 0.001).Least(contrast.Shade{}), 1.0, "a patch is at least a pixel")
}

// Where a picture is transparent its ground is seen: half of white over the dark ground of the
// site, #26343a, is #929a9d.
func TestTransparentPicturesOnTheirGround(t *testing.T) {
	t.Parallel()
	m := image.NewNRGBA(image.Rect(0, 0, 32, 32))
	draw.Draw(m, m.Rect, image.NewUniform(color.NRGBA{255, 255, 255, 128}), image.Point{}, draw.Src)
	dark := contrast.Behind(contrast.On(contrast.Shade{}.Ground(), m), 1).Least(contrast.Shade{})
	assert.InDelta(t, contrast.Ratio(1, contrast.Luminance(color.RGBA{0x93, 0x9a, 0x9d, 255})), dark, 0.03)
	clear := image.NewNRGBA(image.Rect(0, 0, 32, 32))
	for _, s := range []contrast.Shade{{}, {Light: true}} {
		got := contrast.Behind(contrast.On(s.Ground(), clear), 1).Least(s)
		assert.InDelta(t, contrast.Ratio(contrast.Luminance(s.Ground()), contrast.Luminance(s.Text())), got, 1e-9)
		assert.Greater(t, got, 12.0, "text can be read before the picture is there")
	}
	opaque := plain(8, 8, color.White)
	assert.Equal(t, image.Image(opaque), contrast.On(grey(0), opaque), "what is opaque is left as it is")
}

// What is enough is enough, and one percent less is not.
func TestEnoughIsTheLeast(t *testing.T) {
	for _, light := range []bool{false, true} {
		for _, need := range []float64{contrast.ForLargeText, contrast.ForText} {
			for _, v := range []uint8{0, 60, 128, 200, 255} {
				b := contrast.Behind(plain(40, 40, grey(v)), 1)
				s := contrast.Enough(light, need, contrast.Behind(plain(20, 20, grey(128)), 1), b)
				assert.GreaterOrEqual(t, b.Least(s), need, "%v %v", light, v)
				assert.Equal(t, light, s.Light)
				if s.Percent > 0 {
					s.Percent--
					other := contrast.Behind(plain(20, 20, grey(128)), 1)
					assert.Less(t, min(b.Least(s), other.Least(s)), need, "%v %v", light, v)
				}
			}
		}
	}
	assert.Zero(t, contrast.Enough(false, contrast.ForText).Percent, "nothing lies behind it")
}

func ExampleEnough() {
	sky := contrast.Behind(plain(390, 260, color.RGBA{0x9c, 0xc4, 0xe4, 0xff}), 1)
	fmt.Printf("%.1f\n", sky.Least(contrast.Shade{}))
	s := contrast.Enough(false, contrast.ForText, sky)
	fmt.Printf("%d %% of black: %.1f\n", s.Percent, sky.Least(s))
	// Output:
	// 1.8
	// 39 % of black: 4.6
}
