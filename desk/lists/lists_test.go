package lists_test

import (
	"bytes"
	"fmt"
	"net/http"
	"strings"
	"testing"

	"github.com/PuerkitoBio/goquery"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/desk/pages"
	"mivlet/desk/visit"
	"mivlet/store"
)

// club is a small house with a live front page of the juniors.
type club struct {
	*desktest.Fixture
	front uint
}

func newClub(t *testing.T) club {
	t.Helper()
	b := desktest.Fresh(t)
	b.UnderRules(func(r *rules.Rules) {
		r.Categories = []rules.Category{{Code: "events", Title: "Events"}, {Code: "outings", Title: "Outings"}}
	})
	front, err := b.Covers.BeginFront("juniors", "")
	require.NoError(t, err)
	c := club{b, front}
	c.live(front)
	return c
}

// live publishes a page and returns what the check says.
func (c club) live(id uint) visit.Report {
	c.T.Helper()
	v, err := c.Pages.Page(id)
	require.NoError(c.T, err)
	r, err := c.Publish.Publish(c.T.Context(), id, v.Seen, "It may go live like this.", desktest.PlainLayout)
	require.NoError(c.T, err)
	return r
}

// tiles are the cards of the lists that visitors see at an address: their links, and how
// many have a cover.
func (c club) tiles(at string) (links []string, covers int) {
	c.T.Helper()
	status, data := c.Visit(at)
	require.Equal(c.T, 200, status, at)
	doc, err := goquery.NewDocumentFromReader(bytes.NewReader(data))
	require.NoError(c.T, err)
	doc.Find(".list .card-of-page > a").Each(func(_ int, a *goquery.Selection) { links = append(links, a.AttrOr("href", "")) })
	return links, doc.Find(".list img.cover").Length()
}

func (c club) report(id uint) *visit.Report {
	c.T.Helper()
	p, err := c.Kept.Page(id)
	require.NoError(c.T, err)
	r, err := visit.ReadReport(p)
	require.NoError(c.T, err)
	return r
}

func TestAListFollowsThePagesItShows(t *testing.T) {
	t.Parallel()
	c := newClub(t)
	links, _ := c.tiles("/juniors")
	assert.Empty(t, links)
	before, err := c.Kept.Page(c.front)
	require.NoError(t, err)

	picture := c.Ready("juniors-boat", 1)
	c.Place(picture)
	c.GoLive()
	links, covers := c.tiles("/juniors")
	assert.Equal(t, []string{"/juniors/autumn"}, links, "in the same act")
	assert.Equal(t, 1, covers)
	r := c.report(c.front)
	assert.True(t, r.OK(), "%v", r.Checks)
	assert.Contains(t, fmt.Sprint(r.Checks), "It lists 1 page, 1 with a cover", "its check shows the new tile")
	after, err := c.Kept.Page(c.front)
	require.NoError(t, err)
	assert.Equal(t, []any{before.Version, before.LiveVersion, before.LivePrint}, []any{after.Version, after.LiveVersion, after.LivePrint}, "nobody changed the front page itself")
	v, err := c.Pages.Page(c.front)
	require.NoError(t, err)
	assert.False(t, v.Differs, "and there is nothing to publish")

	c.IsWhole()

	require.NoError(t, c.Pages.RenamePage(c.PageID, "Autumn on the lake", "autumn-on-the-lake"))
	links, _ = c.tiles("/juniors")
	assert.Equal(t, []string{"/juniors/autumn-on-the-lake"}, links, "it moved")
	require.NoError(t, c.Pages.HandOver(c.PageID, "touring"))
	links, _ = c.tiles("/juniors")
	assert.Empty(t, links, "it is another section's")
	require.NoError(t, c.Pages.HandOver(c.PageID, "juniors"))
	links, _ = c.tiles("/juniors")
	assert.Len(t, links, 1)
	require.NoError(t, c.Publish.TakePageOff(c.PageID))
	links, _ = c.tiles("/juniors")
	assert.Empty(t, links, "it was taken off")
	c.IsWhole()
}

