package landing_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/page"
	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/desk/landing"
	"mivlet/desk/pages"
)

// What is written over somebody else's words is refused with both, whichever line it is.
func TestLinesWrittenWhereTheyStand(t *testing.T) {
	b := desktest.Fresh(t)
	picture := b.Ready("juniors-start", 1)
	at := landing.Place{Block: b.Place(picture)}
	caption := func() string {
		block, ok := b.PageView().Doc.Block(at.Block)
		require.True(t, ok)
		return block.Placement.Caption
	}
	clash := func(err error, block, mine, theirs string) {
		t.Helper()
		var c *pages.TextClash
		require.ErrorAs(t, err, &c)
		assert.Equal(t, &pages.TextClash{Block: block, Mine: mine, Theirs: theirs, Mark: theirs}, c)
	}

	was := b.PageView().Doc.Title
	require.NoError(t, b.Landing.Retitle(b.PageID, was, "  Boats \n at dawn "))
	assert.Equal(t, "Boats at dawn", b.PageView().Doc.Title)
	clash(b.Landing.Retitle(b.PageID, was, "Mine"), "title", "Mine", "Boats at dawn")
	require.NoError(t, b.Landing.Retitle(b.PageID, was, "Boats at dawn"), "the same again is none")
	desktest.Refusal(t, b.Landing.Retitle(b.PageID, "Boats at dawn", " \u200b "), access.Bad, "needs a title")

	require.NoError(t, b.Landing.Caption(b.PageID, at, "Quiet", " **Quiet**\nagain "))
	assert.Equal(t, "**Quiet** again", caption())
	clash(b.Landing.Caption(b.PageID, at, "Quiet", "Mine"), "caption:"+at.Block+":0", "Mine", "**Quiet** again")
	require.NoError(t, b.Landing.Caption(b.PageID, at, "**Quiet** again", ""))
	assert.Empty(t, caption())
	desktest.Refusal(t, b.Landing.Caption(b.PageID, at, "", strings.Repeat("long ", 500)), access.Bad, "too long")
	desktest.Refusal(t, b.Landing.Caption(b.PageID, landing.Place{Block: at.Block, Nth: 1}, "", "x"), access.Missing, "taken this picture off")

	// A description is the usual one of the picture, until the page has one of its own.
	usual := b.PictureOf(picture).Work.Alt
	require.NoError(t, b.Landing.Describe(b.PageID, at, usual, "Two boats"))
	assert.Equal(t, "Two boats", b.PictureOf(picture).Work.Alt)
	clash(b.Landing.Describe(b.PageID, at, usual, "Mine"), "alt:"+at.Block+":0", "Mine", "Two boats")
	block, _ := b.PageView().Doc.Block(at.Block)
	own := *block.Placement
	own.Alt = "Only here"
	require.NoError(t, b.Pages.SetPlacement(b.PageID, at.Block, 0, block.Mark(), own))
	require.NoError(t, b.Landing.Describe(b.PageID, at, "Only here", "Here it is dawn"))
	block, _ = b.PageView().Doc.Block(at.Block)
	assert.Equal(t, []string{"Here it is dawn", "Two boats"}, []string{block.Placement.Alt, b.PictureOf(picture).Work.Alt})
	clash(b.Landing.Describe(b.PageID, at, "Only here", "Mine"), "alt:"+at.Block+":0", "Mine", "Here it is dawn")

	// Places that wait, and albums, have no words of their own.
	waits, err := b.Pages.AddBlock(b.PageID, page.Gap{}, page.Picture, "", "")
	require.NoError(t, err)
	desktest.Refusal(t, b.Landing.Caption(b.PageID, landing.Place{Block: waits}, "", "x"), access.Missing, "taken this picture off")
}
