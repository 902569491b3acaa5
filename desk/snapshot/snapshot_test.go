package snapshot_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/rules"
	"mivlet/desk/desktest"
	"mivlet/desk/snapshot"
)

// What somebody has seen is one text, which names every version that it depends on.
func TestWhatWasSeenIsWrittenDown(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	picture := b.Ready("juniors-boat", 1)
	b.Place(picture)
	n, err := b.Snapshot.Snap(b.PageID)
	require.NoError(t, err)
	seen := n.Seen()
	assert.Equal(t, seen, snapshot.ParseSeen(seen.String()))
	assert.Contains(t, seen.Pictures, picture)
	require.NoError(t, b.Snapshot.ChangedSince(b.Kept, b.PageID, seen))
	for _, broken := range []string{"", "1", "x.y", "1.2.3", "1.2.3-x", "-1.2", "99999999999999999999.1"} {
		assert.Empty(t, snapshot.ParseSeen(broken).Pictures, broken)
	}

	require.NoError(t, desktest.Describe(b.Desk, picture, "Another boat on a lake"))
	assert.Error(t, b.Snapshot.ChangedSince(b.Kept, b.PageID, seen), "the picture was changed")
	n, err = b.Snapshot.Snap(b.PageID)
	require.NoError(t, err)
	b.UnderRules(func(r *rules.Rules) { r.Words.LongestAlt = 90 })
	assert.Error(t, b.Snapshot.ChangedSince(b.Kept, b.PageID, n.Seen()), "the rules were")
}

// A page differs from what is live when something changes that visitors would see, and no
// longer when it is live.
func TestWhenAPageDiffers(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	picture := b.Ready("juniors-boat", 1)
	b.Place(picture)
	differs := func() bool {
		n, err := b.Snapshot.Snap(b.PageID)
		require.NoError(t, err)
		return n.Differs()
	}
	b.GoLive()
	assert.False(t, differs())
	require.NoError(t, desktest.Describe(b.Desk, picture, "Another boat on a lake"))
	assert.True(t, differs())
	b.GoLive()
	assert.False(t, differs())
}
