package page

import (
	"bytes"
	"slices"

	"golang.org/x/net/html"
)

// LighterTypes are the media types of files that are offered beside others, the lightest first.
var LighterTypes = []string{"image/avif", "image/webp"}

// WithoutLighter is the HTML of a page without what it offers beside other files, and without the
// space around elements: two pages that give the same differ in nothing else.
func WithoutLighter(doc []byte) []byte {
	var out bytes.Buffer
	within := false // of what holds an image together with lighter files
	z := html.NewTokenizer(bytes.NewReader(doc))
	for {
		kind := z.Next()
		if kind == html.ErrorToken {
			return out.Bytes()
		}
		raw := slices.Clone(z.Raw())
		t := z.Token()
		switch {
		case kind == html.TextToken && len(bytes.TrimSpace(raw)) == 0:
			continue
		case kind == html.StartTagToken && t.Data == "picture" && attribute(t, "class") == "lighter":
			within = true
			continue
		case kind == html.EndTagToken && t.Data == "picture" && within:
			within = false
			continue
		case t.Data == "source" && slices.Contains(LighterTypes, attribute(t, "type")):
			continue
		}
		out.Write(bytes.Join(bytes.Fields(raw), []byte(" ")))
	}
}

func attribute(t html.Token, name string) string {
	for _, a := range t.Attr {
		if a.Key == name {
			return a.Val
		}
	}
	return ""
}
