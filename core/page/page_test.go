package page_test

import (
	"bytes"
	"cmp"
	"encoding/json"
	"errors"
	"slices"
	"testing"

	"github.com/PuerkitoBio/goquery"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/page"
	"mivlet/core/rules"
)

var doc = page.Doc{Version: page.Version, Title: "Autumn <on> the lake", Blocks: []page.Block{
	{ID: "a", Kind: page.Heading, Text: "First & last"},
	{ID: "b", Kind: page.Text, Text: "We went **out** early.\n\n- cold\n- clear"},
	{ID: "c", Kind: page.Picture, Placement: &page.Placement{Picture: 7, Slot: "column", Side: page.Centre, Caption: `The "last" boat`}},
	{ID: "d", Kind: page.Picture, Placement: &page.Placement{Picture: 8, Slot: "side", Side: page.Left}},
}}

var image = page.Image{Src: "/juniors/a-640.jpg", SrcSet: "/juniors/a-640.jpg 640w, /juniors/a-1280.jpg 1280w",
	Sizes: "(max-width: 669px) calc(100vw - 30px), 640px", Width: 640, Height: 427, Alt: `A boat, "Heron" & crew`}

func writing(image func(page.Stand) (page.Image, error)) page.Writing {
	return page.Writing{Rules: rules.Default(), Image: image, File: func(a page.Attachment) (string, error) { return "/files/" + a.Name, nil }}
}

func TestHTMLIsWhatABrowserWillRead(t *testing.T) {
	var b bytes.Buffer
	require.NoError(t, page.WriteHTML(&b, doc, writing(func(page.Stand) (page.Image, error) { return image, nil })))
	html, err := goquery.NewDocumentFromReader(&b)
	require.NoError(t, err)
	assert.Equal(t, doc.Title, html.Find("h1").Text())
	assert.Equal(t, 2, html.Find("ul li").Length())
	img := html.Find("figure.slot-column.side-centre > img")
	require.Equal(t, 1, img.Length())
	for attr, want := range map[string]string{
		"src": image.Src, "srcset": image.SrcSet, "sizes": image.Sizes, "width": "640", "height": "427", "alt": image.Alt, "loading": "eager",
	} {
		assert.Equal(t, want, img.AttrOr(attr, "missing"), attr)
	}
	assert.Equal(t, `The "last" boat`, html.Find("figure.slot-column figcaption").Text())
	assert.Equal(t, 0, html.Find("figure.slot-side figcaption").Length(), "no caption, no empty element")
	assert.Equal(t, "lazy", html.Find("figure.slot-side img").AttrOr("loading", ""))
	assert.Equal(t, 0, html.Find("[style]").Length())
}

func TestTextCannotAct(t *testing.T) {
	for _, evil := range []string{
		"<script>alert(1)</script>", `<img src=x onerror=alert(1)>`, "[a](javascript:alert(1))", `<a href="data:text/html,x">a</a>`,
	} {
		got := page.TextHTML(evil)
		for _, bad := range []string{"<script", "onerror", "javascript:", "data:"} {
			assert.NotContains(t, got, bad, evil)
		}
	}
}

func TestAPictureThatCannotBeResolvedStopsThePage(t *testing.T) {
	var b bytes.Buffer
	err := page.WriteHTML(&b, doc, writing(func(page.Stand) (page.Image, error) { return page.Image{}, errors.New("no cut") }))
	assert.ErrorContains(t, err, "no cut")
	assert.Zero(t, b.Len(), "nothing half-written")
}

func TestInsertReplaceRemoveLeaveTheOldDocAlone(t *testing.T) {
	added, err := doc.Insert(1, page.Block{ID: "x", Kind: page.Text, Text: "new"})
	require.NoError(t, err)
	assert.Equal(t, "x", added.Blocks[1].ID)
	assert.Len(t, doc.Blocks, 4)
	end, err := doc.Insert(4, page.Block{ID: "y", Kind: page.Text})
	require.NoError(t, err)
	assert.Equal(t, "y", end.Blocks[4].ID)

	changed, err := added.Replace(page.Block{ID: "x", Kind: page.Text, Text: "newer"})
	require.NoError(t, err)
	assert.Equal(t, "new", added.Blocks[1].Text)
	assert.Equal(t, "newer", changed.Blocks[1].Text)

	gone, err := changed.Remove("x")
	require.NoError(t, err)
	assert.Equal(t, doc, gone)

	for _, err := range []error{second(doc.Insert(9, page.Block{})), second(doc.Insert(-1, page.Block{})), second(doc.Insert(0, doc.Blocks[0])), second(doc.Remove("q")), second(doc.Replace(page.Block{ID: "q"}))} {
		assert.Error(t, err)
	}
	assert.Equal(t, []uint{7, 8}, doc.Pictures())
}

func second(_ page.Doc, err error) error { return err }

func TestParse(t *testing.T) {
	data, err := json.Marshal(doc)
	require.NoError(t, err)
	back, err := page.Parse(data)
	require.NoError(t, err)
	assert.Equal(t, doc, back)
	for _, bad := range []string{
		`{"version":6}`, `{"version":1,"blocks":[{"id":"","kind":"text"}]}`, `{"version":1,"blocks":[{"id":"a","kind":"poem"}]}`,
		`{"version":1,"blocks":[{"id":"a","kind":"picture"}]}`, `{"version":1,"blocks":[{"id":"a","kind":"text"},{"id":"a","kind":"text"}]}`,
		`{"version":1,"blocks":[{"id":"a","kind":"picture","placement":{"side":"up"}}]}`, `[`,
	} {
		_, err := page.Parse([]byte(bad))
		assert.Error(t, err, bad)
	}
}

func FuzzParse(f *testing.F) {
	f.Add([]byte(`{"version":1,"title":"A","blocks":[{"id":"a","kind":"text","text":"b"}]}`))
	f.Fuzz(func(t *testing.T, data []byte) {
		d, err := page.Parse(data)
		if err == nil && d.Version != page.Version {
			t.Fatal("a page of an unknown version")
		}
	})
}

// Dropped or inserted, a picture brings the slot it was fitted for, unless that is not for
// such a place.
func TestWhichSlotAPictureBrings(t *testing.T) {
	house := rules.Default()
	var strip, stands string
	for _, s := range house.Slots {
		if s.Kind() == rules.ByHeight {
			strip = cmp.Or(strip, s.ID)
		} else if s.Stands() {
			stands = cmp.Or(stands, s.ID)
		}
	}
	require.NotEmpty(t, strip)
	require.NotEmpty(t, stands)
	last := ""
	for _, s := range house.Slots {
		if s.Stands() {
			last = s.ID
		}
	}
	assert.Equal(t, last, page.Picture.SlotFor(house, last), "its own")
	assert.Equal(t, stands, page.Picture.SlotFor(house, strip), "one for strips does not go into a text")
	assert.Equal(t, stands, page.Picture.SlotFor(house, "gone"))
	assert.Equal(t, strip, page.Strip.SlotFor(house, strip))
	got, ok := house.Slot(page.Strip.SlotFor(house, last))
	require.True(t, ok)
	assert.False(t, got.Stands())
	slices.Reverse(house.Slots)
	assert.Equal(t, last, page.Picture.SlotFor(house, ""), "whatever comes first in the list")
}
