package house_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/desk/house"
)

// What other formats would save is told by trying it on photos of pages, and weighs what the files weigh; a
// house without photos on pages is told so.
func TestTryLighter(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	b.UnderRules(func(r *rules.Rules) {
		r.ServeUpTo(1) // files that are quickly made show the same
		for i := range r.Slots {
			r.Slots[i].Width = min(r.Slots[i].Width, 240)
		}
	})
	_, err := b.House.TryLighter()
	desktest.Refusal(t, err, access.Missing, "No photo")
	one, two := b.Ready("juniors-one", 1), b.Ready("juniors-two", 2)
	b.Place(one)
	b.Place(two)
	s, err := b.House.TryLighter()
	require.NoError(t, err)
	assert.Equal(t, 2, s.Pictures)
	require.Len(t, s.In, 2)
	for _, in := range s.In {
		assert.Positive(t, in.Then, in.Format)
		assert.LessOrEqual(t, in.Then, s.Before, "where it is lighter")
		assert.Equal(t, int(100*in.Then/s.Before), in.Percent)
		assert.GreaterOrEqual(t, in.Then, s.Least().Then)
	}
	slot, _ := b.Rules().Slot("column")
	var before, then int64 // what a usual desktop loads of them
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
	i := slices.IndexFunc(s.In, func(in house.Saving) bool { return in.Format == "webp" })
	assert.Equal(t, []int64{before, then}, []int64{s.Before, s.In[i].Then})
}
