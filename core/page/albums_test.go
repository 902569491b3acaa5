package page_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"strings"
	"testing"

	"github.com/PuerkitoBio/goquery"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/album"
	"mivlet/core/layout"
	"mivlet/core/page"
	"mivlet/core/rules"
)

// withAlbum is a page with album 7 between two texts.
func withAlbum(show page.AlbumShow) page.Doc {
	show.Album = 7
	return page.Doc{Version: page.Version, Title: "Autumn", Blocks: []page.Block{
		{ID: "a", Kind: page.Text, Text: "Before"}, {ID: "b", Kind: page.Album, Album: &show}, {ID: "c", Kind: page.Text, Text: "After"}}}
}

func regatta(pictures ...uint) map[uint]album.Album {
	a := album.Album{Version: album.Version, Title: "Regatta & <cup>"}.Add(pictures...)
	return map[uint]album.Album{7: a.Captioned(2, "Round the <buoy>")}
}

func TestAPageRefersToAnAlbumByItsNumber(t *testing.T) {
	t.Parallel()
	kept := withAlbum(page.AlbumShow{Look: page.Grid, Most: 2})
	require.NoError(t, kept.Check())
	assert.Empty(t, kept.Pictures())
	shown := kept.Filled(regatta(1, 2, 3))
	require.NoError(t, shown.Check())
	assert.Equal(t, []uint{1, 2, 3}, shown.Pictures())
	assert.Equal(t, "Round the <buoy>", page.CaptionText(shown.Blocks[1].Pictures[1].Caption))
	assert.Equal(t, kept, shown.Unfilled(), "what the album holds is not kept with the page")
	assert.Equal(t, kept.Blocks[1].Mark(), shown.Blocks[1].Mark(), "it is the same block, filled or not")
	assert.Empty(t, kept.Blocks[1].Pictures, "the page that was filled is as it was")
	assert.Equal(t, []uint{7}, kept.Albums())
	assert.Empty(t, kept.Filled(nil).Pictures(), "an album that is gone holds nothing")
	data, err := json.Marshal(shown)
	require.NoError(t, err)
	back, err := page.Parse(data)
	require.NoError(t, err)
	assert.Equal(t, shown, back, "what went live keeps what it held")

	for _, wrong := range []page.AlbumShow{{Look: "heap"}, {Look: page.Grid, Shape: "5:4"}, {Look: page.Grid, Most: -1}, {Look: page.Grid, Most: 5000}} {
		assert.Error(t, withAlbum(wrong).Check(), "%+v", wrong)
	}
	lost := withAlbum(page.AlbumShow{Look: page.Grid})
	lost.Blocks[1].Album = nil
	assert.ErrorContains(t, lost.Check(), "lacks")
	assert.False(t, page.Album.Takes(rules.Slot{Width: 640}), "no picture is dropped into it")
}

// Thumbnails of a grid are boxes of one shape, as wide as they get; beyond the first few,
// pictures are enlarged alone.
func TestWherePicturesOfAnAlbumStand(t *testing.T) {
	t.Parallel()
	r := rules.Default()
	d := withAlbum(page.AlbumShow{Look: page.Grid, Shape: "3:2", Most: 2}).Filled(regatta(1, 2, 3))
	stands := d.Stands(r)
	require.Len(t, stands, 3)
	first := stands[0]
	// 640 px hold four with three gaps of 8 (worked out by hand): 154 each.
	assert.Equal(t, 4, first.Place.Parts)
	assert.InDelta(t, 154, first.Place.Width(layout.Desktop.Viewport()), 0.01)
	w, h := first.Slot.Ratio()
	assert.Equal(t, []int{3, 2}, []int{w, h})
	assert.False(t, first.Slot.TakesMotion(), "thumbnails stand still")
	assert.Contains(t, first.Sizes(), "max-width: 599px")
	assert.Equal(t, []bool{false, false, true}, []bool{stands[0].Beyond, stands[1].Beyond, stands[2].Beyond})
	assert.Equal(t, page.EnlargedSlot(r), stands[2].Slot)

	rows := withAlbum(page.AlbumShow{Look: page.InRows}).Filled(regatta(1)).Stands(r)[0]
	assert.Equal(t, rules.ByHeight, rows.Slot.Kind())
	assert.InDelta(t, 100, rows.ShownWidth(1280, 130), 0.01, "rows are about 200 of 260 px high")
}

