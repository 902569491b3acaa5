package house_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/desk/access"
	"mivlet/desk/desktest"
)

// What WebP would save is told by trying it on photos of pages, and weighs what the files weigh; a
// house without photos on pages is told so.
func TestTryLighter(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	_, err := b.House.TryLighter("webp")
	desktest.Refusal(t, err, access.Missing, "No photo")
	one, two := b.Ready("juniors-one", 1), b.Ready("juniors-two", 2)
	b.Place(one)
	b.Place(two)
	s, err := b.House.TryLighter("webp")
	require.NoError(t, err)
	assert.Equal(t, 2, s.Pictures)
	assert.Positive(t, s.Then)
	assert.LessOrEqual(t, s.Then, s.Before)
	assert.Equal(t, int(100*s.Then/s.Before), s.Percent())

	slot, _ := b.Rules().Slot("column")
	var before, then int64
	for _, id := range []uint{one, two} {
		p, err := b.Kept.Store.Picture(id)
		require.NoError(t, err)
		jpeg, err := b.Cuts.CutsOf(p, slot)
		require.NoError(t, err)
		webp, err := b.Cuts.CutsOf(p, slot.As("webp"))
		require.NoError(t, err)
		for i, c := range jpeg {
			if c.Width == slot.Width {
				before, then = before+c.Bytes, then+min(webp[i].Bytes, c.Bytes)
			}
		}
	}
	assert.Equal(t, []int64{before, then}, []int64{s.Before, s.Then}, "what a usual desktop loads of them")
}
