package page_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"mivlet/core/layout"
	"mivlet/core/page"
	"mivlet/core/rules"
)

func TestTextStyles(t *testing.T) {
	for source, want := range map[string]string{
		"<!-- lead -->\nAn *opening*.\n\nThe rest.":       "<p class=\"lead\">An <em>opening</em>.</p>\n<p>The rest.</p>\n",
		"<!-- note -->\nOne.\n\n<!-- small -->\nTwo.":     "<p class=\"note\">One.</p>\n<p class=\"small\">Two.</p>\n",
		"<!-- lead -->\n\n- no paragraph":                 "<ul>\n<li>no paragraph</li>\n</ul>\n",
		"<!-- huge -->\nUnknown.":                         "<p>Unknown.</p>\n",
		"<p class=\"lead\">Not by HTML.</p>":              "",
		"- <!-- lead -->\n  In a list.":                   "<ul>\n<li>\n\nIn a list.</li>\n</ul>\n",
		"3. three\n4. four":                               "<ol start=\"3\">\n<li>three</li>\n<li>four</li>\n</ol>\n",
		"<!-- lead --> <script>alert(1)</script>\nWords.": "<p>Words.</p>\n",
		"<!-- lead -->\n## A heading is not a paragraph":  "<h2>A heading is not a paragraph</h2>\n",
		"Before.\n<!-- lead -->\nA paragraph of its own.": "<p>Before.</p>\n<p class=\"lead\">A paragraph of its own.</p>\n", // 4.6: it may interrupt one
	} {
		if want == "" {
			assert.NotContains(t, page.TextHTML(source), "class=", source)
			continue
		}
		assert.Equal(t, want, page.TextHTML(source), source)
	}
	assert.NotContains(t, page.CleanHTML(`<p class="lead">kept HTML has no styles</p>`), "class")
}

// The sizes are the house's, on each device; the stylesheet and the style inside agree.
func TestTextSizes(t *testing.T) {
	r := rules.Default()
	css := string(page.CSS(r))
	assert.Contains(t, css, ".content p.lead { font-size: 22px; }")
	assert.Contains(t, css, "@media (max-width: 599px) { .content p.lead { font-size: 19px; } }")
	r.TextSizes.Lead = layout.Lengths{Phone: 20, Desktop: 30}
	css = string(page.CSS(r))
	assert.Contains(t, css, ".content p.lead { font-size: 30px; }")
	assert.Contains(t, css, "@media (max-width: 999px) { .content p.lead { font-size: 21px; } }", "what is not said is the usual")
	assert.Contains(t, css, ".content p.note { border-left:3px solid currentColor;padding-left:12px; }")
}

// A gap of the text offers what its widths are, one of a column what the column gives.
func TestOffers(t *testing.T) {
	r := rules.Default()
	doc := page.Doc{Blocks: []page.Block{{ID: "t", Kind: page.Text, Text: "Words"}, {ID: "b", Kind: page.Band, Band: &page.BandLayout{Pattern: "two"}}}}
	sizes := func(at page.Gap) map[page.Kind]page.Offer {
		all := map[page.Kind]page.Offer{}
		for _, o := range doc.Offers(r, at) {
			all[o.Kind] = o
		}
		return all
	}
	// 990 px less 15 on both sides and 30 between two columns leave 465 each.
	assert.Equal(t, page.Offer{Kind: page.Picture, Wide: 640, Sharp: 1280}, sizes(page.Behind("t"))[page.Picture])
	assert.Equal(t, 465, sizes(page.Gap{After: "b", Column: 1})[page.Picture].Wide)
	strip := sizes(page.Behind("t"))[page.Strip]
	assert.Zero(t, strip.Wide)
	assert.Equal(t, 2*strip.High, strip.Sharp)
	assert.Len(t, sizes(page.Behind("t")), 4)
}
