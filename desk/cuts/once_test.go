package cuts_test

import (
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/page"
	"mivlet/desk/desktest"
	"mivlet/store"
)

// Several pages may be published at once that one picture stands for.
func TestTheSameCutsAtOnceAreMadeOnce(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	pic := b.PictureOf(b.Ready("juniors-boat", 1))
	var all sync.WaitGroup
	made := make([][][]store.Cut, 6)
	errs := make([]error, len(made))
	for i := range made {
		all.Go(func() { made[i], errs[i] = b.Cuts.CutsOfStill(b.Rules(), pic, page.CoverSlots) })
	}
	all.Wait()
	for i := range made {
		require.NoError(t, errs[i])
		require.Len(t, made[i], len(page.CoverSlots))
		for n := range made[i] {
			for k, c := range made[i][n] {
				assert.Equal(t, made[0][n][k].Hash, c.Hash)
			}
		}
	}
	kept, err := b.Kept.AllCuts(pic.ID)
	require.NoError(t, err)
	assert.Len(t, kept, 2*len(page.CoverSlots))
}
