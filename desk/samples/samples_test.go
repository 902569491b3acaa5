package samples_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/page"
	"mivlet/core/words"
	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/store"
)

// waiting are the pictures on the bench that no page has.
func waiting(t *testing.T, b *desktest.Fixture) []store.Picture {
	t.Helper()
	all, err := b.Kept.PicturesAt(store.Bench)
	require.NoError(t, err)
	return slices.DeleteFunc(all, func(p store.Picture) bool {
		placed, err := b.Kept.IsPlaced(p.ID)
		require.NoError(t, err)
		return placed
	})
}

// The samples come in once, the page could go live at once, and all of it goes in one act.
func TestSamplesComeAndGo(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	id, err := b.Samples.Begin("juniors")
	require.NoError(t, err)
	again, err := b.Samples.Begin("juniors")
	require.NoError(t, err)
	assert.Equal(t, id, again)
	now, err := b.Samples.Now()
	require.NoError(t, err)
	assert.Equal(t, 3, now.Pictures)
	v, err := b.Pages.Page(id)
	require.NoError(t, err)
	assert.Len(t, v.Doc.Pictures(), 1)
	for _, f := range v.Findings {
		assert.NotEqual(t, words.Stop, f.Level, "%v", f)
	}
	assert.Len(t, waiting(t, b), 2, "two wait to be placed")

	_, err = b.Elsewhere().Samples.Remove()
	r, ok := desktest.AsRefusal(err)
	require.True(t, ok)
	assert.Equal(t, access.Forbidden, r.Kind, "others do not remove them")

	out, err := b.Samples.Remove()
	require.NoError(t, err)
	assert.Equal(t, 3, out.Pictures)
	now, err = b.Samples.Now()
	require.NoError(t, err)
	assert.False(t, now.Any())
	binned, err := b.Kept.PicturesAt(store.Bin)
	require.NoError(t, err)
	assert.Len(t, binned, 3)
	another, err := b.Samples.Begin("juniors")
	require.NoError(t, err, "they come again, while those of before are in the bin")
	assert.NotEqual(t, id, another)
	for _, p := range binned {
		require.NoError(t, b.Shelves.BringBack(p.ID))
	}
	require.NoError(t, b.Deleted.BringBack(id), "both come back")
}

// What somebody has used by then is theirs, and stays.
func TestSamplesInUseStay(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	id, err := b.Samples.Begin("juniors")
	require.NoError(t, err)
	waiting := waiting(t, b)
	_, err = b.Pages.Insert(b.PageID, page.Behind("a"), page.Placement{Picture: waiting[0].ID, Slot: "column"})
	require.NoError(t, err)
	held, err := b.Albums.Begin("juniors", "Boards", []uint{waiting[1].ID})
	require.NoError(t, err)
	require.NotZero(t, held)
	out, err := b.Samples.Remove()
	require.NoError(t, err)
	assert.Equal(t, 1, out.Pictures)
	require.Len(t, out.Stay, 2)
	assert.Contains(t, out.String(), "stay")
	_, err = b.Pages.Page(id)
	assert.Error(t, err)
	p, err := b.Kept.Picture(waiting[0].ID)
	require.NoError(t, err)
	assert.NotEqual(t, store.Bin, p.Station)
}

// A sample page that visitors see is not removed under them, and nothing else is then either.
func TestALiveSampleIsTakenOffFirst(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	id, err := b.Samples.Begin("juniors")
	require.NoError(t, err)
	b.PageID = id
	b.GoLive()
	_, err = b.Samples.Remove()
	r, ok := desktest.AsRefusal(err)
	require.True(t, ok)
	assert.Equal(t, access.Clash, r.Kind)
	now, err := b.Samples.Now()
	require.NoError(t, err)
	assert.Equal(t, 3, now.Pictures, "all of it, or nothing")
}
