package page_test

import (
	"encoding/json"
	"strings"
	"testing"
	"unicode"
	"unicode/utf8"

	"github.com/PuerkitoBio/goquery"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/page"
)

// What captions are made of, with the examples of CommonMark 0.31 that are named.
func TestCaptions(t *testing.T) {
	for source, want := range map[string]string{
		"Red led, **yellow** followed.":       "Red led, <strong>yellow</strong> followed.",
		"*foo bar*":                           "<em>foo bar</em>", // example 350
		"foo*bar*":                            "foo<em>bar</em>",  // example 355
		"foo_bar_":                            "foo_bar_",         // example 360
		"[link](/uri)":                        `<a href="/uri">link</a>`,
		"<https://foo.bar.baz/test?q=hello>":  `<a href="https://foo.bar.baz/test?q=hello">https://foo.bar.baz/test?q=hello</a>`,
		`\*not emphasized*`:                   "*not emphasized*", // of example 14
		"1. of many":                          "1. of many",       // a list elsewhere
		"# the first":                         "# the first",      // a heading elsewhere
		"> said":                              "&gt; said",
		"---":                                 "---",
		"- a\n- b":                            "- a - b",
		"two\n\nparagraphs  of a\tform":       "two  paragraphs  of a form",
		"<b>bold</b>":                         "&lt;b&gt;bold&lt;/b&gt;",
		"<script>alert(1)</script>":           "&lt;script&gt;alert(1)&lt;/script&gt;",
		"![a picture](/x.jpg) and words":      "and words",
		"[a](javascript:alert(1))":            "a",
		"[a](data:text/html;base64,PHN2Zz4=)": "a",
		"``code``":                            "<code>code</code>",
		"":                                    "",
		"  ":                                  "",
	} {
		assert.Equal(t, want, page.CaptionHTML(source), source)
	}
	assert.Equal(t, `Red & "yellow" <b>`, page.CaptionText(`**Red** &amp; "[yellow](/y)" <b>`))
}

// A plain text that is made a caption says the same, whatever is in it.
func FuzzPlainCaption(f *testing.F) {
	for _, text := range []string{"Odo & Pell", "a_b c_ _d", "1. x", "* * *", "[x](y)", "![x](y)", "&amp; &#35; & co", `\*`, "``", "<a href=x>", "https://example.org/a_b_", "a\\", "**", "~~x~~", "é_é", "_", "a&b;"} {
		f.Add(text)
	}
	f.Fuzz(func(t *testing.T, text string) {
		if !utf8.ValidString(text) || strings.ContainsAny(text, "\x00\ufffd") {
			return // CommonMark 0.31, 2.3: these are replaced
		}
		made := page.PlainCaption(text)
		doc, err := goquery.NewDocumentFromReader(strings.NewReader("<p>" + page.CaptionHTML(made) + "</p>"))
		require.NoError(t, err)
		if found := doc.Find("p *").Length(); found > 0 {
			t.Fatalf("%q became %q with %d elements", text, page.CaptionHTML(made), found)
		}
		words := func(s string) []string {
			return strings.FieldsFunc(s, func(r rune) bool { return unicode.IsSpace(r) || unicode.IsControl(r) })
		}
		assert.Equal(t, words(text), words(page.CaptionText(made)), "%q as %q", text, made)
	})
}

// Captions of earlier versions were plain text, and read as they did.
func TestCaptionsOfEarlierVersions(t *testing.T) {
	const old = `{"version":4,"title":"x","blocks":[{"id":"a","kind":"picture","placement":{"picture":1,"slot":"column","side":"none","caption":"2 * 3 * 4 <b> &amp; [x](y)"}},
		{"id":"b","kind":"pair","pictures":[{"picture":1,"slot":"half","side":"none","caption":"*as it was*"},{"picture":2,"slot":"half","side":"none","caption":"plain"}]}]}`
	d, err := page.Parse([]byte(old))
	require.NoError(t, err)
	assert.Equal(t, page.Version, d.Version)
	assert.Equal(t, "2 * 3 * 4 <b> &amp; [x](y)", page.CaptionText(d.Blocks[0].Placement.Caption))
	assert.Equal(t, "*as it was*", page.CaptionText(d.Blocks[1].Pictures[0].Caption))
	assert.Equal(t, "plain", d.Blocks[1].Pictures[1].Caption)
	again, err := json.Marshal(d)
	require.NoError(t, err)
	back, err := page.Parse(again)
	require.NoError(t, err)
	assert.Equal(t, d, back, "once is enough")
}

// Links of captions are looked at as those of words are.
func TestLinksOfCaptions(t *testing.T) {
	b := page.Block{ID: "a", Kind: page.Beside, Text: "[second](/two)", Placement: &page.Placement{Picture: 1, Caption: "see [first](/one) and <https://example.org/>"}}
	links, _ := b.Outline()
	assert.Equal(t, []string{"/one", "https://example.org/", "/two"}, links)
}
