package landing_test

import (
	"bytes"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/page"
	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/desk/landing"
	"mivlet/desk/pages"
	"mivlet/desk/pictures"
)

// Two photos that were dropped into a gap are finished one after the other, named by the house
// or by hand; what a name is refused for leaves the description.
func TestFinish(t *testing.T) {
	b := desktest.Fresh(t)
	var at []landing.Place
	gap := page.Gap{}
	for n, name := range []string{"IMG_0001.JPG", "IMG_0002.JPG"} {
		block, err := b.Pages.Land(b.PageID, pages.Target{Gap: gap}, name, bytes.NewReader(desktest.Photo(900, 600, uint64(40+n))))
		require.NoError(t, err)
		at = append(at, landing.Place{Block: block})
		gap = page.Behind(block)
	}
	picture := func(n int) uint {
		view, err := b.Pages.Page(b.PageID)
		require.NoError(t, err)
		block, ok := view.Doc.Block(at[n].Block)
		require.True(t, ok)
		return block.Placement.Picture
	}
	next, err := b.Landing.Finish(b.PageID, at[0], "Boats wait at the jetty", "")
	require.NoError(t, err)
	assert.Equal(t, &at[1], next)
	first := b.PictureOf(picture(0))
	assert.Equal(t, "Boats wait at the jetty", first.Work.Alt)
	assert.Regexp(t, `^juniors-.*boats-wait`, first.Name)

	_, err = b.Landing.Finish(b.PageID, at[1], "A kettle on the fire", "My Photo!!")
	var refused *pictures.NameRefusal
	require.ErrorAs(t, err, &refused)
	assert.Equal(t, "A kettle on the fire", b.PictureOf(picture(1)).Work.Alt)
	next, err = b.Landing.Finish(b.PageID, at[1], "A kettle on the fire", refused.Proposal)
	require.NoError(t, err)
	assert.Nil(t, next)
	assert.Equal(t, refused.Proposal, b.PictureOf(picture(1)).Name)

	// A name that a picture has stays where none is typed.
	_, err = b.Landing.Finish(b.PageID, at[1], "A kettle boils", "")
	require.NoError(t, err)
	assert.Equal(t, refused.Proposal, b.PictureOf(picture(1)).Name)
	_, err = b.Landing.Finish(b.PageID, landing.Place{Block: "nowhere"}, "x", "")
	desktest.Refusal(t, err, access.Missing, "taken this picture off")
}
