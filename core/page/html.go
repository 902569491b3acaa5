package page

import (
	"bytes"
	"fmt"
	"html"
	"io"
	"strings"

	"github.com/microcosm-cc/bluemonday"
	"github.com/yuin/goldmark"
)

// Image is what a placement becomes in HTML: the files a browser may choose
// from and the words that go with them.
type Image struct {
	Src           string // the file for browsers that do not choose
	SrcSet        string
	Sizes         string
	Width, Height int // of Src, in pixels
	Alt           string
}

// Resolver gives the image for a placement.
type Resolver func(Placement) (Image, error)

// WriteHTML writes the blocks of d as indented, semantic HTML without inline
// styles or scripts: what stands inside the page's main element.
func WriteHTML(w io.Writer, d Doc, resolve Resolver) error {
	var b bytes.Buffer
	fmt.Fprintf(&b, "<h1>%s</h1>\n", html.EscapeString(d.Title))
	first := true
	for _, block := range d.Blocks {
		switch block.Kind {
		case Heading:
			fmt.Fprintf(&b, "<h2>%s</h2>\n", html.EscapeString(block.Text))
		case Text:
			b.WriteString(TextHTML(block.Text))
		case Picture:
			image, err := resolve(*block.Placement)
			if err != nil {
				return fmt.Errorf("block %s: %w", block.ID, err)
			}
			figure(&b, *block.Placement, image, first)
			first = false
		}
	}
	_, err := w.Write(b.Bytes())
	return err
}

// figure writes one picture. The first of a page is likely in view at once, so
// it is not put off.
func figure(b *bytes.Buffer, p Placement, m Image, first bool) {
	loading := "lazy"
	if first {
		loading = "eager"
	}
	fmt.Fprintf(b, "<figure class=\"picture slot-%s side-%s\">\n", html.EscapeString(p.Slot), html.EscapeString(string(p.Side)))
	fmt.Fprintf(b, "  <img src=\"%s\"", html.EscapeString(m.Src))
	if m.SrcSet != "" {
		fmt.Fprintf(b, "\n    srcset=\"%s\"\n    sizes=\"%s\"\n   ", html.EscapeString(m.SrcSet), html.EscapeString(m.Sizes))
	}
	fmt.Fprintf(b, " width=\"%d\" height=\"%d\" alt=\"%s\" loading=\"%s\">\n", m.Width, m.Height, html.EscapeString(m.Alt), loading)
	if caption := strings.TrimSpace(p.Caption); caption != "" {
		fmt.Fprintf(b, "  <figcaption>%s</figcaption>\n", html.EscapeString(caption))
	}
	b.WriteString("</figure>\n")
}

// clean lets through what CommonMark makes and nothing that acts.
var clean = bluemonday.UGCPolicy()

// TextHTML turns CommonMark into sanitised HTML.
func TextHTML(source string) string {
	var b bytes.Buffer
	if err := goldmark.Convert([]byte(source), &b); err != nil {
		return "<p>" + html.EscapeString(source) + "</p>\n"
	}
	return clean.Sanitize(b.String())
}
