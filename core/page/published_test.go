package page_test

import (
	"bytes"
	"errors"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/page"
)

const twoPictures = `<!DOCTYPE html>
<html lang="en"><head><title>A page</title><link rel="stylesheet" href="/a.css"></head>
<body><main class="content"><figure><img src="/juniors/boat.jpg?v=1" srcset="/juniors/boat.jpg?v=1 300w, /juniors/boat-600.jpg?v=1 600w" sizes="300px" width="300" height="200" alt=" A boat "><figcaption>Odo &amp; Pell</figcaption></figure>
<figure><img src="/juniors/jetty.jpg" width="310" height="200" alt="A jetty"></figure>
<div class="large" id="l1"><img src="/juniors/boat-large.jpg" width="1600" height="1066" alt="A boat"></div></main></body></html>`

// What a browser chooses from is read off the page: the srcset's widths, and the width of
// the src (WHATWG HTML, "4.8.4.2.1 Srcset attributes").
func TestReadingAPublishedPage(t *testing.T) {
	got, err := page.ReadHTML(strings.NewReader(twoPictures))
	require.NoError(t, err)
	assert.Equal(t, []string{"/a.css"}, got.Styles)
	require.Len(t, got.Pictures, 2)
	assert.Equal(t, page.ReadImage{Src: "/juniors/boat.jpg?v=1", Alt: "A boat", Files: map[string]int{"/juniors/boat.jpg?v=1": 300, "/juniors/boat-600.jpg?v=1": 600}}, got.Pictures[0])
	require.Len(t, got.Enlarged, 1)
	assert.Equal(t, 1600, got.Enlarged[0].Files["/juniors/boat-large.jpg"])
}

func TestTakingAPictureOff(t *testing.T) {
	boat := page.Taking{Picture: 7, Addresses: map[string]bool{"/juniors/boat.jpg": true, "/juniors/boat-large.jpg": true}}
	boat.Space = func(w, h int) (string, error) { return fmt.Sprintf("/space-%d-%d.svg", w, h), nil }
	off, err := boat.From(strings.NewReader(twoPictures))
	require.NoError(t, err)
	assert.NotContains(t, string(off), "boat")
	got, err := page.ReadHTML(bytes.NewReader(off))
	require.NoError(t, err)
	require.Len(t, got.Pictures, 2)
	assert.Equal(t, "/space-300-200.svg", got.Pictures[0].Src, "as large as what stood there")
	assert.NotEmpty(t, got.Pictures[0].Alt, "who cannot see it hears that it is empty")
	assert.Equal(t, "/juniors/jetty.jpg", got.Pictures[1].Src)
	assert.Contains(t, string(off), "Odo &amp; Pell", "its words stay")

	// Erased later, the space and its caption go, too.
	boat.Space = nil
	gone, err := boat.From(bytes.NewReader(off))
	require.NoError(t, err)
	assert.NotContains(t, string(gone), "space-")
	assert.NotContains(t, string(gone), "Odo")
	assert.NotContains(t, string(gone), `id="l1"`)
	assert.Contains(t, string(gone), "/juniors/jetty.jpg")

	boat.Space = func(int, int) (string, error) { return "", errors.New("no room") }
	_, err = boat.From(strings.NewReader(twoPictures))
	assert.EqualError(t, err, "no room")
	same, err := page.Taking{Picture: 9}.From(strings.NewReader(twoPictures))
	require.NoError(t, err)
	assert.Equal(t, strings.Replace(twoPictures, "\n", "", 1), string(same), "nothing but the line behind the doctype changes")
}

func TestADocumentThatWorksFromAFolder(t *testing.T) {
	var main, doc bytes.Buffer
	require.NoError(t, page.WriteContents(&main, "Juniors & friends", []page.Listed{{Name: "a<b.html", Title: "First <launch>"}}))
	require.NoError(t, page.Document{Language: "en", Title: "Juniors & friends", Main: main.String()}.Write(&doc))
	text := doc.String()
	assert.Contains(t, text, "<h1>Juniors &amp; friends</h1>")
	assert.Contains(t, text, "First &lt;launch&gt;")
	assert.Contains(t, text, `href="a%3Cb.html"`)
	assert.NotContains(t, text, "<script")
	assert.Contains(t, text, `href="page.css"`)
}