// writing gives every picture a file of 4:3; number 2 has no description.
func albumWriting(measures *bytes.Buffer) page.Writing {
	how := page.Writing{Rules: rules.Default(), Image: func(s page.Stand) (page.Image, error) {
		m := page.Image{Src: fmt.Sprintf("/p%d.jpg", s.Picture), SrcSet: "x 1w", Sizes: "1px", Width: 320, Height: 240, Alt: fmt.Sprintf("Boat %d", s.Picture)}
		if s.Picture == 2 {
			m.Alt = ""
		}
		return m, nil
	}, Album: func(b page.Block, n int) string { return fmt.Sprintf("/autumn/pictures/%d", b.Pictures[n].Picture) }}
	if measures != nil {
		how.Measures = measures
	}
	return how
}

func TestAnAlbumInHTML(t *testing.T) {
	t.Parallel()
	d := withAlbum(page.AlbumShow{Look: page.Grid, Most: 2}).Filled(regatta(1, 2, 3, 4))
	html, doc := written(t, d, albumWriting(nil))
	section := doc.Find("section#album-b.album.album-grid.album-across-4")
	assert.Equal(t, "Regatta & <cup>", section.AttrOr("aria-label", ""))
	links := section.Find("ul.album-thumbs > li > a")
	require.Equal(t, 2, links.Length())
	assert.Equal(t, "/autumn/pictures/1", links.First().AttrOr("href", ""))
	assert.Empty(t, links.First().AttrOr("aria-label", ""), "its picture names it")
	assert.Equal(t, "Picture 2 of 4", links.Last().AttrOr("aria-label", ""), "one without a description is named by its place")
	more := section.Find(".album-more a")
	assert.Equal(t, []string{"And 2 more", "/autumn/pictures/3"}, []string{more.Text(), more.AttrOr("href", "")})
	assert.Equal(t, "eager", section.Find("img").First().AttrOr("loading", ""))
	assert.Equal(t, "lazy", section.Find("img").Last().AttrOr("loading", ""))
	_, shuffled := section.Attr("data-shuffled")
	assert.False(t, shuffled)

	seen, err := page.ReadHTML(strings.NewReader("<main>" + html + "</main>"))
	require.NoError(t, err)
	assert.Len(t, seen.Pictures, 2, "they are read as pictures of the page")

	how := albumWriting(nil)
	how.Album = nil
	how.Inline = true
	_, elsewhere := written(t, d, how)
	assert.Zero(t, elsewhere.Find("section a").Length(), "elsewhere nothing would answer")
	assert.Equal(t, "And 2 more", elsewhere.Find("section p").Text())

	all := regatta(1, 2)
	a := all[7]
	a.Order = album.Shuffled
	all[7] = a
	_, doc = written(t, withAlbum(page.AlbumShow{Look: page.Grid}).Filled(all), albumWriting(nil))
	_, shuffled = doc.Find("section").Attr("data-shuffled")
	assert.True(t, shuffled)
	_, doc = written(t, withAlbum(page.AlbumShow{Look: page.Grid}), albumWriting(nil))
	assert.Zero(t, doc.Find("section").Length(), "an empty album leaves nothing")
}

