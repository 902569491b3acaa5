package cuts_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/desk/access"
	"mivlet/desk/desktest"
)

func TestCutsOfTheBatch(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	one := b.Ready("juniors-one", 1)
	two := b.Ready("juniors-two", 2)
	require.NoError(t, b.Bench.SetAlso(two, "thumb", true))
	job, err := b.Bench.CutBatch()
	require.NoError(t, err)
	job.Wait()
	p := job.Progress()
	assert.Equal(t, 3, p.Done)
	assert.Empty(t, p.Failed)
	for _, id := range []uint{one, two} {
		got, err := b.Bench.View(id)
		require.NoError(t, err)
		assert.True(t, got.Figures.Cuts[0].Exact)
	}
	_, err = b.Bench.CutBatch()
	desktest.Refusal(t, err, access.Bad, "All files of this batch are ready")
}
