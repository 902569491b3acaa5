package page_test

import (
	"bytes"
	"encoding/json"
	"strings"
	"testing"

	"github.com/PuerkitoBio/goquery"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"mivlet/core/layout"
	"mivlet/core/page"
	"mivlet/core/rules"
)

func placement(slot string, side page.Side) *page.Placement {
	return &page.Placement{Picture: 1, Slot: slot, Side: side}
}

// banded is a page of every kind of block: a flow, then bands of two, three and one
// columns.
var banded = page.Doc{Version: page.Version, Title: "All", Blocks: []page.Block{
	{ID: "a", Kind: page.Text, Text: "First."},
	{ID: "b", Kind: page.Picture, Placement: placement("wide", page.Centre)},
	{ID: "c", Kind: page.Pair, Pictures: []page.Placement{*placement("half", page.None), *placement("half", page.None)}},
	{ID: "d", Kind: page.Band, Band: &page.BandLayout{Pattern: "two", Ground: page.Mist, Padding: &layout.Lengths{Phone: 10, Tablet: 20, Desktop: 40}}},
	{ID: "e", Kind: page.Heading, Text: "Left"},
	{ID: "f", Kind: page.Picture, Column: 1, Placement: placement("half", page.None)},
	{ID: "g", Kind: page.Beside, Column: 1, Placement: placement("side", page.Right), Text: "*Beside*"},
	{ID: "h", Kind: page.Band, Band: &page.BandLayout{Pattern: "three", Order: []int{2, 0, 1}}},
	{ID: "i", Kind: page.Picture, Column: 2, Placement: &page.Placement{Picture: 1, Slot: "column", Side: page.None, Rule: &layout.Rule{Percent: 50}}},
	{ID: "j", Kind: page.Strip, Column: 7, Pictures: []page.Placement{*placement("strip", page.None)}},
	{ID: "k", Kind: page.Divider}, {ID: "l", Kind: page.HTML, Text: `<p onclick="x()">Kept</p><img src="x.jpg"><script>1</script>`},
	{ID: "m", Kind: page.File, Text: "Sizes", File: &page.Attachment{Name: "sizes.csv", MediaType: "text/csv", Bytes: 1234}},
}}

func written(t *testing.T, d page.Doc, how page.Writing) (string, *goquery.Document) {
	t.Helper()
	var b bytes.Buffer
	require.NoError(t, page.WriteHTML(&b, d, how))
	doc, err := goquery.NewDocumentFromReader(strings.NewReader(b.String()))
	require.NoError(t, err)
	return b.String(), doc
}

func oneImage(page.Stand) (page.Image, error) { return image, nil }

func TestBandsBecomeColumns(t *testing.T) {
	text, doc := written(t, banded, writing(oneImage))
	assert.Equal(t, 1, doc.Find(".flow > .pair > figure:nth-child(2)").Length())
	assert.Equal(t, 2, doc.Find(".band.pattern-two.ground-mist.own-d > .columns > .column").Length())
	assert.Equal(t, "Left", doc.Find(".own-d .column:nth-child(1) h2").Text())
	assert.Equal(t, "Beside", doc.Find(".own-d .column:nth-child(2) .beside.beside-right > .beside-words em").Text())
	assert.Equal(t, 3, doc.Find(".own-h .column").Length())
	assert.Equal(t, 1, doc.Find(".own-h .column:nth-child(3) > .strip[tabindex]").Length(), "what stands in a column that is not there comes into the last")
	assert.Equal(t, 1, doc.Find(".own-h .column:nth-child(1) > hr").Length())
	assert.Equal(t, "Kept", strings.TrimSpace(doc.Find(".kept").Text()))
	for _, bad := range []string{"onclick", "<script", "x.jpg", "style="} {
		assert.NotContains(t, text, bad)
	}
	link := doc.Find(".file-card a[download]")
	assert.Equal(t, "/files/sizes.csv", link.AttrOr("href", ""))
	assert.Contains(t, doc.Find(".file-card").Text(), "CSV, 1 kB")
	for n, line := range strings.Split(strings.TrimSpace(text), "\n") {
		indent := len(line) - len(strings.TrimLeft(line, " "))
		assert.Zero(t, indent%2, "line %d: %s", n, line)
	}
}

