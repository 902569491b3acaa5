package landing_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/page"
	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/desk/landing"
)

// Two photos stand as a pair with one act, and apart again with one undo.
func TestPicturesOfAPageBecomeAPair(t *testing.T) {
	b := desktest.Fresh(t)
	low := b.Place(b.Ready("juniors-turn", 2))
	top := b.Place(b.Ready("juniors-start", 1))
	before := b.PageView().Doc
	at, err := b.Landing.Together(b.PageID, low, page.Pair)
	require.NoError(t, err)
	assert.Equal(t, landing.Place{Block: top, Nth: 1}, at)
	pair, ok := b.PageView().Doc.Block(top)
	require.True(t, ok)
	assert.Equal(t, page.Pair, pair.Kind)
	assert.Len(t, pair.Pictures, 2)
	b.GoLive()
	assert.Len(t, b.Images(), 2)
	steps := b.PageView().Steps
	require.NoError(t, b.Pages.PageStep(b.PageID, b.PageView().Version, steps[len(steps)-2].Seq))
	assert.Equal(t, before.Blocks, b.PageView().Doc.Blocks)
	_, err = b.Landing.Together(b.PageID, low, page.Album)
	desktest.Refusal(t, err, access.Bad, "cannot stand together")
	_, err = b.Landing.Together(b.PageID, "nowhere", page.Strip)
	desktest.Refusal(t, err, access.Missing, "Fewer than two")
	at, err = b.Landing.Together(b.PageID, low, page.Strip)
	require.NoError(t, err)
	assert.Equal(t, landing.Place{Block: top, Nth: 1}, at)
}
