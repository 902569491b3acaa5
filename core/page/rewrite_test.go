package page_test

import (
	"strings"
	"testing"

	"github.com/PuerkitoBio/goquery"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"mivlet/core/page"
	"mivlet/core/rules"
)

// HTML that was kept as it came cannot break out of its block: whatever it closes and
// never opened, what follows it on the page stands where it stood.
func TestKeptHTMLStaysInItsPlace(t *testing.T) {
	parts := []string{"</div>", "</main>", "</p>", "</section></div></div>", "<div>", "<p>", "<b>", "</b>", "<table><tr><td>", "</table>", "<ul><li>", "<!--", "-->", "text", "<h1>", "</h1>", "<br/>", "<details>", "</body></html>", "<a href=\"https://club.example\">", "<"}
	rapid.Check(t, func(t *rapid.T) {
		kept := strings.Join(rapid.SliceOfN(rapid.SampledFrom(parts), 1, 12).Draw(t, "kept"), "")
		doc := page.Doc{Version: page.Version, Title: "T", Blocks: []page.Block{{ID: "a", Kind: page.HTML, Text: kept}, {ID: "b", Kind: page.Heading, Text: "Afterwards"}}}
		var b strings.Builder
		if err := page.WriteHTML(&b, doc, page.Writing{Rules: rules.Default()}); err != nil {
			t.Fatal(err)
		}
		read, err := goquery.NewDocumentFromReader(strings.NewReader("<main>" + b.String() + "</main>"))
		if err != nil {
			t.Fatal(err)
		}
		after := read.Find("main > .flow > h2").FilterFunction(func(_ int, s *goquery.Selection) bool { return s.Text() == "Afterwards" })
		if after.Length() != 1 || read.Find("main > .flow > .kept").Length() != 1 {
			t.Fatalf("%q broke out:\n%s", kept, b.String())
		}
	})
}

func TestRewriting(t *testing.T) {
	for in, out := range map[string]string{
		"</div>a<b>c":            "a<b>c</b>",
		"one<br>two<hr>":         "one<br>two<hr>",
		"a &lt;br/&gt; b":        "a &lt;br/&gt; b",
		"<p>a<p>b":               "<p>a</p><p>b</p>",
		"<li>loose</li></ul>":    "<li>loose</li>",
		"<td>cell</td> and more": "cell and more",
	} {
		assert.Equal(t, out, page.Rewrite(in), in)
		assert.Equal(t, out, page.Rewrite(page.Rewrite(in)), "twice is once: %s", in)
	}
	deep := strings.Repeat("<b>", 20_000)
	require.NotPanics(t, func() { page.Rewrite(deep) })
}
