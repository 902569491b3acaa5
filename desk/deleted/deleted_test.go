package deleted_test

import (
	"context"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/desk/pages"
	"mivlet/desk/withdraw"
	"mivlet/store"
)

// clashes asserts that something is refused for what else is there, and returns the reason.
func clashes(t *testing.T, err error) string {
	t.Helper()
	r, ok := desktest.AsRefusal(err)
	require.True(t, ok, "%v", err)
	require.Equal(t, access.Clash, r.Kind)
	return r.What
}

// A page that visitors see is not deleted; one that they do not is, and comes back as it was.
func TestDeletingAPageAndBringingItBack(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	pic := b.Ready("juniors-boat", 1)
	b.Place(pic)
	b.GoLive()
	assert.Contains(t, clashes(t, b.Deleted.Delete(b.PageID)), "Visitors see ")
	require.NoError(t, b.Publish.TakePageOff(b.PageID))
	was := b.PageView()
	require.NoError(t, b.Deleted.Delete(b.PageID))

	_, err := b.Pages.Page(b.PageID)
	assert.ErrorContains(t, err, "The page is not here")
	all, err := b.Deleted.Pages()
	require.NoError(t, err)
	require.Len(t, all, 1)
	assert.Equal(t, was.Slug, all[0].Slug)
	v, err := b.Bench.View(pic)
	require.NoError(t, err)
	assert.Equal(t, store.Bench, v.Station, "its picture is free")

	again, err := b.Pages.NewPage(was.Section, was.Doc.Title, "empty")
	require.NoError(t, err, "its address is free")
	require.NoError(t, b.Deleted.BringBack(b.PageID))
	now := b.PageView()
	assert.Equal(t, was.Slug+"-2", now.Slug, "beside the page that has its address by now")
	assert.Equal(t, was.Doc, now.Doc)
	assert.Equal(t, was.Steps, now.Steps)
	require.NoError(t, b.Deleted.Delete(again))
	assert.Equal(t, store.Shelf, must(b.Kept.Picture(pic)).Station)
	b.GoLive()
}

func must[V any](v V, err error) V {
	if err != nil {
		panic(err)
	}
	return v
}

// A picture that was thrown away meanwhile leaves its place empty, and one that was erased leaves
// nothing in a deleted page either.
func TestADeletedPageComesBackWithoutWhatIsGone(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	thrown, erased, stays := b.Ready("juniors-boat", 1), b.Ready("juniors-oar", 2), b.Ready("juniors-lake", 3)
	for _, id := range []uint{thrown, erased, stays} {
		b.Place(id)
	}
	require.NoError(t, b.Pages.Edit(b.PageID, pages.Newest, "words", func(doc page.Doc) (page.Doc, error) { return doc, nil }))
	require.NoError(t, b.Deleted.Delete(b.PageID))
	require.NoError(t, b.Shelves.ThrowAway(thrown))
	_, err := b.Withdraw.Erase(context.Background(), erased, withdraw.Erasing{Why: "They asked for it in writing."})
	require.NoError(t, err)
	kept, err := b.Kept.DroppedPage(b.PageID)
	require.NoError(t, err)
	assert.NotContains(t, kept.Doc.Pictures(), erased)
	free, err := b.Kept.IsPlaced(stays)
	require.NoError(t, err)
	assert.False(t, free, "erasing has brought nothing of it back")

	require.NoError(t, b.Deleted.BringBack(b.PageID))
	assert.Equal(t, []uint{stays}, b.PageView().Doc.Pictures())
	assert.Equal(t, store.Shelf, must(b.Kept.Picture(stays)).Station)
}

// What was deleted is kept as long as the house rules say, and no longer.
func TestDeletedPagesLeaveForGood(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	require.NoError(t, b.Deleted.Delete(b.PageID))
	days := time.Duration(b.Rules().Limits.BinDays) * 24 * time.Hour
	b.SetTime(b.Time().Add(days - time.Hour))
	n, err := b.Deleted.EmptyBin()
	require.NoError(t, err)
	assert.Zero(t, n)
	b.SetTime(b.Time().Add(2 * time.Hour))
	n, err = b.Deleted.EmptyBin()
	require.NoError(t, err)
	assert.Equal(t, 1, n)
	assert.Error(t, b.Deleted.BringBack(b.PageID))
}

// A page of a section that is not there any more waits for it.
func TestADeletedPageNeedsItsSection(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	without := b.Rules().Sections
	attic := rules.Section{Code: "attic", Title: "Attic", Sign: without[0].Sign, Folder: "attic"}
	b.UnderRules(func(r *rules.Rules) { r.Sections = append(slices.Clone(without), attic) })
	id, err := b.Pages.NewPage("attic", "Old oars", "empty")
	require.NoError(t, err)
	require.NoError(t, b.Deleted.Delete(id))
	b.UnderRules(func(r *rules.Rules) { r.Sections = without })
	assert.Contains(t, clashes(t, b.Deleted.BringBack(id)), `"attic" is not there any more`)
	b.UnderRules(func(r *rules.Rules) { r.Sections = append(slices.Clone(without), attic) })
	require.NoError(t, b.Deleted.BringBack(id))
}

// Deleted pages of other sections are neither listed nor brought back.
func TestDeletedPagesOfOthers(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	id, err := b.Pages.NewPage("juniors", "Spring", "empty")
	require.NoError(t, err)
	require.NoError(t, b.Deleted.Delete(id))
	other := b.Elsewhere()
	seen, err := other.Deleted.Pages()
	require.NoError(t, err)
	assert.Empty(t, seen)
	r, ok := desktest.AsRefusal(other.Deleted.BringBack(id))
	require.True(t, ok)
	assert.Equal(t, access.Forbidden, r.Kind)
}
