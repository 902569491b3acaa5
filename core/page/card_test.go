package page_test

import (
	"bytes"
	"fmt"
	stdimage "image"
	"strings"
	"testing"

	"github.com/PuerkitoBio/goquery"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/fit"
	"mivlet/core/layout"
	"mivlet/core/page"
	"mivlet/core/recipe"
)

func listing(l page.Listing) (page.Doc, page.Block) {
	b := page.Block{ID: "l1", Kind: page.List, List: &l}
	return page.Doc{Version: page.Version, Title: "Front", Blocks: []page.Block{{ID: "w", Kind: page.Band, Band: &page.BandLayout{Pattern: "wide"}}, b}}, b
}

var autumn = page.Card{Page: 3, Path: "/juniors/autumn", Title: "Autumn <on> the lake", From: "2026-09-12", Summary: "Cold & clear.", Files: []page.CardFile{
	{Slot: page.Tile.ID, Address: "/j/a-800.jpg", Hash: "b", Width: 800, Height: 600}, {Slot: page.Tile.ID, Address: "/j/a-400.jpg", Hash: "a", Width: 400, Height: 300},
	{Slot: page.Thumb.ID, Address: "/j/a-150.jpg", Hash: "c", Width: 150, Height: 150}}}

func write(t *testing.T, l page.Listing, v page.ListView) *goquery.Document {
	t.Helper()
	d, _ := listing(l)
	var out bytes.Buffer
	require.NoError(t, page.WriteHTML(&out, d, page.Writing{Rules: house(), List: func(page.Block) (page.ListView, error) { return v, nil }}))
	doc, err := goquery.NewDocumentFromReader(&out)
	require.NoError(t, err)
	return doc
}

// WCAG 2.2, technique H2: image and text in one link; the image repeats nothing.
func TestAListIsOneLinkForEachPage(t *testing.T) {
	blank := page.Card{Path: "/juniors/none", Title: "None"}
	doc := write(t, page.Listing{Of: page.OfSection, Which: "juniors", Look: page.Tiles, Days: true, Summary: true}, page.ListView{Cards: []page.Card{autumn, blank}, Total: 9, All: "/juniors/all"})
	cards := doc.Find("ul.list-tiles.across-3.narrow-2 > li.card-of-page")
	require.Equal(t, 2, cards.Length())
	first := cards.First()
	assert.Equal(t, 1, first.Find("a").Length())
	assert.Equal(t, "/juniors/autumn", first.Find("a").AttrOr("href", ""))
	img := first.Find("a > img")
	assert.Equal(t, []string{"", "/j/a-400.jpg", "400", "300"}, []string{img.AttrOr("alt", "missing"), img.AttrOr("src", ""), img.AttrOr("width", ""), img.AttrOr("height", "")})
	assert.Equal(t, "/j/a-400.jpg 400w, /j/a-800.jpg 800w", img.AttrOr("srcset", ""))
	assert.Equal(t, "Autumn <on> the lake", first.Find("a > .card-title").Text())
	assert.Equal(t, "12 September 2026", strings.TrimSpace(first.Find(".card-day").Text()))
	assert.Equal(t, "Cold & clear.", first.Find(".card-summary").Text())
	assert.Equal(t, 1, cards.Last().Find("a > .cover.blank").Length())
	assert.Equal(t, "/juniors/all", doc.Find(".list-all a").AttrOr("href", ""))

	rows := write(t, page.Listing{Of: page.OfSection, Look: page.Rows}, page.ListView{Cards: []page.Card{autumn}, Total: 1, All: "/juniors/all"})
	assert.Equal(t, "/j/a-150.jpg", rows.Find(".list-rows img").AttrOr("src", ""))
	assert.Zero(t, rows.Find(".card-day, .card-summary, .list-all").Length(), "what was not asked for, and no way on where all are here")
	assert.Zero(t, write(t, page.Listing{Of: page.OfSection, Look: page.Bare}, page.ListView{Cards: []page.Card{autumn}}).Find("img").Length())
	assert.Equal(t, "Nothing is published here yet.", strings.TrimSpace(write(t, page.Listing{Of: page.OfSection, Look: page.Bare}, page.ListView{}).Find(".list-empty").Text()))
}

