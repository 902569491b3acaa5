package site

import (
	"bytes"
	"fmt"
	"html"
	"regexp"
	"slices"
	"strings"

	nethtml "golang.org/x/net/html"
	"golang.org/x/net/html/atom"
)

// Layout is a page of a house's own, with named places in double braces for what Mivlet puts into it.
// The zero value has none.
type Layout struct{ pieces []piece }

// piece is a text, or a place where it is named.
type piece struct {
	text  string
	place Place
}

// Place is a named place of a layout.
type Place string

// The places. Those of words are escaped, and may stand in attributes, too.
const (
	PlaceHead     Place = "head"     // in the head: styles, scripts, and what the page says of itself
	PlaceContent  Place = "content"  // in the body: the page, in an element of the class content
	PlaceTitle    Place = "title"    // words: the title of the page and the name of the house
	PlaceLanguage Place = "language" // words: of the page, such as en
	PlaceSections Place = "sections" // a list of links to the sections
	PlaceHouse    Place = "house"    // words: the name of the house
	PlaceTop      Place = "top"      // in the body: the picture at the top of a page that has one
)

// Places are all of them.
var Places = []Place{PlaceHead, PlaceContent, PlaceTitle, PlaceLanguage, PlaceSections, PlaceHouse, PlaceTop}

// LongestLayout is how many bytes a layout may have.
const LongestLayout = 200_000

var named = regexp.MustCompile(`\{\{\s*([A-Za-z]*)\s*\}\}`)

// ParseLayout reads a layout. It fails where a place is not known, missing, or where it cannot be; the
// error says which, and in which line.
func ParseLayout(text string) (Layout, error) {
	var l Layout
	if len(text) > LongestLayout {
		return l, fmt.Errorf("invalid layout of %d bytes: it may have %d", len(text), LongestLayout)
	}
	count, from := map[Place]int{}, 0
	for _, m := range named.FindAllStringSubmatchIndex(text, -1) {
		place := Place(text[m[2]:m[3]])
		if !slices.Contains(Places, place) {
			return Layout{}, fmt.Errorf("invalid place %q in line %d: the places are %s", text[m[0]:m[1]], 1+strings.Count(text[:m[0]], "\n"), list(Places))
		}
		count[place]++
		l.pieces = append(l.pieces, piece{text: text[from:m[0]]}, piece{place: place})
		from = m[1]
	}
	l.pieces = append(l.pieces, piece{text: text[from:]})
	if count[PlaceTop] > 1 {
		return Layout{}, fmt.Errorf("invalid layout: {{%s}} stands in it %d times, and may once", PlaceTop, count[PlaceTop])
	}
	for _, must := range []Place{PlaceHead, PlaceContent, PlaceTitle} {
		if count[must] != 1 && (must != PlaceTitle || count[must] == 0) {
			return Layout{}, fmt.Errorf("invalid layout: {{%s}} stands in it %d times, and must once", must, count[must])
		}
	}
	return l, l.stands()
}

func list(places []Place) string {
	all := make([]string, len(places))
	for i, p := range places {
		all[i] = "{{" + string(p) + "}}"
	}
	return strings.Join(all, ", ")
}

// Some elements end where a block begins (HTML Living Standard, "p"), or take words only.
var wordsOnly = []atom.Atom{atom.P, atom.A, atom.Span, atom.H1, atom.H2, atom.H3, atom.H4, atom.H5, atom.H6, atom.Button, atom.Title, atom.Ul, atom.Ol, atom.Table, atom.Tr}

// stands checks that the head is in the head, and the content and the picture at the top are in the body,
// as a browser reads it.
func (l Layout) stands() error {
	const mark, top = "mivlet-stands-here", "mivlet-top-stands-here"
	doc, err := nethtml.Parse(bytes.NewReader(l.Fill(Parts{Title: "T", Language: "en", House: "H", Head: []byte("<meta name=" + mark + ">"),
		Content: []byte("<div id=" + mark + "></div>"), Top: []byte("<div id=" + top + "></div>"), Sections: []byte("<ul></ul>")})))
	if err != nil {
		return fmt.Errorf("invalid layout: %w", err)
	}
	head, content, titled, topped := false, false, false, !l.has(PlaceTop)
	for n := range doc.Descendants() {
		switch {
		case n.DataAtom == atom.Meta && attrOf(n, "name") == mark:
			head = n.Parent.DataAtom == atom.Head
		case n.DataAtom == atom.Title && n.Parent.DataAtom == atom.Head:
			titled = n.FirstChild != nil && strings.Contains(n.FirstChild.Data, "T")
		case n.DataAtom == atom.Div && attrOf(n, "id") == mark:
			content = true
			if err := takesBlocks(n.Parent, PlaceContent); err != nil {
				return err
			}
		case n.DataAtom == atom.Div && attrOf(n, "id") == top:
			topped = true
			if err := takesBlocks(n.Parent, PlaceTop); err != nil {
				return err
			}
		}
	}
	switch {
	case !head:
		return fmt.Errorf("invalid layout: {{head}} must stand between <head> and </head>, as an element does")
	case !content:
		return fmt.Errorf("invalid layout: {{content}} must stand between <body> and </body>, as an element does")
	case !topped:
		return fmt.Errorf("invalid layout: {{top}} must stand between <body> and </body>, as an element does")
	case !titled:
		return fmt.Errorf("invalid layout: {{title}} must stand in <title>")
	}
	return nil
}