// What was signed on a page with a list stays byte for byte, whatever happens to the list.
func TestOnlyTheListChanges(t *testing.T) {
	t.Parallel()
	c := newClub(t)
	_, err := c.Pages.AddBlock(c.front, page.Gap{}, page.HTML, "", `<p>Before <!-- list x --> &amp; <b>after</b></p>`)
	require.NoError(t, err)
	c.live(c.front)
	outside := func() string {
		_, data := c.Visit("/juniors")
		from, to := bytes.Index(data, []byte("<!-- list ")), bytes.Index(data, []byte("<!-- end of list "))
		require.Positive(t, from)
		require.Greater(t, to, from)
		return string(data[:from]) + string(data[to:])
	}
	before := outside()
	assert.Equal(t, 1, strings.Count(before, "<!-- end of list "), "no words can pretend to be a list")
	c.GoLive()
	assert.Equal(t, before, outside())
}

func TestATakenPictureLeavesTheLists(t *testing.T) {
	t.Parallel()
	c := newClub(t)
	picture := c.Ready("juniors-boat", 1)
	c.Place(picture)
	c.GoLive()
	_, covers := c.tiles("/juniors")
	require.Equal(t, 1, covers)
	status, html := c.Visit("/juniors")
	require.Equal(t, 200, status)
	doc, err := goquery.NewDocumentFromReader(bytes.NewReader(html))
	require.NoError(t, err)
	address := doc.Find(".list img.cover").AttrOr("src", "")
	status, _ = c.Visit(address)
	require.Equal(t, 200, status)

	showing, err := c.Kept.LivePagesShowing(picture)
	require.NoError(t, err)
	assert.Len(t, showing, 2, "the list shows it, too")
	shared := func() page.ReadHead {
		seen, err := page.ReadHTML(strings.NewReader(c.LivePage()))
		require.NoError(t, err)
		return seen.Head
	}
	require.Contains(t, shared().Property("og:image"), "/juniors/autumn-link.jpg")
	require.Contains(t, shared().Data[0], "autumn-link.jpg")
	require.NoError(t, c.Withdraw.Withdraw(t.Context(), picture))
	assert.Equal(t, []string{"", "", "summary", "Autumn"}, []string{shared().Property("og:image"), shared().Property("og:image:alt"), shared().Card, shared().Property("og:title")}, "a shared link shows it no more")
	assert.NotContains(t, shared().Data[0], "link.jpg")
	assert.Contains(t, shared().Data[0], `"headline":"Autumn"`)
	status, _ = c.Visit(address)
	assert.Equal(t, 410, status)
	links, covers := c.tiles("/juniors")
	assert.Len(t, links, 1)
	assert.Zero(t, covers, "a blank stands there")
	assert.True(t, c.report(c.front).OK(), "%v", c.report(c.front).Checks)
	showing, err = c.Kept.LivePagesShowing(picture)
	require.NoError(t, err)
	assert.Empty(t, showing)

	c.GoLive() // shown again, on purpose
	_, covers = c.tiles("/juniors")
	assert.Equal(t, 1, covers)
}

func TestAnEarlierVersionListsWhatIsLiveNow(t *testing.T) {
	t.Parallel()
	c := newClub(t)
	c.Place(c.Ready("juniors-boat", 1))
	c.GoLive()
	lives, err := c.Publish.Lives(c.front)
	require.NoError(t, err)
	_, err = c.Pages.AddBlock(c.front, page.Gap{}, page.Text, "", "Welcome.")
	require.NoError(t, err)
	c.live(c.front)
	require.NoError(t, c.Publish.TakePageOff(c.PageID))
	_, err = c.Publish.PutBack(t.Context(), c.front, lives[0].ID)
	require.NoError(t, err)
	links, _ := c.tiles("/juniors")
	assert.Empty(t, links, "what was taken off does not come back with an old list")
}

