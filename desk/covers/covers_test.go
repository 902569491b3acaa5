package covers_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/fit"
	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/desk/covers"
	"mivlet/desk/desktest"
	"mivlet/desk/pages"
	"mivlet/desk/snapshot"
	"mivlet/store"
)

func faults(v covers.View) (codes []string) {
	for _, f := range v.Faults {
		codes = append(codes, f.Code)
	}
	return codes
}

func mark(t *testing.T, b *desktest.Fixture) string {
	t.Helper()
	p, err := b.Kept.Page(b.PageID)
	require.NoError(t, err)
	return pages.DetailsMark(p.Doc)
}

func TestWhatStandsForAPageAndWhy(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	of := func() covers.View {
		v, err := b.Covers.Of(b.PageID)
		require.NoError(t, err)
		return v
	}
	assert.Equal(t, page.NoCover, of().By)
	first := b.Ready("juniors-boat", 1)
	b.Place(first)
	assert.Equal(t, []any{page.CoverRule, first}, []any{of().By, of().Picture.ID})
	other := b.Ready("juniors-lake", 2)
	require.NoError(t, b.Covers.Set(b.PageID, "", other))
	assert.Equal(t, []any{page.CoverOwn, other}, []any{of().By, of().Picture.ID})
	assert.Equal(t, store.Shelf, b.PictureOf(other).Station, "it is used, so it is on the shelf")

	before := b.PictureOf(other).Work.Recipe
	require.NoError(t, b.Covers.Frame(b.PageID, mark(t, b), fit.Focus{X: 0.8, Y: 0.3}, 2))
	v := of()
	assert.InDelta(t, 0.8, v.Focus.X, 0.01, "it lies where it was put, however far the frame is drawn in")
	assert.InDelta(t, 0.3, v.Focus.Y, 0.01)
	assert.InDelta(t, 2, v.Closer, 0.01)
	assert.Equal(t, before, b.PictureOf(other).Work.Recipe, "the picture itself stays as it is")
	desktest.Refusal(t, b.Covers.Frame(b.PageID, "as somebody else saw it", fit.Centre, 1), access.Clash, "Somebody else")
	desktest.Refusal(t, b.Covers.Frame(b.PageID, mark(t, b), fit.Focus{X: 1.2}, 1), access.Bad, "from 0 to 1")
	desktest.Refusal(t, b.Covers.Set(b.PageID, "", 999), access.Missing, "picture")

	undo := b.PageView().Undo()
	require.NoError(t, b.Pages.PageStep(b.PageID, b.PageView().Version, undo))
	assert.InDelta(t, 1, of().Closer, 0.01, "one step back")
	require.NoError(t, b.Covers.Set(b.PageID, mark(t, b), 0))
	assert.Equal(t, []any{page.CoverRule, first}, []any{of().By, of().Picture.ID})
	assert.Equal(t, store.Bench, b.PictureOf(other).Station, "it is used no more")
}

func TestWhatFallsShortInACover(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	front, err := b.Covers.BeginFront("juniors", "")
	require.NoError(t, err)
	second, err := b.Covers.BeginFront("touring", "")
	require.NoError(t, err)
	picture := b.Ready("juniors-boat", 1)
	require.NoError(t, b.Covers.Set(front, "", picture))
	require.NoError(t, b.Covers.Set(second, "", picture))
	all, err := b.Covers.All()
	require.NoError(t, err)
	require.Len(t, all, 3)
	assert.Equal(t, []string{"section", "section", ""}, []string{all[0].Group, all[1].Group, all[2].Group}, "groups come first")
	assert.Equal(t, []string{"twin"}, faults(all[0]))
	assert.Equal(t, []string{"foreign", "twin"}, faults(all[1]), "it comes from another section, and the juniors have it, too")
	assert.Equal(t, "Juniors", all[1].Faults[1].Value)

	small := b.Arrive("small.jpg", desktest.Photo(390, 300, 3)).ID
	require.NoError(t, b.Covers.Set(b.PageID, "", small))
	v, err := b.Covers.Of(b.PageID)
	require.NoError(t, err)
	assert.Equal(t, []string{"soft"}, faults(v))
	assert.Equal(t, page.Tile.Title, v.Faults[0].Shape, "the thumbnails are crisp enough")
}

func TestFrontPages(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	b.UnderRules(func(r *rules.Rules) { r.Categories = []rules.Category{{Code: "events", Title: "Events"}} })
	for _, one := range []struct{ section, category, path, title string }{{"", "", "/", "Our house"}, {"juniors", "", "/juniors", "Juniors"}, {"", "events", "/events", "Events"}} {
		id, err := b.Covers.BeginFront(one.section, one.category)
		require.NoError(t, err)
		p, err := b.Kept.Page(id)
		require.NoError(t, err)
		assert.Equal(t, []any{one.path, one.title, true}, []any{p.Path(), p.Doc.Title, p.Front()})
		assert.Len(t, p.Doc.Lists(), 1, "it begins with a list")
		_, err = b.Covers.BeginFront(one.section, one.category)
		desktest.Refusal(t, err, access.Clash, "address")
		require.NoError(t, b.Pages.RenamePage(id, "Another title", "elsewhere"))
		p, err = b.Kept.Page(id)
		require.NoError(t, err)
		assert.Equal(t, one.path, p.Path(), "a front page stays where it is")
		desktest.Refusal(t, b.Pages.HandOver(id, "touring"), access.Bad, "front page")
		v, err := b.Pages.Page(id)
		require.NoError(t, err)
		_, err = b.Publish.Publish(t.Context(), id, v.Seen, "", desktest.PlainLayout)
		require.NoError(t, err)
		status, _ := b.Visit(one.path)
		assert.Equal(t, 200, status)
	}
	for _, wrong := range [][2]string{{"juniors", "events"}, {"nobody", ""}, {"", "nothing"}} {
		_, err := b.Covers.BeginFront(wrong[0], wrong[1])
		desktest.Refusal(t, err, access.Bad, "")
	}
}

