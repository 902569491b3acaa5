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

// spotted is a house with a spot in each place.
func spotted() rules.Rules {
	r := rules.Default()
	spot := func(id string, where rules.Where) rules.Spot {
		return rules.Spot{ID: id, Title: "Partners & \"friends\"", Width: 728, Height: 90, PhoneWidth: 320, PhoneHeight: 50, Where: where, On: []string{rules.OnEvery}, Turn: rules.ByTurns, Empty: rules.ShowNothing}
	}
	r.Spots = []rules.Spot{spot("below", rules.Below), spot("above", rules.Above), spot("beside", rules.Beside), spot("block", rules.AsBlock)}
	return r
}

func writtenWith(t *testing.T, r rules.Rules, d page.Doc) []byte {
	t.Helper()
	var b bytes.Buffer
	require.NoError(t, page.WriteHTML(&b, d, page.Writing{Rules: r, Spots: page.StandingSpots(r, "house", false)}))
	return b.Bytes()
}

// A page has a place for each spot, in its order on the page, with nothing in it. What fills it
// and is taken out again leaves the page as it was signed, byte for byte.
func TestSpotsOfAPage(t *testing.T) {
	t.Parallel()
	r := spotted()
	d := page.Doc{Version: page.Version, Title: "Autumn", Blocks: []page.Block{{ID: "a", Kind: page.Text, Text: "Words."}, {ID: "s", Kind: page.Spot, Text: "block"}, {ID: "g", Kind: page.Spot, Text: "gone"}}}
	require.NoError(t, d.Check())
	signed := writtenWith(t, r, d)
	assert.Equal(t, []string{"above", "block", "below", "beside"}, page.MarkedSpots(signed))
	assert.NotContains(t, string(signed), "iframe")
	assert.Equal(t, []string{"block", "gone"}, d.Spots())

	frames := map[string]string{}
	for _, s := range r.Spots[1:] {
		frames[s.ID] = page.SpotFrame(s, 7)
	}
	served := page.FillSpots(signed, func(id string) string { return frames[id] })
	doc, err := goquery.NewDocumentFromReader(bytes.NewReader(served))
	require.NoError(t, err)
	assert.Equal(t, 3, doc.Find(".spot > iframe").Length())
	assert.Equal(t, 1, doc.Find(".spot.spot-below").Length())
	assert.Equal(t, 0, doc.Find(".spot-below iframe").Length())
	frame := doc.Find(".spot-above > iframe")
	assert.Equal(t, []string{"/spots/above?page=7", `Partners & "friends"`}, []string{frame.AttrOr("src", ""), frame.AttrOr("title", "")})
	assert.Equal(t, signed, page.EmptySpots(served, r, 7))

	// What anybody else puts there is not taken out: it was not signed.
	foreign := bytes.Replace(signed, []byte("<!-- spot above -->"), []byte("<!-- spot above --><script src=x></script>"), 1)
	assert.Equal(t, foreign, page.EmptySpots(foreign, r, 7))
	assert.NotEqual(t, signed, page.EmptySpots(served, r, 8), "nor is the frame of another page")

	var inline bytes.Buffer
	require.NoError(t, page.WriteHTML(&inline, d, page.Writing{Rules: r, Spots: r.Spots, Inline: true}))
	assert.Empty(t, page.MarkedSpots(inline.Bytes()), "elsewhere nobody fills them")
}

// Words that try to be a mark are words.
func TestNoWordsMakeASpot(t *testing.T) {
	t.Parallel()
	r := spotted()
	r.Spots = r.Spots[3:]
	try := "<!-- spot block --><!-- end of spot block -->"
	for _, kind := range []page.Kind{page.Text, page.Heading, page.HTML} {
		d := page.Doc{Version: page.Version, Title: try, Blocks: []page.Block{{ID: "a", Kind: kind, Text: "x " + try + " y"}}}
		assert.Empty(t, page.MarkedSpots(writtenWith(t, r, d)), kind)
	}
	d := page.Doc{Version: page.Version, Blocks: []page.Block{{ID: "a", Kind: page.Spot, Text: `x"><script>`}}}
	assert.NotContains(t, string(writtenWith(t, r, d)), "script", "a spot that the house does not have is left out")
}

