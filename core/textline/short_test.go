package textline_test

import (
	"image"
	"testing"

	"github.com/stretchr/testify/assert"

	"mivlet/core/textline"
)

// On one page of each kind the lines lie closely around the ink that was drawn: they cover
// all of it, reach no further than half a letter beyond, and know how high the letters are.
func TestLinesLieAroundTheInk(t *testing.T) {
	t.Parallel()
	for seed, p := range []page{
		{"black on white", grey(255), grey(0), 24, 0, sentences}, {"white on dark", grey(40), grey(240), 16, 0, sentences}, {"150 on 200", grey(200), grey(150), 40, 0, short},
	} {
		m, boxes := p.drawn(t, uint64(seed))
		found := textline.Find(m)
		assert.Equal(t, len(boxes), covered(found, boxes), p.name)
		for _, l := range found {
			var ink image.Rectangle
			for _, b := range boxes {
				if b.Overlaps(l.Bounds) {
					ink = ink.Union(b)
				}
			}
			reach := int(p.size) / 2
			assert.True(t, l.Bounds.In(ink.Inset(-reach)), "%s: %v reaches out of %v", p.name, l.Bounds, ink)
			assert.InDelta(t, 0.75*p.size, l.Height, 0.45*p.size, "%s: the letters of %v", p.name, l.Bounds)
			assert.GreaterOrEqual(t, l.Score, 0.2, "%s: %v", p.name, l.Bounds)
			assert.LessOrEqual(t, l.Score, 1.0)
		}
	}
}