// Rows: three of 4:3 in 640 px with two gaps of 8 are 208 px wide and 156 high, which is
// nearer to 200 than two of 316 × 237 (worked out by hand: 0.36 against 0.25 octaves, and the
// third alone would be a short row).
func TestRowsInHTML(t *testing.T) {
	t.Parallel()
	var css bytes.Buffer
	d := withAlbum(page.AlbumShow{Look: page.InRows}).Filled(regatta(1, 2, 3))
	_, doc := written(t, d, albumWriting(&css))
	assert.Equal(t, 9, strings.Count(css.String(), "nth-child"), "three pictures on three devices")
	assert.Contains(t, css.String(), "@media (max-width: 599px) {\n.content #album-b li:nth-child(1)")
	assert.Contains(t, css.String(), ".content #album-b li:nth-child(1) { width: calc((100% - 16px) * 0.33333 - 0.01px); }")
	assert.Regexp(t, `^\(max-width: 599px\) [\d.]+vw, \d+px$`, doc.Find("img").First().AttrOr("sizes", ""))
}

func TestThePageOfAPicture(t *testing.T) {
	t.Parallel()
	a := page.AlbumPicture{Album: "Regatta <1>", Nth: 2, Of: 3, Image: page.Image{Src: "/large.jpg", Width: 1600, Height: 1200, Alt: "A boat"}, Caption: "Here & there",
		Back: "/autumn#album-b", Previous: "/autumn/pictures/1", Next: "/autumn/pictures/3"}
	assert.Equal(t, "Regatta <1>, 2 of 3", a.Title())
	doc, err := goquery.NewDocumentFromReader(strings.NewReader("<main>" + a.HTML() + "</main>"))
	require.NoError(t, err)
	assert.Equal(t, "Regatta <1>", doc.Find("h1").Text())
	assert.Equal(t, "Here & there", doc.Find("figcaption").Text())
	ways, err := page.WaysOf(strings.NewReader("<main>" + a.HTML() + "</main>"))
	require.NoError(t, err)
	assert.Equal(t, page.Ways{Previous: "/autumn/pictures/1", Next: "/autumn/pictures/3"}, ways)
	a.Previous, a.Next = "", ""
	ways, err = page.WaysOf(strings.NewReader("<main>" + a.HTML() + "</main>"))
	require.NoError(t, err)
	assert.Equal(t, page.Ways{}, ways, "the only one leads nowhere")
}

// A picture that goes leaves its album: whatever led to it leads past it.
func TestLinksLeadPastAPictureThatGoes(t *testing.T) {
	t.Parallel()
	off := page.Taking{Picture: 2, Addresses: map[string]bool{"/p2.jpg": true}, Pages: map[string]page.Ways{"/pictures/2": {Previous: "/pictures/1", Next: "/pictures/3"}, "/pictures/9": {}}}
	from := func(html string) *goquery.Document {
		data, err := off.From(strings.NewReader("<html><head></head><body><main>" + html + "</main></body></html>"))
		require.NoError(t, err)
		doc, err := goquery.NewDocumentFromReader(bytes.NewReader(data))
		require.NoError(t, err)
		return doc
	}
	assert.Equal(t, "/pictures/3", from(`<a rel="next" href="/pictures/2">Next</a>`).Find("a").AttrOr("href", ""))
	assert.Equal(t, "/pictures/1", from(`<a rel="prev" href="/pictures/2">Previous</a>`).Find("a").AttrOr("href", ""))
	assert.Zero(t, from(`<a rel="next" href="/pictures/9">Next</a>`).Find("a").Length(), "there is nothing behind it")
	assert.Zero(t, from(`<p class="album-more"><a href="/pictures/9">And 1 more</a></p>`).Find("p").Length())
	assert.Equal(t, "/pictures/3", from(`<p class="album-more"><a href="/pictures/2">And 2 more</a></p>`).Find("a").AttrOr("href", ""))
	thumb := `<ul><li class="album-thumb"><a href="/pictures/2"><img src="/p2.jpg" width="4" height="3" alt=""></a></li><li class="album-thumb"><a href="/pictures/1"><img src="/p1.jpg" alt=""></a></li></ul>`
	assert.Equal(t, 1, from(thumb).Find("li").Length(), "nothing is left of what is erased")
	off.Space = func(int, int) (string, error) { return "/space.svg", nil }
	doc := from(thumb)
	assert.Equal(t, 2, doc.Find("li img").Length())
	assert.Equal(t, 1, doc.Find("li a").Length(), "a neutral space leads nowhere")
}
