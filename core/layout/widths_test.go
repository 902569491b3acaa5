package layout_test

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"mivlet/core/layout"
)

// A picture that is as wide as the text: 640 CSS px, and on a phone 15 less on each side.
func ExampleWidths() {
	fmt.Println(layout.Widths(func(viewport int) float64 { return math.Min(640, float64(viewport-30)) }, []float64{1, 2, 3}))
	// Output: [360 640 720 1080 1280 1920]
}

// Widths that are near each other become the larger one, worked out by hand; there are never more
// than six.
func TestWidthsForScreens(t *testing.T) {
	upTo := func(px float64) func(int) float64 {
		return func(viewport int) float64 { return math.Min(px, float64(viewport-30)) }
	}
	assert.Equal(t, []int{300, 600, 900}, layout.Widths(upTo(300), []float64{1, 2, 3}), "the same everywhere")
	assert.Equal(t, []int{360, 738, 1080, 1476, 2214, 2880}, layout.Widths(upTo(960), []float64{1, 2, 3}), "960 and 1920 lie nearest to others")
	assert.Equal(t, []int{360, 640, 720, 1280}, layout.Widths(upTo(640), []float64{1, 2}))
	assert.Empty(t, layout.Widths(func(int) float64 { return 0 }, []float64{1, 2}))
}

// Whatever a layout does, every screen finds a file that is wide enough, and the widest is no wider
// than wanted.
func TestEveryScreenIsServed(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		most := rapid.Float64Range(40, 2000).Draw(t, "most")
		share := rapid.Float64Range(0.1, 1).Draw(t, "share")
		shown := func(viewport int) float64 { return math.Min(most, share*float64(viewport)) }
		all := layout.Widths(shown, []float64{1, 2, 3})
		assert.LessOrEqual(t, len(all), layout.MostWidths)
		for _, v := range []int{390, 768, 1280, 1920} {
			for _, d := range []float64{1, 2, 3} {
				need := shown(v) * d
				assert.GreaterOrEqual(t, float64(all[len(all)-1])+0.02, need)
				assert.LessOrEqual(t, float64(all[len(all)-1]), math.Ceil(3*shown(1920))+0.02)
			}
		}
		for i := range len(all) - 1 {
			assert.Greater(t, float64(all[i+1]), 1.1*float64(all[i]), "%v", all)
		}
	})
}
