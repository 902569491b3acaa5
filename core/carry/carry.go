// Package carry reads a page of a site that was made elsewhere as its editors would write it today: a title,
// headings, words, pictures with their captions, lines. What has no such form stays HTML. No word of the page is
// lost: what cannot be written in words so that it reads the same is kept as it came.
package carry

import (
	"bytes"
	"io"
	"strings"

	"golang.org/x/net/html"
	"golang.org/x/net/html/atom"
	"golang.org/x/net/html/charset"
)

// Kind is what a block is.
type Kind string

// The kinds.
const (
	Heading Kind = "heading" // its text is plain
	Words   Kind = "words"   // CommonMark, with tables
	Picture Kind = "picture"
	Line    Kind = "line" // a line across
	HTML    Kind = "html" // as it came
	Band    Kind = "band" // columns begin here, and go on until the next one
)

// Block is one piece of a page.
type Block struct {
	Kind    Kind
	Level   int    // of a heading, 2 to 4
	Text    string // of a picture: its caption, plain
	Address string // of a picture, as the page says it
	Alt     string // of a picture
	HasAlt  bool   // the page says one, which may be empty

	Shares []float64 // of a band: how wide its columns are, in percent of all; 1 to 4 of them
	Column int       // of its band that it stands in, counted from 0
}

// Page is what was read.
type Page struct {
	Title  string
	Blocks []Block
	Left   []string // addresses of pictures that only fill or mark, such as balls before lines
}

// Options say how a page is read.
type Options struct {
	// Link says where a link leads from now on; "" where its words stay without it. Where it is nil, links lead where
	// they led.
	Link func(address string) string
}

// leastSide is how large a picture is shown that is one to look at, in CSS pixels.
const leastSide = 48

// Read reads a page, in the encoding that it says. It fails where what it says cannot be.
func Read(data []byte, o Options) (Page, error) {
	r, err := charset.NewReader(io.MultiReader(bytes.NewReader(data), strings.NewReader("\n")), "text/html") // a last letter is whole
	if err != nil {
		return Page{}, err
	}
	doc, err := html.Parse(r)
	if err != nil {
		return Page{}, err
	}
	c := &carrying{Options: o}
	main := content(doc)
	if h := first(main, atom.H1); h != nil {
		c.titled = h
		c.page.Title = plain(h)
	}
	if t := first(doc, atom.Title); c.page.Title == "" && t != nil {
		c.page.Title = plain(t)
	}
	c.children(main)
	c.flush()
	return c.page, nil
}

// carrying is a page while it is read.
type carrying struct {
	Options
	page   Page
	titled *html.Node   // the heading that is the title
	inline []*html.Node // what stands in a line, one after the other

	column   int  // that it is in
	within   bool // columns
	columned bool // they have ended, and nothing stands behind them yet
}

// content is the part of a document that is about something: what says so, or all of it.
func content(doc *html.Node) *html.Node {
	if m := find(doc, func(n *html.Node) bool { return n.DataAtom == atom.Main || attr(n, "role") == "main" }); m != nil {
		return m
	}
	if all := findAll(doc, func(n *html.Node) bool { return n.DataAtom == atom.Article }); len(all) == 1 {
		return all[0]
	}
	for _, id := range []string{"content", "main", "maincontent"} { // (common practice)
		if m := find(doc, func(n *html.Node) bool { return strings.EqualFold(attr(n, "id"), id) }); m != nil && plain(m) != "" {
			return m
		}
	}
	if b := first(doc, atom.Body); b != nil {
		return b
	}
	return doc
}

// around are elements that stand around what a page is about.
var around = map[atom.Atom]bool{atom.Nav: true, atom.Footer: true, atom.Script: true, atom.Style: true, atom.Noscript: true, atom.Template: true, atom.Head: true, atom.Title: true, atom.Form: true, atom.Button: true, atom.Input: true, atom.Select: true, atom.Textarea: true}