// A list is made anew between its marks; everything else of the page stays byte for byte.
func TestRelist(t *testing.T) {
	d, b := listing(page.Listing{Of: page.OfSection, Which: "juniors", Look: page.Slim})
	var out bytes.Buffer
	require.NoError(t, page.WriteHTML(&out, d, page.Writing{Rules: house()}))
	empty := page.WriteCards(d, house(), b, page.ListView{})
	full := page.WriteCards(d, house(), b, page.ListView{Cards: []page.Card{autumn}})
	with, err := page.Relist(out.Bytes(), "l1", full)
	require.NoError(t, err)
	assert.Contains(t, string(with), "Autumn &lt;on&gt; the lake")
	back, err := page.Relist(with, "l1", empty)
	require.NoError(t, err)
	assert.Equal(t, out.String(), string(back), "there and back again")
	for _, broken := range []string{"", "<!-- list l1 -->", "<!-- end of list l1 --><!-- list l1 -->", out.String() + out.String()} {
		_, err := page.Relist([]byte(broken), "l1", full)
		assert.ErrorIs(t, err, page.ErrNoMarks, broken)
	}
}

func TestLeaves(t *testing.T) {
	for n := range 100 {
		all := page.Leaves(n)
		at := 0
		for i, l := range all {
			assert.Equal(t, at, l.From, "%d cards: one after the other", n)
			at = l.To
			if i > 0 {
				assert.Equal(t, page.Dozen, l.To-l.From, "%d cards: a dozen", n)
				assert.Equal(t, len(all)-i, l.Number, "counted from the oldest")
			}
		}
		assert.Equal(t, n, at, "each card once")
		assert.True(t, all[0].To < 2*page.Dozen && (all[0].To >= page.Dozen || len(all) == 1), "%d cards: %d on the newest", n, all[0].To)
	}
	// What a new card changes: the newest page, and nothing of the others.
	before, after := page.Leaves(40), page.Leaves(41)
	for i := 1; i < len(before); i++ {
		assert.Equal(t, before[i].From+1, after[len(after)-len(before)+i].From, "the same cards, one further down")
	}
}

func TestWhoStandsInWhichList(t *testing.T) {
	d := page.Doc{Details: page.Details{Categories: []string{"outings"}, Tags: []string{"water"}}}
	r := house()
	known := d.KnownBy(r, 7, "juniors", "autumn")
	for _, l := range []page.Listing{{Of: page.OfSection, Which: "juniors"}, {Of: page.OfCategory, Which: "events"}, {Of: page.OfCategory, Which: "outings"}, {Of: page.OfTag, Which: "Water"}, {Of: page.OfHand, Pages: []uint{1, 7}}} {
		assert.NotEmpty(t, both(known, l.Keys(r)), "%+v", l)
	}
	for _, l := range []page.Listing{{Of: page.OfSection, Which: "touring"}, {Of: page.OfCategory, Which: "gear"}, {Of: page.OfTag, Which: "fire"}, {Of: page.OfHand, Pages: []uint{1, 70}}, {Of: page.OfSections}, {Of: page.OfCategories}} {
		assert.Empty(t, both(known, l.Keys(r)), "%+v", l)
	}
	assert.NotEmpty(t, both(d.KnownBy(r, 1, "juniors", ""), page.Listing{Of: page.OfSections}.Keys(r)))
	assert.Empty(t, both(d.KnownBy(r, 1, "juniors", ""), page.Listing{Of: page.OfSection, Which: "juniors"}.Keys(r)), "a front page is not in its own section's lists")
	assert.NotEmpty(t, both(d.KnownBy(r, 1, "", "events"), page.Listing{Of: page.OfCategories}.Keys(r)))
	assert.Empty(t, both(d.KnownBy(r, 1, "", ""), page.Listing{Of: page.OfSections}.Keys(r)))
}

func both(a, b []string) (all []string) {
	for _, s := range a {
		for _, o := range b {
			if s == o {
				all = append(all, s)
			}
		}
	}
	return all
}

func TestTheCoverOfAPage(t *testing.T) {
	sizes := map[uint]fit.Size{1: {W: 399, H: 4000}, 2: {W: 400, H: 300}, 3: {W: 4000, H: 3000}}
	at := func(id uint) fit.Size { return sizes[id] }
	place := func(id uint) page.Block {
		return page.Block{ID: fmt.Sprint(id), Kind: page.Picture, Placement: &page.Placement{Picture: id}}
	}
	d := page.Doc{Blocks: []page.Block{place(0), place(1), place(2), place(3)}}
	id, by := d.CoverFor(at)
	assert.Equal(t, []any{uint(2), page.CoverRule}, []any{id, by}, "the first that fills a tile")
	d.Cover = &page.Cover{Picture: 9}
	id, by = d.CoverFor(at)
	assert.Equal(t, []any{uint(9), page.CoverOwn}, []any{id, by})
	assert.Equal(t, []uint{1, 2, 3, 9}, d.Pictures(), "what is used is known to be")
	assert.Nil(t, d.Without(9).Cover)
	assert.NotNil(t, d.Without(1).Cover)
	_, by = page.Doc{Blocks: []page.Block{place(0), place(1)}}.CoverFor(at)
	assert.Equal(t, page.NoCover, by)
}

