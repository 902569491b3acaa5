package carry

import (
	"strings"

	"golang.org/x/net/html"
	"golang.org/x/net/html/atom"
)

func attr(n *html.Node, name string) string {
	for _, a := range n.Attr {
		if a.Key == name && a.Namespace == "" {
			return a.Val
		}
	}
	return ""
}

func has(n *html.Node, name string) bool {
	for _, a := range n.Attr {
		if a.Key == name && a.Namespace == "" {
			return true
		}
	}
	return false
}

// find is the first element of a tree that is like this; nil where none is.
func find(n *html.Node, like func(*html.Node) bool) *html.Node {
	if n.Type == html.ElementNode && like(n) {
		return n
	}
	for c := range n.ChildNodes() {
		if f := find(c, like); f != nil {
			return f
		}
	}
	return nil
}

func first(n *html.Node, a atom.Atom) *html.Node {
	return find(n, func(n *html.Node) bool { return n.DataAtom == a })
}

// findAll are all elements below one that are like this, and what is passed over is not.
func findAll(n *html.Node, like func(*html.Node) bool) (all []*html.Node) {
	for c := range n.ChildNodes() {
		if c.Type == html.ElementNode && like(c) {
			all = append(all, c)
		}
		all = append(all, findAll(c, like)...)
	}
	return all
}

// plain is the text of a tree, each run of space in it as one.
func plain(n *html.Node) string {
	var b strings.Builder
	gather(&b, n)
	return strings.Join(strings.FieldsFunc(b.String(), isSpace), " ")
}

// gather writes the text of a tree. What stands in no line is parted by spaces.
func gather(b *strings.Builder, n *html.Node) {
	if n.Type == html.TextNode {
		b.WriteString(n.Data)
		return
	}
	if n.Type == html.ElementNode && passed(n) && n.DataAtom != atom.Title {
		return
	}
	apart := n.Type == html.ElementNode && (!inLine[n.DataAtom] || n.DataAtom == atom.Br)
	if apart {
		b.WriteByte(' ')
	}
	for c := range n.ChildNodes() {
		gather(b, c)
	}
	if apart {
		b.WriteByte(' ')
	}
}

// isSpace is a space that HTML brings together (HTML Living Standard, ASCII whitespace).
func isSpace(r rune) bool { return strings.ContainsRune(" \t\n\r\f", r) }

func isBreak(n *html.Node) bool { return n.Type == html.ElementNode && n.DataAtom == atom.Br }

// blank reports whether nothing is seen of a node.
func blank(n *html.Node) bool {
	return n.Type == html.CommentNode || n.Type == html.TextNode && strings.TrimFunc(n.Data, isSpace) == ""
}

// clone is a tree of its own.
func clone(n *html.Node) *html.Node {
	c := &html.Node{Type: n.Type, DataAtom: n.DataAtom, Data: n.Data, Namespace: n.Namespace, Attr: append([]html.Attribute(nil), n.Attr...)}
	for child := range n.ChildNodes() {
		c.AppendChild(clone(child))
	}
	return c
}