// passed reports whether an element is passed over.
func passed(n *html.Node) bool {
	return n.Type == html.CommentNode || n.Type == html.ElementNode && (around[n.DataAtom] || attr(n, "role") == "navigation" || n.DataAtom == atom.Header && first(n, atom.H1) == nil && n.Parent != nil && n.Parent.DataAtom == atom.Body)
}

// inLine are elements that stand in a line.
var inLine = map[atom.Atom]bool{atom.A: true, atom.Abbr: true, atom.Acronym: true, atom.B: true, atom.Bdi: true, atom.Bdo: true, atom.Big: true, atom.Br: true, atom.Cite: true, atom.Code: true, atom.Data: true, atom.Del: true, atom.Dfn: true, atom.Em: true,
	atom.Font: true, atom.I: true, atom.Ins: true, atom.Kbd: true, atom.Mark: true, atom.Nobr: true, atom.Q: true, atom.Ruby: true, atom.S: true, atom.Samp: true, atom.Small: true, atom.Span: true, atom.Strike: true, atom.Strong: true, atom.Sub: true, atom.Sup: true, atom.Time: true, atom.Tt: true, atom.U: true, atom.Var: true, atom.Wbr: true}

// line reports whether all of an element can stand in a line of words.
func line(n *html.Node) bool {
	switch n.Type {
	case html.TextNode, html.CommentNode:
		return true
	case html.ElementNode:
		if !inLine[n.DataAtom] {
			return false
		}
		for c := range n.ChildNodes() {
			if !line(c) {
				return false
			}
		}
		return true
	}
	return false
}

func (c *carrying) children(n *html.Node) {
	for child := range n.ChildNodes() {
		c.node(child)
	}
}

// node reads what stands at one place.
func (c *carrying) node(n *html.Node) {
	switch {
	case passed(n):
	case n.Type == html.TextNode, line(n):
		c.inline = append(c.inline, n)
	case n.Type != html.ElementNode:
		c.children(n)
	default:
		c.element(n)
	}
}

func (c *carrying) element(n *html.Node) {
	switch n.DataAtom {
	case atom.H1, atom.H2, atom.H3, atom.H4, atom.H5, atom.H6:
		c.heading(n)
	case atom.Img:
		c.flush()
		c.picture(n, "")
	case atom.Picture:
		c.children(n)
	case atom.Source:
	case atom.Figure:
		c.figure(n)
	case atom.Hr:
		c.flush()
		c.add(Block{Kind: Line})
	case atom.Ul, atom.Ol:
		c.flush()
		c.words(n, list(c, n, ""))
	case atom.Blockquote:
		c.flush()
		c.words(n, quote(c, n))
	case atom.Table:
		c.flush()
		c.table(n)
	case atom.Dl, atom.Pre, atom.Iframe, atom.Object, atom.Video, atom.Audio, atom.Embed, atom.Svg, atom.Math:
		c.flush()
		c.asItCame(n)
	case atom.P, atom.Div, atom.Center, atom.Section, atom.Article, atom.Address, atom.Li, atom.Dd, atom.Dt, atom.Td, atom.Th, atom.Caption, atom.Figcaption:
		c.flush()
		if cells := columnsOf(n); cells != nil {
			c.beside(cells)
			return
		}
		c.children(n)
		c.flush()
	default: // such as a link around a picture and words
		if inLine[n.DataAtom] {
			c.children(n)
			return
		}
		c.flush()
		c.children(n)
		c.flush()
	}
}

func (c *carrying) add(b Block) {
	if c.columned {
		c.begin([]float64{100})
	}
	b.Column = c.column
	c.page.Blocks = append(c.page.Blocks, b)
}

func (c *carrying) heading(n *html.Node) {
	c.flush()
	if n != c.titled {
		if text := plain(n); text != "" {
			level := int(n.Data[1] - '0')
			c.add(Block{Kind: Heading, Level: min(max(level, 2), 4), Text: text})
		}
	}
	c.picturesIn(n)
}

// picturesIn takes the pictures out of what is carried over in another form.
func (c *carrying) picturesIn(n *html.Node) {
	for _, img := range findAll(n, func(n *html.Node) bool { return n.DataAtom == atom.Img }) {
		c.picture(img, "")
	}
}

