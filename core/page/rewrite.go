package page

import (
	"regexp"
	"strings"

	"golang.org/x/net/html"
	"golang.org/x/net/html/atom"
)

// Rewrite reads a fragment of HTML as a browser reads what stands inside a block, and
// writes it again: whatever was opened is closed, and nothing is closed that was not
// opened there, so that no stray end tag breaks out of its place. A fragment that cannot
// be read gives its text.
func Rewrite(fragment string) string {
	inside := &html.Node{Type: html.ElementNode, Data: "div", DataAtom: atom.Div}
	nodes, err := html.ParseFragment(strings.NewReader(fragment), inside)
	if err != nil {
		return html.EscapeString(fragment)
	}
	var b strings.Builder
	for _, n := range nodes {
		if err := html.Render(&b, n); err != nil {
			return html.EscapeString(fragment)
		}
	}
	return PlainVoid(b.String())
}

// void matches elements that have no end, as XML writes them. In HTML that was written
// by a serialiser no text matches it, as its angle brackets are escaped.
var void = regexp.MustCompile(`<(area|base|br|col|embed|hr|img|input|link|meta|param|source|track|wbr)((?:\s[^<>]*?)?)\s*/>`)

// PlainVoid writes elements that have no end as HTML does: <br>, not <br/>.
func PlainVoid(written string) string { return void.ReplaceAllString(written, "<$1$2>") }
