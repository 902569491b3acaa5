package house_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/desk/access"
	"mivlet/desk/desktest"
)

// What other formats would save is told by trying it on photos of pages, and weighs what the files weigh; a
// house without photos on pages is told so.
func TestTryLighter(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	_, err := b.House.TryLighter()
	desktest.Refusal(t, err, access.Missing, "No photo")
	one, two := b.Ready("juniors-one", 1), b.Ready("juniors-two", 2)
	b.Place(one)
	b.Place(two)
	s, err := b.House.TryLighter()
	require.NoError(t, err)
	assert.Equal(t, 2, s.Pictures)
	slot, _ := b.Rules().Slot("column")
	weight := func(format string) (sum int64) { // what a usual desktop loads of them
		for _, id := range []uint{one, two} {
			p, err := b.Kept.Store.Picture(id)
			require.NoError(t, err)
			jpeg, err := b.Cuts.CutsOf(p, slot)
			require.NoError(t, err)
			made, err := b.Cuts.CutsOf(p, slot.As(format))
			require.NoError(t, err)
			for i, c := range jpeg {
				if c.Width == slot.Width {
					sum += min(made[i].Bytes, c.Bytes)
				}
			}
		}
		return sum
	}
	assert.Equal(t, weight("jpeg"), s.Before)
	require.Len(t, s.In, 2)
	for _, in := range s.In {
		assert.Equal(t, weight(in.Format), in.Then, in.Format)
		assert.Equal(t, int(100*in.Then/s.Before), in.Percent)
		assert.GreaterOrEqual(t, in.Then, s.Least().Then)
	}
}