// figure is one picture with its caption, or several things with one.
func (c *carrying) figure(n *html.Node) {
	c.flush()
	caption := find(n, func(n *html.Node) bool { return n.DataAtom == atom.Figcaption })
	all := findAll(n, func(n *html.Node) bool { return n.DataAtom == atom.Img })
	if caption == nil || len(all) != 1 || strings.Join(strings.Fields(plain(n)), " ") != strings.Join(strings.Fields(plain(caption)), " ") {
		c.children(n)
		c.flush()
		return
	}
	c.picture(all[0], plain(caption))
}

// picture carries a picture over, unless it only fills or marks.
func (c *carrying) picture(n *html.Node, caption string) {
	b := Block{Kind: Picture, Address: strings.TrimSpace(attr(n, "src")), Text: caption}
	if later := strings.TrimSpace(attr(n, "data-src")); later != "" && (b.Address == "" || strings.HasPrefix(b.Address, "data:")) {
		b.Address = later // a script fetches it when it is needed (common practice)
	}
	b.Alt, b.HasAlt = strings.TrimSpace(attr(n, "alt")), has(n, "alt")
	switch {
	case b.Address == "" || strings.HasPrefix(b.Address, "data:"):
		if b.Alt != "" {
			c.add(Block{Kind: Words, Text: escape(b.Alt)})
		}
	case b.Alt == "" && caption == "" && (small(attr(n, "width")) || small(attr(n, "height"))):
		c.page.Left = append(c.page.Left, b.Address)
	default:
		c.add(b)
	}
}

// small reports whether a side that a page says is one of no picture to look at.
func small(side string) bool {
	n := 0
	for _, r := range strings.TrimSuffix(strings.TrimSpace(side), "px") {
		if r < '0' || r > '9' || n > 1<<20 {
			return false
		}
		n = 10*n + int(r-'0')
	}
	return side != "" && n < leastSide
}

// flush writes what stands in a line as a paragraph. Two breaks begin another one.
func (c *carrying) flush() {
	all := c.inline
	c.inline = nil
	for len(all) > 0 {
		end, next := len(all), len(all)
		for i := range all {
			if j := i; isBreak(all[i]) {
				for j++; j < len(all) && blank(all[j]); j++ {
				}
				if j < len(all) && isBreak(all[j]) {
					end, next = i, j+1
					break
				}
			}
		}
		c.paragraph(all[:end])
		all = all[next:]
	}
}

func (c *carrying) paragraph(all []*html.Node) {
	text := ""
	for _, n := range all {
		text += inline(c, n)
	}
	if text = tidy(text); text == "" {
		return
	}
	holder := &html.Node{Type: html.ElementNode, Data: "p", DataAtom: atom.P}
	for _, n := range all {
		holder.AppendChild(clone(n))
	}
	c.words(holder, text)
}

// words adds what was written of an element, if it reads as the element does; else the element as it came.
func (c *carrying) words(n *html.Node, written string) {
	if written == "" || !reads(written, n) {
		c.asItCame(n)
		return
	}
	c.add(Block{Kind: Words, Text: written})
	c.picturesIn(n)
}

// asItCame keeps an element as HTML, but for its pictures, which are carried over behind it.
func (c *carrying) asItCame(n *html.Node) {
	bare := clone(n)
	for _, img := range findAll(bare, func(n *html.Node) bool { return n.DataAtom == atom.Img || around[n.DataAtom] }) {
		if img.Parent != nil {
			img.Parent.RemoveChild(img)
		}
	}
	if strings.TrimSpace(plain(bare)) != "" || find(bare, func(n *html.Node) bool {
		return n.DataAtom == atom.Iframe || n.DataAtom == atom.Video || n.DataAtom == atom.Audio
	}) != nil {
		var b strings.Builder
		if err := html.Render(&b, bare); err == nil {
			c.add(Block{Kind: HTML, Text: b.String()})
		}
	}
	c.picturesIn(n)
}