func TestBlanksAreFilledInOrder(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	second, err := b.Pages.NewPage("juniors", "Second", "empty")
	require.NoError(t, err)
	one, two := b.Ready("juniors-boat", 1), b.Ready("juniors-lake", 2)
	n, err := b.Covers.Fill([]uint{second, b.PageID}, []uint{one, two, two})
	require.NoError(t, err)
	assert.Equal(t, 2, n)
	v, err := b.Covers.Of(second)
	require.NoError(t, err)
	assert.Equal(t, one, v.Picture.ID)
	n, err = b.Covers.Fill([]uint{second, 999, b.PageID}, []uint{two, two, one})
	desktest.Refusal(t, err, access.Missing, "page")
	assert.Equal(t, 1, n, "what came before stays")
	_, err = b.Covers.Fill(nil, []uint{one})
	desktest.Refusal(t, err, access.Bad, "blanks")
}

func TestWhatASharedLinkShows(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	shown := func() []any {
		v := b.PageView()
		return []any{v.SharedBy, v.Shared}
	}
	assert.Equal(t, []any{snapshot.NoLink, ""}, shown())
	live := func(section, name string, seed uint64) {
		id, err := b.Covers.BeginFront(section, "")
		require.NoError(t, err)
		require.NoError(t, b.Covers.Set(id, "", b.Ready(name, seed)))
		v, err := b.Pages.Page(id)
		require.NoError(t, err)
		_, err = b.Publish.Publish(t.Context(), id, v.Seen, "", desktest.PlainLayout)
		require.NoError(t, err)
	}
	live("", "juniors-house", 1)
	assert.Equal(t, []any{snapshot.LinkHouse, "juniors-house"}, shown())
	live("juniors", "juniors-section", 2)
	assert.Equal(t, []any{snapshot.LinkSection, "juniors-section"}, shown())
	b.Place(b.Ready("juniors-boat", 3))
	assert.Equal(t, []any{snapshot.LinkCover, "juniors-boat"}, shown())
	r := b.GoLive()
	assert.True(t, r.OK(), "%v", r.Checks)
	said := ""
	for _, c := range r.Checks {
		said += c.Text + "\n"
	}
	assert.Contains(t, said, "Its link picture: 1200 × 630", "as a reader of shared links gets it")
}

func TestALinkPictureOfItsOwn(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	first, other := b.Ready("juniors-boat", 1), b.Ready("juniors-lake", 2)
	b.Place(first)
	b.GoLive()
	of := func() (snapshot.LinkBy, uint) {
		v, by, err := b.Covers.OfLink(b.PageID)
		require.NoError(t, err)
		return by, v.Picture.ID
	}
	by, id := of()
	assert.Equal(t, []any{snapshot.LinkCover, first}, []any{by, id})
	was, _, err := b.Kept.Card(b.PageID)
	require.NoError(t, err)
	require.NoError(t, b.Covers.SetLink(b.PageID, mark(t, b), other))
	by, id = of()
	assert.Equal(t, []any{snapshot.LinkOwn, other}, []any{by, id})
	assert.True(t, b.PageView().Differs, "visitors do not see it yet")
	require.NoError(t, b.Covers.FrameLink(b.PageID, mark(t, b), fit.Focus{X: 0.2, Y: 0.2}, 1.5))
	v, _, err := b.Covers.OfLink(b.PageID)
	require.NoError(t, err)
	assert.InDelta(t, 1.5, v.Closer, 0.02)
	b.GoLive()
	now, _, err := b.Kept.Card(b.PageID)
	require.NoError(t, err)
	assert.Equal(t, was.Files, now.Files, "the cover in lists is what it was")
	linked := func() (hashes []string) {
		for _, f := range b.FilesLive() {
			if f.For == page.LinkShape.ID {
				assert.Equal(t, "/juniors/autumn-link.jpg", f.Path, "it is called as the page")
				assert.Equal(t, other, f.PictureID)
				assert.LessOrEqual(t, f.Width, 1200)
				hashes = append(hashes, f.Hash)
			}
		}
		return hashes
	}
	framed := linked()
	require.Len(t, framed, 1)
	require.NoError(t, b.Covers.FrameLink(b.PageID, mark(t, b), fit.Centre, 1))
	assert.True(t, b.PageView().Differs)
	b.GoLive()
	assert.NotEqual(t, framed, linked(), "another frame is another file")
	require.NoError(t, b.Covers.SetLink(b.PageID, mark(t, b), 0))
	by, id = of()
	assert.Equal(t, []any{snapshot.LinkCover, first}, []any{by, id})
	desktest.Refusal(t, b.Covers.SetLink(b.PageID, "not what is there", first), access.Clash, "Somebody else")
}