// takesBlocks refuses a place in an element that takes words only.
func takesBlocks(in *nethtml.Node, place Place) error {
	for up := in; up != nil; up = up.Parent {
		if slices.Contains(wordsOnly, up.DataAtom) || up.DataAtom == atom.Head {
			return fmt.Errorf("invalid layout: {{%s}} stands in <%s>, which takes no blocks", place, up.Data)
		}
	}
	return nil
}

func (l Layout) has(place Place) bool {
	return slices.ContainsFunc(l.pieces, func(p piece) bool { return p.place == place })
}

func attrOf(n *nethtml.Node, name string) string {
	for _, a := range n.Attr {
		if a.Key == name {
			return a.Val
		}
	}
	return ""
}

// Parts are what a page consists of.
type Parts struct {
	Title, Language, House  string // words
	Head, Content, Sections []byte // HTML
	Top                     []byte // HTML of the picture at the top, in an element of its looks; empty where there is none
}

// Fill puts the parts of a page into the layout.
func (l Layout) Fill(p Parts) []byte {
	var b bytes.Buffer
	for _, one := range l.pieces {
		switch one.place {
		case "":
			b.WriteString(one.text)
		case PlaceHead:
			b.Write(p.Head)
		case PlaceContent:
			b.WriteString("<div class=\"content\">")
			b.Write(p.Content)
			b.WriteString("</div>")
		case PlaceSections:
			b.Write(p.Sections)
		case PlaceTop:
			b.Write(p.Top)
		case PlaceTitle:
			b.WriteString(html.EscapeString(p.Title))
		case PlaceLanguage:
			b.WriteString(html.EscapeString(p.Language))
		case PlaceHouse:
			b.WriteString(html.EscapeString(p.House))
		}
	}
	return b.Bytes()
}

// Any reports whether there is a layout.
func (l Layout) Any() bool { return len(l.pieces) > 0 }

// TakeApart returns the parts of a page that the site has laid out.
func TakeApart(page []byte) (Parts, error) {
	var p Parts
	between := func(from []byte, begins, ends string) (inside, after []byte, ok bool) {
		_, rest, ok := bytes.Cut(from, []byte(begins))
		if !ok {
			return nil, nil, false
		}
		return bytes.Cut(rest, []byte(ends))
	}
	head, body, ok := between(page, "<head>\n", "</head>")
	if !ok {
		return p, fmt.Errorf("the page has no head")
	}
	title, rest, ok := between(head, "<title>", "</title>\n")
	if !ok {
		return p, fmt.Errorf("the page has no title")
	}
	content, _, ok := between(body, "<main class=\"content\">\n", "</main>")
	if !ok {
		return p, fmt.Errorf("the page has no content")
	}
	sections, _, _ := between(body, "<nav aria-label=\"Sections\">", "</nav>")
	name, _, _ := between(body, "<a class=\"site-name\"", "</a>")
	_, name, _ = bytes.Cut(name, []byte(">"))
	lang, _, _ := between(page, "<html lang=\"", "\"")
	p = Parts{html.UnescapeString(string(title)), html.UnescapeString(string(lang)), html.UnescapeString(string(name)), rest, content, bytes.TrimSpace(sections), topOf(body)}
	return p, nil
}

// topOf is the picture at the top of a page, in an element that looks as the header of the site does
// there. It is no landmark (WAI-ARIA 1.2, "none"): the layout has a header of its own.
func topOf(body []byte) []byte {
	_, from, ok := bytes.Cut(body, []byte("<header class=\"site topped"))
	if !ok {
		return nil
	}
	looks, from, _ := bytes.Cut(from, []byte("\">\n"))
	picture, _, ok := bytes.Cut(from, []byte("  <a class=\"site-name\""))
	if !ok {
		return nil
	}
	return slices.Concat([]byte("<header class=\"topped"), looks, []byte("\" role=\"none\">\n"), picture, []byte("</header>"))
}
