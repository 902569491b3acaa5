package page_test

import (
	"bytes"
	"strings"
	"testing"

	"github.com/PuerkitoBio/goquery"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/page"
	"mivlet/core/rules"
)

// hostile is what somebody could type to end an attribute or an element, and to begin one
// of their own (HTML, 13.1.2.3: attribute values; 13.1.3: text).
const hostile = `a"b'c<evil x=1>&amp;&quot;</p><!--`

// tame reads a document, and holds it to having no element of anybody else's.
func tame(t *testing.T, written string) *goquery.Document {
	t.Helper()
	doc, err := goquery.NewDocumentFromReader(strings.NewReader(written))
	require.NoError(t, err)
	assert.Zero(t, doc.Find("evil").Length(), written)
	doc.Find("*").Each(func(_ int, s *goquery.Selection) {
		for _, a := range s.Nodes[0].Attr {
			assert.NotContains(t, []string{"x", "b'c", "evil"}, a.Key, "an attribute of %s", s.Nodes[0].Data)
		}
	})
	return doc
}

// Whatever is typed comes back from a page as it was typed: as a text or a value, never as
// an element or an attribute.
func TestWhatIsTypedIsNeverMarkup(t *testing.T) {
	house := rules.Default()
	house.Placing.Link = rules.NoLink
	d := page.Doc{Version: page.Version, Title: hostile, Blocks: []page.Block{
		{ID: "h", Kind: page.Heading, Text: hostile},
		{ID: "a", Kind: page.Picture, Placement: &page.Placement{Picture: 1, Slot: "column", Side: page.None, Caption: page.PlainCaption(hostile), Link: page.Link{Kind: rules.AddressLink, Address: "/x?" + hostile, New: true}}},
		{ID: "b", Kind: page.Picture, Placement: &page.Placement{Picture: 1, Slot: "column", Side: page.None, Caption: page.PlainCaption(hostile), Link: page.Link{Kind: rules.EnlargeLink}}},
		{ID: "f", Kind: page.File, Text: hostile, File: &page.Attachment{Hash: "h", Name: "list.pdf", MediaType: "application/pdf", Bytes: 1}},
		{ID: "g", Kind: page.File, File: &page.Attachment{Hash: "h", Name: hostile + ".pdf", MediaType: `text/"<evil x=1>`, Bytes: 1}},
	}}
	large := page.Image{Src: "/large?" + hostile, Width: 9, Height: 9, Alt: hostile}
	for _, inline := range []bool{false, true} {
		var b bytes.Buffer
		require.NoError(t, page.WriteHTML(&b, d, page.Writing{Rules: house, Inline: inline,
			Image: func(page.Stand) (page.Image, error) {
				return page.Image{Src: "/small?" + hostile, SrcSet: "/small?" + hostile + " 1x", Sizes: hostile, Width: 3, Height: 2, Alt: hostile, Large: &large}, nil
			},
			File: func(page.Attachment) (string, error) { return "/file?" + hostile, nil },
		}))
		doc := tame(t, b.String())
		assert.Equal(t, hostile, doc.Find("h1").Text())
		assert.Equal(t, hostile, doc.Find("h2").Text())
		assert.Equal(t, hostile, doc.Find("figure figcaption").First().Text())
		link := doc.Find("figure > a").First()
		assert.Equal(t, "/x?"+hostile, link.AttrOr("href", ""))
		assert.Equal(t, "noopener", link.AttrOr("rel", ""))
		img := doc.Find("figure img").First()
		for name, want := range map[string]string{"src": "/small?" + hostile, "srcset": "/small?" + hostile + " 1x", "sizes": hostile, "alt": hostile, "width": "3", "height": "2"} {
			assert.Equal(t, want, img.AttrOr(name, ""), name)
		}
		files := doc.Find("a[download]")
		assert.Equal(t, "/file?"+hostile, files.First().AttrOr("href", ""))
		assert.Equal(t, hostile, files.First().Text())
		assert.Equal(t, hostile+".pdf", files.Eq(1).Text())
		assert.NotEmpty(t, doc.Find("small").Eq(1).Text())
		if inline {
			continue
		}
		opened := doc.Find("[role=dialog]")
		require.Equal(t, 1, opened.Length())
		assert.Equal(t, hostile, opened.AttrOr("aria-label", ""))
		assert.Equal(t, hostile, opened.Find("p").Text())
		assert.Equal(t, "/large?"+hostile, opened.Find("img").AttrOr("src", ""))
	}
}

// The same of whole documents, of lists of them, and of what a house calls its slots.
func TestDocumentsEscapeWhatTheyAreGiven(t *testing.T) {
	var b bytes.Buffer
	require.NoError(t, page.Document{Language: hostile, Title: hostile, Style: hostile + ".css", Script: hostile + ".js", Main: "<p>x</p>"}.Write(&b))
	title, rest, _ := strings.Cut(b.String(), "</title>")
	assert.Contains(t, title, "&lt;evil", "a title is text (HTML, 13.1.2.1: escapable raw text)")
	doc := tame(t, title+"</title>"+rest)
	assert.Equal(t, hostile, doc.Find("html").AttrOr("lang", ""))
	assert.Equal(t, hostile, doc.Find("title").Text())
	assert.Equal(t, 2, doc.Find("link").Length())
	assert.Contains(t, doc.Find("script").AttrOr("src", ""), "%3Cevil", "as an address (RFC 3986, 2.1)")
	b.Reset()
	require.NoError(t, page.WriteContents(&b, hostile, []page.Listed{{Name: hostile + ".html", Title: hostile}}))
	doc = tame(t, b.String())
	assert.Equal(t, hostile, doc.Find("h1").Text())
	assert.Equal(t, hostile, doc.Find("a").Text())
	b.Reset()
	house := rules.Default()
	for i := range house.Slots {
		house.Slots[i].Title = hostile
	}
	page.Proof(&b, house, house.Page.Patterns[0])
	doc = tame(t, b.String())
	assert.Equal(t, hostile, doc.Find(".proof[data-slot]").First().Text())
}

// A house's colours and shadows stand in styles of their own, which nobody can end.
func TestStylesAreValuesOfAttributes(t *testing.T) {
	house := rules.Default()
	house.Placing.LineColour = `red" onload="x`
	var b bytes.Buffer
	d := page.Doc{Version: page.Version, Title: "A", Blocks: []page.Block{{ID: "a", Kind: page.Picture, Placement: &page.Placement{Picture: 1, Slot: "column", Side: page.None}}}}
	require.NoError(t, page.WriteHTML(&b, d, page.Writing{Rules: house, Inline: true, Image: func(page.Stand) (page.Image, error) {
		return page.Image{Src: "/a.jpg", Width: 3, Height: 2}, nil
	}}))
	doc := tame(t, b.String())
	_, loads := doc.Find("img").Attr("onload")
	assert.False(t, loads)
	assert.Contains(t, doc.Find("img").AttrOr("style", ""), `red" onload="x`)
	for _, broken := range []string{"<p", "a < b", "\x00<evil"} {
		assert.NotContains(t, page.Rewrite(broken), "<evil", broken)
	}
}
