package pages_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/page"
	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/store"
)

func TestPlacingAndTakingOff(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	id := b.Ready("juniors-boat", 1)
	block := b.Place(id)
	assert.Equal(t, store.Shelf, b.PictureOf(id).Station)
	v := b.PageView()
	require.Len(t, v.Blocks, 3)
	assert.Equal(t, block, v.Blocks[1].ID)
	desktest.Refusal(t, b.Shelves.ThrowAway(id), access.Clash, "Autumn")

	require.NoError(t, b.Pages.TakeOff(b.PageID, block, 0, b.MarkOf(block)))
	assert.Equal(t, store.Bench, b.PictureOf(id).Station, "back on the bench, not lost")
	v = b.PageView()
	assert.Len(t, v.Blocks, 2)
	require.NoError(t, b.Pages.PageStep(b.PageID, v.Version, v.Step-1), "and undo puts it back")
	v = b.PageView()
	assert.Len(t, v.Blocks, 3)
	assert.Equal(t, store.Shelf, b.PictureOf(id).Station)

	require.NoError(t, b.Pages.SetPlacement(b.PageID, block, 0, b.MarkOf(block), page.Placement{Slot: "side", Side: page.Left, Caption: " Still "}))
	p := b.PageView().Blocks[1].Placement
	assert.Equal(t, page.Placement{Picture: id, Slot: "side", Side: page.Left, Caption: "Still"}, *p)
}

func TestPlacingIsRefusedWithItsReason(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	raw := b.Arrive("DSC_0001.JPG", desktest.Photo(1600, 1000, 1))
	_, err := b.Pages.Insert(b.PageID, page.Gap{}, page.Placement{Picture: raw.ID, Slot: "column"})
	desktest.Refusal(t, err, access.Bad, "only just arrived")
	id := b.Ready("juniors-boat", 2)
	_, err = b.Pages.Insert(b.PageID, page.Gap{}, page.Placement{Picture: id, Slot: "column", Side: page.Left})
	desktest.Refusal(t, err, access.Bad, "no text has room beside it")
	desktest.Refusal(t, b.Pages.TakeOff(b.PageID, "a", 0, b.MarkOf("a")), access.Missing, "not on the page")
	assert.Len(t, b.PageView().Blocks, 2)
}
