package pages_test

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/page"
	"mivlet/desk"
	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/desk/pages"
	"mivlet/store"
)

// Two people write on one page: different blocks join by themselves, the same
// block comes back with both texts, and nothing that was written is lost.
func TestTwoPeopleWriteOnOnePage(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	ines, odo := b.TwoPeople()
	seenA, seenB := b.MarkOf("a"), b.MarkOf("b")
	require.NoError(t, ines.Pages.SetText(b.PageID, "a", seenA, "One, by Ines."))
	require.NoError(t, odo.Pages.SetText(b.PageID, "b", seenB, "Two, by Odo."), "another block")
	err := odo.Pages.SetText(b.PageID, "a", seenA, "One, by Odo.")
	var clash *pages.TextClash
	require.ErrorAs(t, err, &clash)
	assert.Equal(t, pages.TextClash{Block: "a", Mine: "One, by Odo.", Theirs: "One, by Ines.", Mark: b.MarkOf("a")}, *clash)
	assert.Equal(t, "One, by Ines.", b.PageView().Blocks[0].Text)
	require.NoError(t, odo.Pages.SetText(b.PageID, "a", clash.Mark, "One, by both."))
	require.NoError(t, odo.Pages.SetText(b.PageID, "a", seenA, "One, by both."), "what is there already is no clash")
	assert.Equal(t, "Two, by Odo.", b.PageView().Blocks[1].Text)

	desktest.Refusal(t, ines.Pages.DropBlock(b.PageID, "a", seenA), access.Clash, "in the meantime")
	require.NoError(t, ines.Pages.DropBlock(b.PageID, "a", b.MarkOf("a")))
	desktest.Refusal(t, odo.Pages.SetText(b.PageID, "a", seenA, "Late."), access.Missing, "taken this block off")
	v := b.PageView()
	require.NoError(t, ines.Pages.PageStep(b.PageID, v.Version, v.Undo()))
	assert.Equal(t, "One, by both.", b.PageView().Blocks[0].Text, "undo brings it back")
	desktest.Refusal(t, ines.Pages.SetText(b.PageID, "a", b.MarkOf("a"), strings.Repeat("x", 65<<10)), access.Bad, "too long for one block")
}

// Many hands at once: every text that was acknowledged is on the page.
func TestNoAcknowledgedTextIsLost(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	ines, odo := b.TwoPeople()
	var wg sync.WaitGroup
	for i, d := range []*desk.Desk{ines, odo} {
		wg.Add(1)
		go func() {
			defer wg.Done()
			for n := range 10 {
				_, err := d.Pages.AddBlock(b.PageID, page.Behind("a"), page.Text, "", fmt.Sprintf("%d-%d", i, n))
				assert.NoError(t, err)
			}
		}()
	}
	wg.Wait()
	all := ""
	for _, block := range b.PageView().Blocks {
		all += " " + block.Text
	}
	for i := range 2 {
		for n := range 10 {
			assert.Contains(t, all, fmt.Sprintf(" %d-%d", i, n))
		}
	}
	assert.Len(t, b.PageView().Blocks, 22)
}

func TestPagesBeginMoveAndEnd(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	ctx := context.Background()
	arranged, err := b.Pages.NewPage("juniors", "As it was", "account")
	require.NoError(t, err)
	p, err := b.Pages.Page(arranged)
	require.NoError(t, err)
	assert.Len(t, p.Blocks, 6)
	id, err := b.Pages.NewPage("juniors", " Spring  launch ", "empty")
	require.NoError(t, err)
	p, err = b.Pages.Page(id)
	require.NoError(t, err)
	assert.Equal(t, "/juniors/spring-launch", p.Path())
	_, err = b.Pages.NewPage("juniors", "Spring launch", "empty")
	desktest.Refusal(t, err, access.Clash, "that address already")
	_, err = b.Pages.NewPage("juniors", "", "empty")
	desktest.Refusal(t, err, access.Bad, "title has")
	_, err = b.Pages.NewPage("juniors", "A", "poster")
	desktest.Refusal(t, err, access.Bad, "no arrangement")

	_, err = b.Publish.Publish(ctx, id, p.Seen, "", desktest.PlainLayout)
	require.NoError(t, err)
	require.NoError(t, b.Pages.RenamePage(id, "The launch", "launch"))
	moved, gone, err := b.Publish.Whereabouts("juniors", "spring-launch")
	require.NoError(t, err)
	assert.Equal(t, "/juniors/launch", moved)
	assert.Empty(t, gone)
	f, err := b.Publish.Published("/juniors/launch", "")
	require.NoError(t, err, "it is live at the new address at once")
	f.Close()
	require.NoError(t, b.Pages.HandOver(id, "touring"))
	moved, _, err = b.Publish.Whereabouts("juniors", "spring-launch")
	require.NoError(t, err)
	assert.Equal(t, "/touring/launch", moved, "an old address leads to where the page is now")

	copied, err := b.Pages.DuplicatePage(id)
	require.NoError(t, err)
	again, err := b.Pages.DuplicatePage(id)
	require.NoError(t, err)
	twin, err := b.Pages.Page(copied)
	require.NoError(t, err)
	assert.Equal(t, "The launch, again", twin.Doc.Title)
	assert.False(t, twin.Live())
	assert.NotEqual(t, copied, again)

	require.NoError(t, b.Publish.TakePageOff(id))
	_, gone, err = b.Publish.Whereabouts("touring", "launch")
	require.NoError(t, err)
	assert.NotEmpty(t, gone)
	_, err = b.Publish.Published("/touring/launch", "")
	assert.Error(t, err)
	desktest.Refusal(t, b.Publish.TakePageOff(id), access.Bad, "not live")
}

// The weight of a page by device is that of the files a browser takes there.
func TestThePageIsWeighed(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	b.Place(b.Ready("juniors-boat", 1)) // a column of 640, 1600 pixels wide
	weights, err := b.House.Weights(b.PageID)
	require.NoError(t, err)
	require.Len(t, weights, 3)
	made, err := b.Cuts.MakeCuts(b.PageView().Blocks[1].Placement.Picture, "column")
	require.NoError(t, err)
	wide := func(w int) store.Cut {
		return made[slices.IndexFunc(made, func(c store.Cut) bool { return c.Width == w })]
	}
	for i, c := range []struct {
		device string
		shown  int
		bytes  int64
	}{{"desktop", 640, wide(1280).Bytes}, {"tablet", 640, wide(1280).Bytes}, {"phone", 360, wide(720).Bytes}} { // 390 less 15 px left and right
		w := weights[i]
		assert.Equal(t, c.device, w.Device)
		assert.Equal(t, c.shown, w.Shares[0].Shown)
		assert.Equal(t, c.bytes, w.Bytes)
		assert.Equal(t, 100, w.Shares[0].Percent)
	}
}