func TestAllOfThem(t *testing.T) {
	t.Parallel()
	c := newClub(t)
	require.NoError(t, setList(c, page.Listing{Of: page.OfSection, Which: "juniors", Look: page.Bare, Most: 2, All: true}))
	c.live(c.front)
	add := func(n int) {
		for i := range n {
			id, err := c.Pages.NewPage("juniors", fmt.Sprintf("Outing %d of %d", i+1, n), "empty")
			require.NoError(t, err)
			c.live(id)
		}
	}
	add(25)
	links, _ := c.tiles("/juniors")
	assert.Len(t, links, 2)
	first, _ := c.tiles("/juniors/all")
	second, _ := c.tiles("/juniors/all/1")
	assert.Len(t, first, 13, "the newest page holds from one dozen to two")
	assert.Len(t, second, 12)
	assert.Len(t, union(first, second), 25, "each of them once")
	old := c.hashAt("/juniors/all/1")
	add(1)
	assert.Equal(t, old, c.hashAt("/juniors/all/1"), "a new page changes the newest alone")
	_, data := c.Visit("/juniors/all")
	assert.Contains(t, string(data), `rel="next" href="/juniors/all/1"`)
	id, err := c.Pages.NewPage("juniors", "All", "empty")
	require.NoError(t, err)
	p, err := c.Kept.Page(id)
	require.NoError(t, err)
	assert.NotEqual(t, "/juniors/all", p.Path(), "no page takes the address of another")
}

func (c club) hashAt(at string) string {
	f, err := c.Kept.PublishedAt(at, "")
	require.NoError(c.T, err)
	return f.Hash
}

func union(a, b []string) map[string]bool {
	all := map[string]bool{}
	for _, s := range append(a, b...) {
		all[s] = true
	}
	return all
}

// setList changes the first list of the front page.
func setList(c club, to page.Listing) error {
	v, err := c.Pages.Page(c.front)
	if err != nil {
		return err
	}
	b := v.Doc.Lists()[0]
	return c.Pages.SetList(c.front, b.ID, b.Mark(), to)
}

func TestEveryKindOfList(t *testing.T) {
	t.Parallel()
	c := newClub(t)
	var ids []uint
	for i, d := range []page.Details{
		{From: "2027-05-01", Categories: []string{"events"}, Tags: []string{"Water "}},
		{From: "2025-05-01", Categories: []string{"outings", "events"}},
		{Tags: []string{"water"}}} {
		id, err := c.Pages.NewPage("touring", fmt.Sprint("Trip ", i), "empty")
		require.NoError(t, err)
		p, err := c.Kept.Page(id)
		require.NoError(t, err)
		require.NoError(t, c.Pages.SetDetails(id, pages.DetailsMark(p.Doc), d))
		c.live(id)
		ids = append(ids, id)
	}
	shows := func(l page.Listing) []string {
		t.Helper()
		l.Look = page.Slim
		require.NoError(t, setList(c, l))
		c.live(c.front)
		links, _ := c.tiles("/juniors")
		return links
	}
	assert.Equal(t, []string{"/touring/trip-0", "/touring/trip-1"}, shows(page.Listing{Of: page.OfCategory, Which: "events"}))
	assert.Equal(t, []string{"/touring/trip-1", "/touring/trip-0"}, shows(page.Listing{Of: page.OfCategory, Which: "events", Order: page.Oldest}))
	assert.Equal(t, []string{"/touring/trip-0", "/touring/trip-2"}, shows(page.Listing{Of: page.OfTag, Which: "WATER"}))
	assert.Equal(t, []string{"/touring/trip-2", "/touring/trip-0"}, shows(page.Listing{Of: page.OfHand, Pages: []uint{ids[2], 999, ids[0]}}))
	assert.Equal(t, []string{"/touring/trip-0"}, shows(page.Listing{Of: page.OfSection, Which: "touring", Order: page.ByTitle, Most: 1}))
	assert.Equal(t, []string{"/juniors", "/touring"}, shows(page.Listing{Of: page.OfSections}), "groups as the house lists them")
	assert.Empty(t, shows(page.Listing{Of: page.OfCategories}))
	events, err := c.Covers.BeginFront("", "events")
	require.NoError(t, err)
	c.live(events)
	links, _ := c.tiles("/juniors")
	assert.Equal(t, []string{"/events"}, links)

	// Joining a category keeps every page.
	shows(page.Listing{Of: page.OfCategory, Which: "events"})
	require.NoError(t, c.House.ChangeRules(func(r rules.Rules) (rules.Rules, error) { return r.Join("outings", "events") }))
	_, err = c.House.ApplyRules("outings are events")
	require.NoError(t, err)
	trips, _ := c.tiles("/juniors")
	assert.Equal(t, []string{"/touring/trip-0", "/touring/trip-1"}, trips)
	require.NoError(t, c.House.ChangeRules(func(r rules.Rules) (rules.Rules, error) { return r.Set("/categories/events/title", "Dates") }))
	_, err = c.House.ApplyRules("another title")
	require.NoError(t, err)
	v, err := c.Pages.Page(ids[1])
	require.NoError(t, err)
	assert.Equal(t, []string{"events"}, v.Doc.Details.CategoriesOf(c.Rules()), "both were the same")

	err = setList(c, page.Listing{Of: "everything", Look: page.Tiles})
	desktest.Refusal(t, err, access.Bad, "everything")
}

