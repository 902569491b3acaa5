package albums_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/store"
)

// Pictures that stand one below the other become an album in their order, with their captions;
// undo has them on the page again, and the album is kept.
func TestPicturesOfAPageBecomeAnAlbum(t *testing.T) {
	b := desktest.Fresh(t)
	first := b.Ready("juniors-start", 1)
	var blocks []string
	for _, picture := range []uint{b.Ready("juniors-finish", 3), b.Ready("juniors-turn", 2), first} { // each behind the same block: the last comes first
		blocks = append(blocks, b.Place(picture))
	}
	before := b.PageView().Doc
	made, err := b.Albums.Gather(b.PageID, blocks[1])
	require.NoError(t, err)
	block, ok := b.PageView().Doc.Block(made)
	require.True(t, ok)
	v, err := b.Albums.Of(block.Album.Album)
	require.NoError(t, err)
	assert.Equal(t, before.Title, v.Doc.Title)
	var names []string
	for _, i := range v.Items {
		names = append(names, i.Name)
		assert.Equal(t, "Quiet", i.Caption)
		assert.Equal(t, store.Shelf, b.PictureOf(i.ID).Station)
	}
	assert.Equal(t, []string{"juniors-start", "juniors-turn", "juniors-finish"}, names)
	assert.Len(t, b.PageView().Doc.Blocks, len(before.Blocks)-2)
	b.GoLive()

	steps := b.PageView().Steps
	require.NoError(t, b.Pages.PageStep(b.PageID, b.PageView().Version, steps[len(steps)-2].Seq))
	assert.Equal(t, before.Blocks, b.PageView().Doc.Unfilled().Blocks)
	_, err = b.Albums.Of(block.Album.Album)
	assert.NoError(t, err)

	// One alone is no album, and what cannot be in one leaves everything as it was.
	_, err = b.Albums.Gather(b.PageID, "a")
	desktest.Refusal(t, err, access.Missing, "Fewer than two")
	// One that stands there twice is in the album once.
	again := b.Place(first)
	made, err = b.Albums.Gather(b.PageID, again)
	require.NoError(t, err)
	block, _ = b.PageView().Doc.Block(made)
	v, err = b.Albums.Of(block.Album.Album)
	require.NoError(t, err)
	assert.Len(t, v.Items, 3)
}
