package cuts_test

import (
	"errors"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/desk"
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
	assert.Len(t, kept, 3*len(page.CoverSlots))
}

// Two programs may make the same cuts at the same moment: both have them, and they are kept once.
func TestTheSameCutsAtOnceInTwoPrograms(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	id := b.Ready("juniors-boat", 1)
	other, err := desk.New(&b.Kept.Store, desk.Options{})
	require.NoError(t, err)
	t.Cleanup(other.Jobs.End)
	var all sync.WaitGroup
	made := make([][]store.Cut, 2)
	errs := make([]error, 2)
	for i, d := range []*desk.Desk{b.Desk, other} {
		all.Go(func() { made[i], errs[i] = d.Cuts.MakeCuts(id, "") })
	}
	all.Wait()
	require.NoError(t, errors.Join(errs...))
	kept, err := b.Kept.AllCuts(id)
	require.NoError(t, err)
	assert.Len(t, kept, len(made[0]))
	for n := range made[0] {
		assert.Equal(t, made[0][n].Hash, made[1][n].Hash)
		assert.Equal(t, made[0][n].ID, made[1][n].ID)
	}
}

// A budget that a picture has of its own for a slot holds however its files are made.
func TestItsOwnBudgetHoldsInEveryWay(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	pic := b.PictureOf(b.Ready("juniors-boat", 41))
	slot, ok := b.Rules().Slot("column")
	require.True(t, ok)
	usual, err := b.Cuts.CutsOf(pic, slot)
	require.NoError(t, err)
	heaviest := usual[len(usual)-1].Bytes
	for n, make := range []func(rules.Rules, store.Picture, []rules.Slot) ([][]store.Cut, error){b.Cuts.CutsForAll, b.Cuts.CutsOfStill} {
		pic.Work.Budgets = map[string]int64{"column": heaviest*3/4 - int64(n)} // another for each, so that none is made already
		made, err := make(b.Rules(), pic, []rules.Slot{slot})
		require.NoError(t, err)
		for _, c := range made[0] {
			own := rules.Slot{Budget: pic.Work.Budgets["column"]}
			assert.LessOrEqual(t, c.Bytes, own.BudgetAt(c.Density))
		}
	}
}