func TestACoverDrawnIn(t *testing.T) {
	seen := stdimage.Rect(0, 0, 1000, 600)
	assert.Equal(t, seen, page.Closer(seen, fit.Focus{X: 0.9, Y: 0.1}, 1))
	assert.Equal(t, stdimage.Rect(500, 0, 1000, 300), page.Closer(seen, fit.Focus{X: 0.9, Y: 0.1}, 2), "it stays inside")
	assert.Equal(t, stdimage.Rect(250, 150, 750, 450), page.Closer(seen, fit.Centre, 2))
	assert.Equal(t, page.Closer(seen, fit.Centre, page.Closest), page.Closer(seen, fit.Centre, 99))

	source := fit.Size{W: 1000, H: 600}
	r, err := recipe.Recipe{}.With(recipe.Edit{Op: recipe.OpTurn, Degrees: 90}, source)
	require.NoError(t, err)
	c := page.Cover{Picture: 1, Frame: &fit.Box{X: 100, Y: 0, Width: 600, Height: 600}, Focus: &fit.Focus{X: 0.25, Y: 0.75}}
	view := c.Over(r, source).View(source)
	assert.Equal(t, stdimage.Rect(100, 0, 700, 600), view.Frame)
	assert.InDelta(t, 0.25, view.Focus.X, 0.01, "the focus is where it was put, as it is seen")
	assert.InDelta(t, 0.75, view.Focus.Y, 0.01)
	assert.Equal(t, stdimage.Rect(0, 0, 600, 1000), r.View(source).Seen(), "the picture on the page is what it was")
}

func TestCutOff(t *testing.T) {
	face, shown := stdimage.Rect(0, 0, 100, 100), func(x0, x1 int) stdimage.Rectangle { return stdimage.Rect(x0, 0, x1, 100) }
	assert.False(t, page.CutOff(face, shown(0, 200)), "all of it")
	assert.False(t, page.CutOff(face, shown(100, 200)), "nothing of it")
	assert.True(t, page.CutOff(face, shown(50, 200)), "half of it")
	assert.False(t, page.CutOff(face, shown(5, 200)), "a hair's breadth is not seen")
	assert.False(t, page.CutOff(face, shown(95, 200)))
}

// The sizes that a browser is told for tiles are those that the grid gives them.
func TestTilesAreAsWideAsTheyAreTold(t *testing.T) {
	d, b := listing(page.Listing{Of: page.OfSection, Which: "juniors", Look: page.Tiles})
	r := house()
	wide, narrow, sizes := d.TilePlace(r, b.ID)
	assert.Equal(t, []int{3, 2}, []int{wide, narrow})
	column := func(viewport int) float64 {
		return layout.Place{Section: r.SectionOf(r.Page.Patterns[1])}.Width(viewport)
	}
	assert.Contains(t, sizes, fmt.Sprintf("%.4fpx", (column(1920)-2*page.TileGap)/3))
	assert.True(t, strings.HasPrefix(sizes, "(max-width: 599px) calc(50vw - 25px)"), sizes)
}

func TestListsThatCannotBe(t *testing.T) {
	for wrong, l := range map[string]page.Listing{
		`not of "all"`:    {Of: "all", Look: page.Tiles},
		`not as "carpet"`: {Of: page.OfTag, Look: "carpet"},
		`not "random"`:    {Of: page.OfTag, Look: page.Tiles, Order: "random"},
		"0 to 60":         {Of: page.OfTag, Look: page.Tiles, Most: 61},
		"not 61":          {Of: page.OfHand, Look: page.Tiles, Pages: make([]uint, 61)},
	} {
		d, _ := listing(l)
		assert.ErrorContains(t, d.Check(), wrong)
	}
	d, _ := listing(page.Listing{Of: page.OfTag, Look: page.Tiles, Most: 60})
	require.NoError(t, d.Check())
	d.Blocks[1].List = nil
	assert.ErrorContains(t, d.Check(), "a list lacks what it lists")
	assert.ErrorContains(t, page.Doc{Cover: &page.Cover{}}.Check(), "a cover names a picture")
	assert.ErrorContains(t, page.Doc{Cover: &page.Cover{Picture: 1, Focus: &fit.Focus{X: 1.1}}}.Check(), "from 0 to 1")
	assert.ErrorContains(t, page.Doc{Cover: &page.Cover{Picture: 1, Frame: &fit.Box{}}}.Check(), "holds nothing")
}
