package carry

import (
	"regexp"
	"strconv"
	"strings"

	"golang.org/x/net/html"
	"golang.org/x/net/html/atom"

	"mivlet/core/page"
)

// What stands in lines is written as CommonMark (version 0.31), and read again before it is taken for that.

// meant are the characters that mean something in CommonMark, or in the words of a page.
var meant = strings.NewReplacer(`\`, `\\`, "`", "\\`", `*`, `\*`, `_`, `\_`, `[`, `\[`, `]`, `\]`, `<`, `\<`, `>`, `\>`, `&`, `\&`, `{`, `\{`, `}`, `\}`, `|`, `\|`, `~`, `\~`, `!`, `\!`)

// escape is a text in which nothing means anything.
func escape(text string) string { return meant.Replace(text) }

// hardBreak goes to the next line within a paragraph, until it is tidied.
const hardBreak = "\x00"

// inline writes what stands in a line.
func inline(c *carrying, n *html.Node) string {
	switch n.Type {
	case html.TextNode:
		return escape(strings.Map(func(r rune) rune {
			switch {
			case isSpace(r):
				return ' '
			case r == 0:
				return -1
			}
			return r
		}, n.Data))
	case html.ElementNode:
	default:
		return ""
	}
	var b strings.Builder
	for child := range n.ChildNodes() {
		b.WriteString(inline(c, child))
	}
	text := b.String()
	switch n.DataAtom {
	case atom.Br:
		return hardBreak
	case atom.B, atom.Strong:
		return marked("**", text)
	case atom.I, atom.Em, atom.Cite:
		return marked("*", text)
	case atom.A:
		return linked(c, attr(n, "href"), text)
	}
	return text
}

// marked puts marks around words, within the spaces around those.
func marked(mark, text string) string {
	within := strings.Trim(text, " "+hardBreak)
	if within == "" || strings.Contains(within, hardBreak) {
		return text
	}
	at := strings.Index(text, within)
	return text[:at] + mark + within + mark + text[at+len(within):]
}

func linked(c *carrying, to, text string) string {
	to = strings.TrimSpace(to)
	if c.Link != nil && to != "" {
		to = c.Link(to)
	}
	within := strings.Trim(text, " "+hardBreak)
	if to == "" || within == "" || strings.ContainsAny(to, "<>\n\r") || strings.Contains(within, hardBreak) {
		return text
	}
	at := strings.Index(text, within)
	return text[:at] + "[" + within + "](<" + strings.ReplaceAll(to, `\`, `\\`) + ">)" + text[at+len(within):]
}

var (
	spaces   = regexp.MustCompile(` {2,}`)
	atBreaks = regexp.MustCompile(` *` + hardBreak + ` *`)
)

// tidy brings spaces together, and writes breaks.
func tidy(text string) string {
	text = spaces.ReplaceAllString(text, " ")
	text = atBreaks.ReplaceAllString(text, hardBreak)
	text = strings.Trim(text, " "+hardBreak)
	lines := strings.Split(text, hardBreak)
	for i, l := range lines {
		lines[i] = atStart(l)
	}
	return strings.Join(lines, "\\\n")
}

// opening is what begins something at the start of a line: a heading, a list, a line across, a fence.
var opening = regexp.MustCompile(`^(#{1,6}|[-+=]+|\d{1,9}[.)])`)

// atStart takes the meaning from how a line begins.
func atStart(line string) string {
	at := opening.FindString(line)
	if at == "" {
		return line
	}
	return line[:len(at)-1] + `\` + line[len(at)-1:]
}

// list writes a list; "" where something in it cannot stand in one.
func list(c *carrying, n *html.Node, indent string) string {
	var lines []string
	number := 1
	for item := range n.ChildNodes() {
		if blank(item) || passed(item) {
			continue
		}
		if item.DataAtom != atom.Li {
			return ""
		}
		mark := "- "
		if n.DataAtom == atom.Ol {
			mark = strconv.Itoa(number) + ". "
			number++
		}
		text, below, ok := itemOf(c, item, indent+strings.Repeat(" ", len(mark)))
		if !ok {
			return ""
		}
		if text == "" && below == "" {
			continue
		}
		lines = append(lines, indent+mark+strings.ReplaceAll(text, "\n", "\n"+indent+strings.Repeat(" ", len(mark))))
		if below != "" {
			lines = append(lines, below)
		}
	}
	return strings.Join(lines, "\n")
}

// itemOf writes an item: its line, and the lists in it.
func itemOf(c *carrying, item *html.Node, indent string) (text, below string, ok bool) {
	var within func(n *html.Node) bool
	within = func(n *html.Node) bool {
		switch {
		case passed(n), n.DataAtom == atom.Img:
		case line(n):
			if below != "" && !blank(n) {
				return false // words behind a list are of no line
			}
			text += inline(c, n)
		case n.DataAtom == atom.Ul || n.DataAtom == atom.Ol:
			nested := list(c, n, indent)
			if nested == "" {
				return false
			}
			below = strings.TrimPrefix(below+"\n"+nested, "\n")
		case n.DataAtom == atom.P || n.DataAtom == atom.Div || inLine[n.DataAtom]:
			if n.DataAtom == atom.P && tidy(text) != "" {
				return false // two paragraphs
			}
			for child := range n.ChildNodes() {
				if !within(child) {
					return false
				}
			}
		default:
			return false
		}
		return true
	}
	for child := range item.ChildNodes() {
		if !within(child) {
			return "", "", false
		}
	}
	return tidy(text), below, true
}

// quote writes what somebody said; "" where it is more than paragraphs.
func quote(c *carrying, n *html.Node) string {
	var all []string
	text := ""
	end := func() {
		if t := tidy(text); t != "" {
			all = append(all, "> "+strings.ReplaceAll(t, "\n", "\n> "))
		}
		text = ""
	}
	for child := range n.ChildNodes() {
		switch {
		case passed(child), child.DataAtom == atom.Img:
		case line(child):
			text += inline(c, child)
		case child.DataAtom == atom.P && line(&html.Node{Type: html.ElementNode, DataAtom: atom.Span, FirstChild: child.FirstChild, LastChild: child.LastChild}):
			end()
			for in := range child.ChildNodes() {
				text += inline(c, in)
			}
			end()
		default:
			return ""
		}
	}
	end()
	return strings.Join(all, "\n>\n")
}

// reads reports whether words that were written read as an element does, word by word.
func reads(written string, n *html.Node) bool {
	again, err := html.Parse(strings.NewReader(page.TextHTML(written)))
	return err == nil && plain(first(again, atom.Body)) == plain(n)
}