// Where a picture stands follows from the arithmetic of its band: 990 px with 15 px of
// padding and gutters of 30 in the rules of a club.
func TestWherePicturesStand(t *testing.T) {
	r := rules.Default()
	want := map[string]struct {
		desktop, tablet, phone float64
		cut                    int
	}{
		"b/0": {960, 738, 360, 960},
		"c/0": {314, 314, 174, 314}, // (640 − 12) ÷ 2; on a phone (360 − 12) ÷ 2
		"f/0": {440, 354, 370, 440}, // (990 − 2·40 − 30) ÷ 2; (768 − 2·20 − 20) ÷ 2; 390 − 2·10
		"g/0": {300, 300, 300, 300},
		"i/0": {150, 116.333, 180, 180}, // half of (960 − 2·30) ÷ 3; half of (738 − 2·20) ÷ 3; half of 360
	}
	for _, s := range banded.Stands(r) {
		w, ok := want[s.Block+"/"+string(rune('0'+s.Nth))]
		if !ok {
			continue
		}
		assert.InDelta(t, w.desktop, s.Place.Width(1280), .01, s.Block)
		assert.InDelta(t, w.tablet, s.Place.Width(768), .01, s.Block)
		assert.InDelta(t, w.phone, s.Place.Width(390), .01, s.Block)
		assert.Equal(t, w.cut, s.Slot.Width, "%s is cut for the widest it gets", s.Block)
	}
	strip, ok := banded.Stand(r, "j", 0)
	require.True(t, ok)
	assert.EqualValues(t, 450, strip.ShownWidth(390, 450), "its height rules")
	_, ok = banded.Stand(r, "a", 0)
	assert.False(t, ok)
}

func TestOwnMeasuresAreClassesOrStyles(t *testing.T) {
	d := banded
	d.Blocks = []page.Block{
		{ID: "a", Kind: page.Picture, Placement: &page.Placement{Picture: 1, Slot: "side", Side: page.Left, Rule: &layout.Rule{Fixed: 220, Cap: 200}, Air: &page.Edges{Top: 1, Right: 2, Bottom: 3, Left: 4},
			Line: &page.Border{Width: 3, Colour: "#123456"}, Shadow: &page.Shadow{X: 5, Y: -6, Colour: "#abcdef"}}},
		{ID: "b", Kind: page.Picture, Placement: placement("column", page.None)},
		banded.Blocks[3], banded.Blocks[7],
	}
	css := string(page.DocCSS(rules.Default(), d, nil))
	for _, part := range []string{".own-a-1", "width: 220px", "200px", "1px 2px 3px", "border: 3px solid #123456", "box-shadow: 5px -6px 0 #abcdef", "--band-padding: 40px", "--band-padding: 10px", ":nth-child(3) { order: 1; }"} {
		assert.Contains(t, css, part)
	}
	assert.NotContains(t, css, "own-b-1", "what is as the house has it needs none")
	assert.Equal(t, strings.Count(css, "{"), strings.Count(css, "}"))
	text, doc := written(t, d, writing(oneImage))
	assert.Equal(t, 1, doc.Find("figure.own-a-1").Length())
	assert.NotContains(t, text, "style=")

	how := writing(oneImage)
	how.Inline = true
	text, doc = written(t, d, how)
	assert.NotContains(t, text, "class=", "for pages that live elsewhere")
	assert.Contains(t, doc.Find("figure").First().AttrOr("style", ""), "float:left")
	assert.Contains(t, doc.Find("img").First().AttrOr("style", ""), "border: 3px solid #123456")
}

func TestWhereAPictureLeads(t *testing.T) {
	big := image
	big.Src = "/big.jpg"
	how := writing(func(page.Stand) (page.Image, error) { m := image; m.Large = &big; return m, nil })
	d := page.Doc{Version: page.Version, Blocks: []page.Block{
		{ID: "a", Kind: page.Picture, Placement: &page.Placement{Picture: 1, Slot: "side", Side: page.None, Link: page.Link{Kind: rules.EnlargeLink}, Caption: "One"}},
		{ID: "b", Kind: page.Picture, Placement: &page.Placement{Picture: 2, Slot: "side", Side: page.None, Link: page.Link{Kind: rules.EnlargeLink}}},
		{ID: "c", Kind: page.Picture, Placement: &page.Placement{Picture: 3, Slot: "side", Side: page.None, Link: page.Link{Kind: rules.AddressLink, Address: "https://paddle.example/?a=1&b=2", New: true}}},
		{ID: "d", Kind: page.Picture, Placement: placement("side", page.None)},
	}}
	_, doc := written(t, d, how)
	assert.Equal(t, "#large-a-1", doc.Find("figure a.enlarges").First().AttrOr("href", ""))
	large := doc.Find("#large-a-1")
	assert.Equal(t, "/big.jpg", large.Find("img").AttrOr("src", ""))
	assert.Equal(t, "One", large.Find("p").Text())
	assert.Equal(t, "#large-b-1", large.Find(".large-next").AttrOr("href", ""))
	assert.Equal(t, "#small-a-1", large.Find(".large-close").AttrOr("href", ""))
	assert.Equal(t, 1, doc.Find("#small-a-1").Length(), "there is something to come back to")
	link := doc.Find("figure a[target]")
	assert.Equal(t, "https://paddle.example/?a=1&b=2", link.AttrOr("href", ""))
	assert.Equal(t, "noopener", link.AttrOr("rel", ""))
	assert.Equal(t, 0, doc.Find("figure:nth-of-type(4) a").Length(), "never the bare file by accident")
	how.Inline = true
	text, _ := written(t, d, how)
	assert.NotContains(t, text, "#large", "where no stylesheet would open it, it leads nowhere")
}

