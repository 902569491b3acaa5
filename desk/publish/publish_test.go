package publish_test

import (
	"context"
	"errors"
	"fmt"
	"image"
	"io"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/facts"
	"mivlet/core/page"
	"mivlet/desk"
	"mivlet/desk/access"
	"mivlet/desk/bench"
	"mivlet/desk/desktest"
	"mivlet/desk/publish"
	"mivlet/desk/visit"
	"mivlet/store"
)

// A page without pictures is checked by its words: nothing is counted that is not there.
func TestAPageWithoutPictures(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	report, err := b.Publish.Publish(context.Background(), b.PageID, b.PageView().Seen, "", desktest.PlainLayout)
	require.NoError(t, err)
	assert.True(t, report.OK(), "%+v", report.Checks)
	for _, c := range report.Checks {
		assert.NotRegexp(t, `(^| )0( |$)`, c.Text)
	}
}

func TestPublishing(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	id := b.Ready("juniors-boat", 1)
	b.Place(id)
	report, err := b.Publish.Publish(context.Background(), b.PageID, b.PageView().Seen, "", desktest.PlainLayout)
	require.NoError(t, err)
	assert.True(t, report.OK(), "%+v", report.Checks)
	v := b.PageView()
	assert.True(t, v.Live())
	assert.False(t, v.Differs)
	require.NotNil(t, v.Report)

	// A change on the bench shows on the pages that want publishing again.
	require.NoError(t, b.Bench.SetFrame(id, image.Rect(0, 0, 1000, 1000), facts.Upright))
	assert.True(t, b.PageView().Differs)
	counts, err := b.Pages.Counts()
	require.NoError(t, err)
	assert.EqualValues(t, 1, counts.Changed)

	// What says stop is refused, and visitors still see the page as it was.
	before := b.LivePage()
	require.NoError(t, desktest.Describe(b.Desk, id, ""))
	_, err = b.Publish.Publish(context.Background(), b.PageID, b.PageView().Seen, "", desktest.PlainLayout)
	desktest.Refusal(t, err, access.Bad, "juniors-boat is not ready")
	assert.Equal(t, before, b.LivePage())

	require.NoError(t, desktest.Describe(b.Desk, id, "A boat, framed square"))
	_, err = b.Publish.Publish(context.Background(), b.PageID, b.PageView().Seen, "", desktest.PlainLayout)
	require.NoError(t, err)
	assert.Contains(t, b.LivePage(), "A boat, framed square")
	assert.NotEqual(t, before, b.LivePage())
}

func TestALayoutThatFailsPublishesNothing(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	b.Place(b.Ready("juniors-boat", 1))
	_, err := b.Publish.Publish(context.Background(), b.PageID, b.PageView().Seen, "", func(io.Writer, publish.SitePage) error { return errors.New("no layout") })
	require.ErrorContains(t, err, "no layout")
	_, err = b.Publish.Published("/juniors/autumn", "")
	assert.ErrorIs(t, err, store.ErrNotFound)
	assert.False(t, b.PageView().Live())
}

// The check after publishing has to see what a visitor would suffer from.
func TestTheLookAgainSeesTrouble(t *testing.T) {
	t.Parallel()
	b := desktest.FreshInFolder(t, func(*desk.Options) {})
	id := b.Ready("juniors-boat", 1)
	b.Place(id)
	_, err := b.Publish.Publish(context.Background(), b.PageID, b.PageView().Seen, "", desktest.PlainLayout)
	require.NoError(t, err)
	cuts, err := b.Cuts.MakeCuts(id, "")
	require.NoError(t, err)
	file := filepath.Join(b.Dir, "files", cuts[1].Hash[:2], cuts[1].Hash)

	swap := func(data []byte) visit.Report {
		require.NoError(t, os.WriteFile(file, data, 0o600))
		r, err := b.Visits.Check(context.Background(), b.PageID)
		require.NoError(t, err)
		return r
	}
	good, err := os.ReadFile(file)
	require.NoError(t, err)
	assert.False(t, swap(desktest.Photo(100, 80, 1)).OK(), "another size than the page says")
	assert.False(t, swap([]byte("gone")).OK(), "no picture at all")
	withComment := append(append(append([]byte{}, good[:2]...), 0xFF, 0xFE, 0, 6, 's', 'e', 'c', 'r'), good[2:]...)
	assert.False(t, swap(withComment).OK(), "something hidden inside")
	assert.True(t, swap(good).OK())
	require.NoError(t, os.Remove(file))
	r, err := b.Visits.Check(context.Background(), b.PageID)
	require.NoError(t, err)
	assert.False(t, r.OK(), "a file that does not come")
}

// An animation goes live as one: a small copy that stands still is the classic
// mishap.
func TestAnAnimationGoesLiveMoving(t *testing.T) {
	t.Parallel()
	if testing.Short() {
		t.Skip("slow")
	}
	b := desktest.Fresh(t)
	data, err := os.ReadFile("../../demo/pictures/paddle-stroke.gif")
	require.NoError(t, err)
	a := b.Arrive("paddle-stroke.gif", data)
	require.NoError(t, b.Bench.Send([]uint{a.ID}, bench.Assignment{Slot: "side", Section: "juniors"}))
	require.NoError(t, b.Pictures.SetName(a.ID, "juniors-paddle-stroke"))
	require.NoError(t, desktest.Describe(b.Desk, a.ID, "One paddle stroke, from the side"))
	block, err := b.Pages.Insert(b.PageID, page.Behind("a"), page.Placement{Picture: a.ID, Slot: "side"})
	require.NoError(t, err)
	assert.NotEmpty(t, block)
	report, err := b.Publish.Publish(context.Background(), b.PageID, b.PageView().Seen, "", desktest.PlainLayout)
	require.NoError(t, err)
	assert.True(t, report.OK(), "%+v", report.Checks)
	cuts, err := b.Cuts.MakeCuts(a.ID, "side")
	require.NoError(t, err)
	f, err := b.Cuts.OpenCut(cuts[0].Hash)
	require.NoError(t, err)
	defer f.Close()
	cut, err := facts.Read(f)
	require.NoError(t, err)
	assert.Equal(t, 24, cut.Frames)
	assert.Equal(t, a.Facts.DurationMS, cut.DurationMS)
	assert.Equal(t, 300, cut.Stored.W)
	assert.Contains(t, fmt.Sprint(report.Checks), "Held still: ")
	slot, ok := b.Desk.House.Rules().Slot("side")
	require.True(t, ok)
	now, err := b.Store.Picture(a.ID)
	require.NoError(t, err)
	still, err := b.Cuts.CutsOf(now, slot.Still())
	require.NoError(t, err)
	for _, c := range still {
		assert.Contains(t, []string{"image/jpeg", "image/png"}, c.MediaType, "nothing moves in it")
		f, err := b.Cuts.OpenCut(c.Hash)
		require.NoError(t, err)
		kept, err := facts.Read(f)
		f.Close()
		require.NoError(t, err)
		assert.LessOrEqual(t, kept.Frames, 1)
	}
}