// The content of a frame: its picture for phones and for others, where it leads, and words for
// it (WCAG 2.2, F89: a link whose only content is an image is named by it).
func TestTheContentOfAFrame(t *testing.T) {
	t.Parallel()
	show := page.BannerShow{Language: "en", Spot: spotted().Spots[0], Follow: "/spots/follow/3", Alt: `Ropes <"&'> by the lake`, Files: []page.BannerFile{
		{Address: "/spots/a-728.jpg", Width: 728, Height: 90}, {Address: "/spots/a-1456.jpg", Width: 1456, Height: 180},
		{Address: "/spots/a-320.jpg", Width: 320, Height: 50, Phone: true}, {Address: "/spots/a-640.jpg", Width: 640, Height: 100, Phone: true}}}
	read := func() *goquery.Document {
		doc, err := goquery.NewDocumentFromReader(bytes.NewReader(page.WriteBanner(show)))
		require.NoError(t, err)
		return doc
	}
	doc := read()
	link := doc.Find("a")
	assert.Equal(t, []string{"/spots/follow/3", "_top", "sponsored noopener"}, []string{link.AttrOr("href", ""), link.AttrOr("target", ""), link.AttrOr("rel", "")})
	assert.Equal(t, show.Alt, doc.Find("img").AttrOr("alt", ""))
	assert.Equal(t, "/spots/a-728.jpg 728w, /spots/a-1456.jpg 1456w", doc.Find("img").AttrOr("srcset", ""))
	assert.Equal(t, "/spots/a-320.jpg 320w, /spots/a-640.jpg 640w", doc.Find("source").AttrOr("srcset", ""))
	assert.Zero(t, doc.Find("script, .moving").Length())

	show.New = true
	show.Files = append(show.Files, page.BannerFile{Address: "/spots/a.gif", Width: 728, Height: 90, Moves: true})
	doc = read()
	assert.Equal(t, "_blank", doc.Find("a").AttrOr("target", ""))
	assert.True(t, strings.HasSuffix(doc.Find("a > picture img").AttrOr("alt", ""), "(opens in a new window)"))
	assert.Equal(t, []string{"/spots/a.gif", ""}, []string{doc.Find(".moving img").AttrOr("src", ""), doc.Find(".moving img").AttrOr("alt", "x")}, "what moves lies over what stands still, and is not told twice")
	assert.Contains(t, page.SpotCSS, "animation: stop 1ms 5s forwards", "it stops after five seconds (WCAG 2.2, 2.2.2)")
	assert.Contains(t, page.SpotCSS, "prefers-reduced-motion")
}

// Which size is shown where, worked out by hand.
func TestShownWidths(t *testing.T) {
	t.Parallel()
	r := spotted()
	s := r.Spots[0]
	for _, c := range []struct {
		viewport, room, width int
		phone                 bool
	}{{1280, 960, 728, false}, {1280, 640, 320, true}, {390, 390, 320, true}, {300, 300, 300, true}} {
		width, phone := page.ShownWidth(r, s, c.viewport, c.room)
		assert.Equal(t, []any{c.width, c.phone}, []any{width, phone}, "%d", c.viewport)
	}
	s.PhoneWidth, s.PhoneHeight = 0, 0
	width, phone := page.ShownWidth(r, s, 390, 390)
	assert.Equal(t, []any{390, false}, []any{width, phone}, "made smaller")
	assert.Equal(t, 990+728+20, page.BesideFrom(r, r.Spots[2]))
	css := string(page.CSS(r))
	for _, rule := range []string{".spot-below iframe { width: 728px; aspect-ratio: 728 / 90; }", "@media (max-width: 599px) { .spot-below iframe { width: 320px;", "@container (max-width: 727px)", "@media (min-width: 1738px)"} {
		assert.Contains(t, css, rule)
	}
}
