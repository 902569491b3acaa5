package page

import (
	"encoding/json"
	"fmt"
	"html"
	"strings"
	"time"

	"github.com/PuerkitoBio/goquery"

	"mivlet/core/rules"
)

// LinkShape is the shape of a link picture: what a shared link shows (common practice: 1200 × 630,
// which readers crop further).
var LinkShape = rules.Slot{ID: "link-picture", Title: "Link picture", Width: 1200, Height: 630, Densities: []float64{1}, Budget: 300_000, Formats: []string{"jpeg"}}

var one = []float64{1}

// LinkShapes are the shapes that readers of shared links make of a link picture (common
// practice): the picture itself, and what they crop it to.
var LinkShapes = []rules.Slot{LinkShape,
	{ID: "link-wide", Title: "16 to 9", Width: 1120, Height: 630, Densities: one}, {ID: "link-four", Title: "4 to 3", Width: 840, Height: 630, Densities: one},
	{ID: "link-square", Title: "Square", Width: 630, Height: 630, Densities: one}, {ID: "link-small", Title: "Small square", Width: 120, Height: 120, Densities: one}}

// LeastLink is the least size of a link picture that readers show large, in pixels (common
// practice).
var LeastLink = struct{ W, H int }{700, 500}

// Head is what a live page says of itself to those who do not look at it: search engines, and
// readers of shared links. Addresses are absolute.
type Head struct {
	Title       string
	Description string
	Address     string // of the page
	House       string // name of the site
	Language    string // BCP 47
	Image       *HeadImage
	Crumbs      []Crumb // pages above it, from the top
	First       time.Time
	Now         time.Time // when it went live as it is
	Article     bool      // it is about something that happened, not a front page
}

// HeadImage is a link picture.
type HeadImage struct {
	Address       string
	Width, Height int
	Alt           string
	MediaType     string
}

// Crumb is a page above another one.
type Crumb struct{ Title, Address string }

// locale is how Open Graph writes a language: language_TERRITORY; "" where the territory is
// not known, as it asks for both.
func locale(tag string) string {
	language, territory, ok := strings.Cut(tag, "-")
	if !ok || len(territory) != 2 {
		return map[string]string{"en": "en_GB", "de": "de_DE", "fr": "fr_FR", "it": "it_IT", "es": "es_ES", "nl": "nl_NL"}[language]
	}
	return language + "_" + strings.ToUpper(territory)
}

// HTML writes the elements of a page's head that say what it is: description and canonical
// address (HTML Living Standard), Open Graph (The Open Graph protocol: the four that every
// page has, with the optional ones), the tags of a summary card, and JSON-LD in the words of
// schema.org.
func (h Head) HTML() (string, error) {
	var b strings.Builder
	meta := func(kind, name, content string) {
		if content != "" {
			fmt.Fprintf(&b, "<meta %s=\"%s\" content=\"%s\">\n", kind, name, html.EscapeString(content))
		}
	}
	meta("name", "description", h.Description)
	fmt.Fprintf(&b, "<link rel=\"canonical\" href=\"%s\">\n", html.EscapeString(h.Address))
	meta("property", "og:title", h.Title)
	meta("property", "og:type", map[bool]string{true: "article", false: "website"}[h.Article])
	meta("property", "og:url", h.Address)
	meta("property", "og:description", h.Description)
	meta("property", "og:site_name", h.House)
	meta("property", "og:locale", locale(h.Language))
	card := "summary"
	if m := h.Image; m != nil {
		meta("property", "og:image", m.Address)
		meta("property", "og:image:type", m.MediaType)
		meta("property", "og:image:width", fmt.Sprint(m.Width))
		meta("property", "og:image:height", fmt.Sprint(m.Height))
		meta("property", "og:image:alt", m.Alt)
		if m.Width >= LeastLink.W && m.Height >= LeastLink.H {
			card = "summary_large_image"
		}
	}
	meta("name", "twitter:card", card)
	data, err := h.linked()
	if err != nil {
		return "", err
	}
	fmt.Fprintf(&b, "<script type=\"application/ld+json\">%s</script>\n", data)
	return b.String(), nil
}

