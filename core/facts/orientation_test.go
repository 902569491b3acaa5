package facts_test

import (
	"image"
	"testing"

	"github.com/stretchr/testify/assert"

	"mivlet/core/facts"
	"mivlet/core/fit"
)

// What is carried to the stored pixels and back is where it was, in all eight ways.
func TestThereAndBack(t *testing.T) {
	stored := fit.Size{W: 40, H: 30}
	for o := facts.Upright; o <= facts.Turn90AntiClocks; o++ {
		for _, p := range []image.Point{{}, {X: 7, Y: 3}, {X: 21, Y: 29}} {
			assert.Equal(t, p, o.ToUpright(o.ToStored(p, stored), stored), "%d", o)
		}
		r := image.Rect(2, 3, 11, 27)
		assert.Equal(t, r, o.RectToUpright(o.RectToStored(r, stored), stored), "%d", o)
	}
}