// Whatever is moved wherever, no block is lost or doubled, and the bands keep what
// stands in them when they are moved.
func TestMovingInBandsKeepsAllBlocks(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		d := banded
		for range rapid.IntRange(1, 6).Draw(t, "moves") {
			b := d.Blocks[rapid.IntRange(0, len(d.Blocks)-1).Draw(t, "block")]
			var err error
			inside := held(d, b)
			if rapid.Bool().Draw(t, "by steps") {
				d, err = d.Move(b.ID, rapid.IntRange(-3, 3).Draw(t, "by"))
			} else {
				after := ""
				if at := rapid.IntRange(-1, len(d.Blocks)-1).Draw(t, "after"); at >= 0 {
					after = d.Blocks[at].ID
				}
				d, err = d.MoveTo(b.ID, page.Gap{After: after, Column: rapid.IntRange(0, 2).Draw(t, "column")})
			}
			if err != nil {
				t.Fatal(err)
			}
			if got := held(d, b); got[:min(len(inside), len(got))] != inside {
				t.Fatalf("band %s held %s and holds %s", b.ID, inside, got)
			}
		}
		seen := map[string]bool{}
		for _, b := range d.Blocks {
			seen[b.ID] = true
		}
		if len(seen) != len(banded.Blocks) || len(d.Blocks) != len(banded.Blocks) {
			t.Fatalf("%d blocks of %d", len(seen), len(banded.Blocks))
		}
	})
}

// held is what stands in a band, in order; "" for other blocks.
func held(d page.Doc, b page.Block) string {
	if b.Kind != page.Band {
		return ""
	}
	for _, s := range d.Spreads(rules.Default()) {
		if s.ID != b.ID {
			continue
		}
		var all []string
		for _, o := range d.Blocks {
			for _, c := range s.Columns {
				for _, x := range c {
					if x.ID == o.ID {
						all = append(all, x.ID)
					}
				}
			}
		}
		return strings.Join(all, "")
	}
	return ""
}

func TestStepsStayInTheirColumn(t *testing.T) {
	d := page.Doc{Version: page.Version, Blocks: []page.Block{
		{ID: "x", Kind: page.Text}, {ID: "A", Kind: page.Band, Band: &page.BandLayout{Pattern: "two"}},
		{ID: "a", Kind: page.Text}, {ID: "r", Kind: page.Text, Column: 1}, {ID: "b", Kind: page.Text},
		{ID: "B", Kind: page.Band, Band: &page.BandLayout{Pattern: "wide"}}, {ID: "z", Kind: page.Text}}}
	for _, c := range []struct {
		id   string
		by   int
		want string
	}{{"b", -1, "xAbarBz"}, {"a", 1, "xArbaBz"}, {"a", -1, "xaArbBz"}, {"b", 1, "xAarBbz"}, {"B", -1, "xBzAarb"}, {"A", 1, "xBzAarb"}, {"A", -1, "AarbxBz"}} {
		moved, err := d.Move(c.id, c.by)
		require.NoError(t, err)
		assert.Equal(t, c.want, ids(moved), "%s by %d", c.id, c.by)
	}
}

func TestPicturesLeaveTheirBlocks(t *testing.T) {
	one, err := banded.RemovePicture("c", 0)
	require.NoError(t, err)
	b, _ := one.Block("c")
	assert.Equal(t, page.Picture, b.Kind, "what is left of a pair stands alone")
	_, err = page.Parse(mustJSON(t, one))
	require.NoError(t, err)
	gone, err := banded.RemovePicture("j", 0)
	require.NoError(t, err)
	_, there := gone.Block("j")
	assert.False(t, there)
	words, err := banded.RemovePicture("g", 0)
	require.NoError(t, err)
	b, _ = words.Block("g")
	assert.Equal(t, page.Text, b.Kind)
	assert.Equal(t, "*Beside*", b.Text)
	_, err = banded.RemovePicture("c", 2)
	assert.Error(t, err)
}

// Version 1 had no bands; it is read as it was.
func TestOlderPagesAreRead(t *testing.T) {
	d, err := page.Parse([]byte(`{"version":1,"title":"Old","blocks":[{"id":"a","kind":"text","text":"b"}]}`))
	require.NoError(t, err)
	assert.Equal(t, page.Version, d.Version)
	for _, bad := range []string{`{"id":"a","kind":"pair","pictures":[{"side":"none"}]}`, `{"id":"a","kind":"band"}`, `{"id":"a","kind":"file"}`, `{"id":"a","kind":"text","column":-1}`, `{"id":"a","kind":"heading","level":7}`} {
		_, err := page.Parse([]byte(`{"version":2,"blocks":[` + bad + `]}`))
		assert.Error(t, err, bad)
	}
}

func mustJSON(t *testing.T, d page.Doc) []byte {
	t.Helper()
	data, err := json.Marshal(d)
	require.NoError(t, err)
	return data
}