// linked is the page in JSON-LD. Its dates are days. encoding/json escapes <, > and &, so that no words end the
// element that it stands in.
func (h Head) linked() ([]byte, error) {
	kind := "WebPage"
	if h.Article {
		kind = "Article"
	}
	thing := map[string]any{"@context": "https://schema.org", "@type": kind, "url": h.Address, "inLanguage": h.Language, "isPartOf": map[string]any{"@type": "WebSite", "name": h.House}}
	title := "name"
	if h.Article {
		title = "headline"
	}
	thing[title] = h.Title
	if h.Description != "" {
		thing["description"] = h.Description
	}
	if !h.First.IsZero() {
		thing["datePublished"], thing["dateModified"] = h.First.UTC().Format(time.DateOnly), h.Now.UTC().Format(time.DateOnly)
	}
	if m := h.Image; m != nil {
		thing["image"] = map[string]any{"@type": "ImageObject", "url": m.Address, "width": pixels(m.Width), "height": pixels(m.Height), "caption": m.Alt}
	}
	things := []any{thing}
	if len(h.Crumbs) > 0 {
		var items []any
		for i, c := range append(h.Crumbs, Crumb{h.Title, h.Address}) {
			items = append(items, map[string]any{"@type": "ListItem", "position": i + 1, "name": c.Title, "item": c.Address})
		}
		things = append(things, map[string]any{"@context": "https://schema.org", "@type": "BreadcrumbList", "itemListElement": items})
	}
	return json.Marshal(things)
}

// pixels is a length as schema.org wants it; E37 is the pixel of UN/CEFACT's common codes
// (Recommendation 20).
func pixels(n int) map[string]any {
	return map[string]any{"@type": "QuantitativeValue", "value": n, "unitCode": "E37"}
}

// longestDescription is about what readers show of a description, in characters (common
// practice).
const longestDescription = 200

// Description is what a page is about in a sentence: its summary, else how its words begin.
func (d Doc) Description() string {
	if d.Details.Summary != "" {
		return d.Details.Summary
	}
	for _, b := range d.Blocks {
		if b.Kind != Text && b.Kind != Beside || IsPrompt(b.Text) {
			continue
		}
		doc, err := goquery.NewDocumentFromReader(strings.NewReader(TextHTML(b.Text)))
		if err != nil {
			continue
		}
		if text := strings.Join(strings.Fields(doc.Text()), " "); text != "" {
			return shortened(text, longestDescription)
		}
	}
	return ""
}

// shortened is a text of at most some characters, that ends with a word.
func shortened(text string, most int) string {
	r := []rune(text)
	if len(r) <= most {
		return text
	}
	cut := string(r[:most-1])
	if i := strings.LastIndexByte(cut, ' '); i > 0 {
		cut = cut[:i]
	}
	return strings.TrimRight(cut, " ,;:–") + "…"
}

// ReadHead is what the head of a served page says to readers of shared links.
type ReadHead struct {
	Title, Description, Canonical string
	Properties                    map[string][]string // of Open Graph, by their names
	Card                          string
	Data                          []string // blocks of JSON-LD
}

// readHead reads what stands in a page's head. Nothing that a script would add is seen.
func readHead(doc *goquery.Document) ReadHead {
	h := ReadHead{Title: strings.TrimSpace(doc.Find("head > title").Text()), Properties: map[string][]string{}}
	h.Description = doc.Find("head > meta[name=description]").AttrOr("content", "")
	h.Canonical = doc.Find("head > link[rel=canonical]").AttrOr("href", "")
	h.Card = doc.Find(`head > meta[name="twitter:card"]`).AttrOr("content", "")
	doc.Find("head > meta[property]").Each(func(_ int, m *goquery.Selection) {
		name := m.AttrOr("property", "")
		h.Properties[name] = append(h.Properties[name], m.AttrOr("content", ""))
	})
	doc.Find(`head > script[type="application/ld+json"]`).Each(func(_ int, s *goquery.Selection) { h.Data = append(h.Data, s.Text()) })
	return h
}

// Property is the first value of a property; "" where there is none.
func (h ReadHead) Property(name string) string {
	if all := h.Properties[name]; len(all) > 0 {
		return all[0]
	}
	return ""
}