// Lists change with what is live, not with drafts.
func TestDraftsDoNotShowInLists(t *testing.T) {
	t.Parallel()
	c := newClub(t)
	c.GoLive()
	p, err := c.Kept.Page(c.PageID)
	require.NoError(t, err)
	require.NoError(t, c.Pages.SetDetails(c.PageID, pages.DetailsMark(p.Doc), page.Details{Summary: "Not yet."}))
	require.NoError(t, c.Pages.RenamePage(c.PageID, "Winter", "autumn"))
	card, shown, err := c.Lists.Shown(c.PageID)
	require.NoError(t, err)
	require.True(t, shown)
	assert.Equal(t, []string{"Autumn", ""}, []string{card.Title, card.Summary})
	c.GoLive()
	card, _, err = c.Lists.Shown(c.PageID)
	require.NoError(t, err)
	assert.Equal(t, []string{"Winter", "Not yet."}, []string{card.Title, card.Summary})
	assert.ErrorIs(t, second(c.Kept.Card(9999)), store.ErrNotFound)
}

func second[A, B any](_ A, _ B, err error) error { return err }

func TestAPageIsNotInItsOwnList(t *testing.T) {
	t.Parallel()
	c := newClub(t)
	block, err := c.Pages.AddBlock(c.PageID, page.Behind("b"), page.List, "", "")
	require.NoError(t, err)
	require.NotEmpty(t, block)
	c.live(c.PageID)
	links, _ := c.tiles("/juniors/autumn")
	assert.Empty(t, links)
	links, _ = c.tiles("/juniors")
	assert.Equal(t, []string{"/juniors/autumn"}, links)
}

// Covers are offered in lighter files, too, where the house offers them; what readers of shared
// links fetch is for all of them.
func TestLighterCovers(t *testing.T) {
	t.Parallel()
	c := newClub(t)
	c.UnderRules(func(r *rules.Rules) { r.Placing.Lighter = []string{"webp"} })
	picture := c.Ready("juniors-boat", 1)
	c.Place(picture)
	c.GoLive()
	require.NoError(t, c.Lighter.Make(t.Context(), desktest.PlainLayout))
	status, data := c.Visit("/juniors")
	require.Equal(t, 200, status)
	doc, err := goquery.NewDocumentFromReader(bytes.NewReader(data))
	require.NoError(t, err)
	img := doc.Find(".list img.cover")
	source := img.Parent().Find("source")
	require.Equal(t, 1, source.Length())
	assert.Equal(t, "image/webp", source.AttrOr("type", ""))
	assert.Equal(t, img.AttrOr("sizes", "?"), source.AttrOr("sizes", ""))
	assert.Contains(t, img.AttrOr("src", ""), ".jpg", "browsers that do not know the other one have this one")
	for _, one := range strings.Split(source.AttrOr("srcset", ""), ",") {
		status, data := c.Visit(strings.Fields(one)[0])
		require.Equal(t, 200, status, one)
		assert.Equal(t, "image/webp", http.DetectContentType(data))
	}
	assert.True(t, c.report(c.front).OK(), "%v", c.report(c.front).Checks)
	shared, err := goquery.NewDocumentFromReader(strings.NewReader(c.LivePage()))
	require.NoError(t, err)
	assert.NotContains(t, shared.Find(`meta[property="og:image"]`).AttrOr("content", ".webp"), ".webp")
	c.IsWhole()

	require.NoError(t, c.Withdraw.Withdraw(t.Context(), picture))
	_, data = c.Visit("/juniors")
	assert.NotContains(t, string(data), ".webp", "what is off the air is named nowhere")
	c.IsWhole()
}
