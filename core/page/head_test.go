package page_test

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/page"
)

// The properties of The Open Graph protocol (ogp.me, memory): those that every page has, and
// the optional ones of a page and of its image.
var (
	openGraphBasic    = []string{"og:title", "og:type", "og:image", "og:url"}
	openGraphOptional = []string{"og:audio", "og:description", "og:determiner", "og:locale", "og:locale:alternate", "og:site_name", "og:video",
		"og:image:url", "og:image:secure_url", "og:image:type", "og:image:width", "og:image:height", "og:image:alt"}
)

var shared = page.Head{Title: `Soup & "stories" </script><b>`, Description: "On the evening of the first frost.", Address: "https://club.example/socials/soup-night", House: "Brindlemere",
	Language: "en", First: time.Date(2026, 11, 1, 12, 0, 0, 0, time.UTC), Now: time.Date(2026, 11, 2, 12, 0, 0, 0, time.UTC), Article: true,
	Image:  &page.HeadImage{Address: "https://club.example/socials/soup-night-link.jpg?v=1&w=2", Width: 1200, Height: 630, Alt: "A bowl", MediaType: "image/jpeg"},
	Crumbs: []page.Crumb{{Title: "Brindlemere", Address: "https://club.example/"}, {Title: "Socials", Address: "https://club.example/socials"}}}

// pixels is a length of an ImageObject: schema.org wants a Distance or a QuantitativeValue.
func pixels(n float64) map[string]any {
	return map[string]any{"@type": "QuantitativeValue", "value": n, "unitCode": "E37"}
}

func head(t *testing.T, h page.Head) page.ReadHead {
	t.Helper()
	text, err := h.HTML()
	require.NoError(t, err)
	seen, err := page.ReadHTML(strings.NewReader("<!DOCTYPE html><html><head><title>x</title>" + text + "</head><body></body></html>"))
	require.NoError(t, err)
	return seen.Head
}

func TestTheOpenGraphOfAPage(t *testing.T) {
	h := head(t, shared)
	for _, must := range openGraphBasic {
		assert.Len(t, h.Properties[must], 1, must)
	}
	for name, values := range h.Properties {
		assert.Contains(t, append(openGraphBasic, openGraphOptional...), name)
		assert.Len(t, values, 1, name)
		assert.NotEmpty(t, values[0], name)
	}
	assert.Equal(t, []string{shared.Title, shared.Description, shared.Address, shared.Image.Address, "1200", "630", "A bowl", "image/jpeg", "en_GB", "Brindlemere", "article"},
		[]string{h.Property("og:title"), h.Property("og:description"), h.Property("og:url"), h.Property("og:image"), h.Property("og:image:width"), h.Property("og:image:height"),
			h.Property("og:image:alt"), h.Property("og:image:type"), h.Property("og:locale"), h.Property("og:site_name"), h.Property("og:type")})
	assert.Equal(t, []string{shared.Address, shared.Description, "summary_large_image"}, []string{h.Canonical, h.Description, h.Card})

	bare := shared
	bare.Image, bare.Description, bare.Article, bare.Language = nil, "", false, "de-CH"
	h = head(t, bare)
	assert.Equal(t, []string{"", "", "", "summary", "website", "de_CH"}, []string{h.Property("og:image"), h.Property("og:image:width"), h.Description, h.Card, h.Property("og:type"), h.Property("og:locale")})
	small := *shared.Image
	small.Width, small.Height = 699, 500
	bare.Image = &small
	assert.Equal(t, "summary", head(t, bare).Card, "a picture that is too small is not promised large")
}

// schema.org (memory): Article has headline, WebPage name; both are CreativeWorks with url,
// image, datePublished, dateModified, inLanguage, isPartOf. The crumbs are a BreadcrumbList.
func TestTheStructuredDataOfAPage(t *testing.T) {
	h := head(t, shared)
	require.Len(t, h.Data, 1, "no word of the title ends the element")
	var things []map[string]any
	require.NoError(t, json.Unmarshal([]byte(h.Data[0]), &things))
	require.Len(t, things, 2)
	for _, thing := range things {
		assert.Equal(t, "https://schema.org", thing["@context"])
	}
	assert.Equal(t, "Article", things[0]["@type"])
	assert.Equal(t, shared.Title, things[0]["headline"])
	assert.Equal(t, "2026-11-01", things[0]["datePublished"])
	assert.Equal(t, map[string]any{"@type": "ImageObject", "url": shared.Image.Address, "width": pixels(1200), "height": pixels(630), "caption": "A bowl"}, things[0]["image"])
	items := things[1]["itemListElement"].([]any)
	require.Len(t, items, 3)
	for i, item := range items {
		assert.EqualValues(t, i+1, item.(map[string]any)["position"])
	}
	assert.Equal(t, shared.Address, items[2].(map[string]any)["item"])
	front := shared
	front.Article, front.Crumbs = false, nil
	require.NoError(t, json.Unmarshal([]byte(head(t, front).Data[0]), &things))
	assert.Equal(t, []any{"WebPage", shared.Title}, []any{things[0]["@type"], things[0]["name"]})
	assert.Len(t, things, 1)
}

func TestADescription(t *testing.T) {
	text := func(s string) page.Block { return page.Block{ID: fmt.Sprint(len(s)), Kind: page.Text, Text: s} }
	assert.Equal(t, "One sentence.", page.Doc{Details: page.Details{Summary: "One sentence."}, Blocks: []page.Block{text("Words.")}}.Description())
	assert.Equal(t, "Words that are strong & lead on.", page.Doc{Blocks: []page.Block{{ID: "h", Kind: page.Heading, Text: "Heading"}, text("Words that are **strong** &amp;\n[lead on](/x).")}}.Description())
	long := page.Doc{Blocks: []page.Block{text(strings.Repeat("wörter, ", 60))}}.Description()
	assert.LessOrEqual(t, len([]rune(long)), 200)
	assert.True(t, strings.HasSuffix(long, "wörter…"), long)
	assert.Empty(t, page.Doc{}.Description())
	sample, _ := page.Arranged("account", func() string { return "x" })
	assert.NotContains(t, page.Doc{Blocks: sample}.Description(), "Who was there", "sample text is nobody's words")
}
