package publish_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/desk/shelves"
)

// A picture that visitors see is not thrown away silently; it is taken off everywhere,
// published and thrown away in one go, or not at all.
func TestThrowingAwayWhatIsLive(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	picture := b.Ready("juniors-boat", 1)
	block := b.Place(picture)
	b.GoLive()
	require.NoError(t, b.Pages.TakeOff(b.PageID, block, 0, b.MarkOf(block))) // off the draft, and still live
	err := b.Shelves.ThrowAway(picture)
	var used *shelves.OnPages
	require.ErrorAs(t, err, &used)
	assert.Contains(t, used.What, "Autumn (live)")
	assert.True(t, used.Uses[0].OnLive && !used.Uses[0].OnDraft)
	desktest.Refusal(t, b.Publish.ThrowAwayFrom(t.Context(), picture, desktest.PlainLayout), access.Clash, "other changes")
	require.NoError(t, b.Pages.PageStep(b.PageID, b.PageView().Version, b.PageView().Undo()))

	b.GoLive()
	src := b.Images()[0].AttrOr("src", "")
	require.NoError(t, b.Publish.ThrowAwayFrom(t.Context(), picture, desktest.PlainLayout))
	assert.Empty(t, b.Images())
	assert.False(t, b.PageView().Differs)
	status, _ := b.Visit(src)
	assert.Equal(t, 410, status)
	binned, err := b.Pictures.Binned()
	require.NoError(t, err)
	assert.Len(t, binned, 1)
	desktest.Refusal(t, b.Pages.PageStep(b.PageID, b.PageView().Version, b.PageView().Undo()), access.Missing, "thrown away")
}
