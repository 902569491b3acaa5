package carry

import (
	"regexp"
	"strconv"
	"strings"

	"golang.org/x/net/html"
	"golang.org/x/net/html/atom"
)

// mostColumns stand beside each other, at most; more come one after the other.
const mostColumns = 4

// beside carries elements over that stand beside each other, as columns. Those that hold nothing fall away. Within a
// column they come one after the other, as do more than there are columns.
func (c *carrying) beside(all []*html.Node) {
	var cells []*html.Node
	var shares []float64
	for _, n := range all {
		if strings.TrimSpace(plain(n)) != "" || find(n, shown) != nil {
			cells, shares = append(cells, n), append(shares, shareOf(n))
		}
	}
	if c.within || len(cells) < 2 || len(cells) > mostColumns {
		for _, n := range cells {
			c.flush()
			c.children(n)
			c.flush()
		}
		return
	}
	c.flush()
	c.begin(evened(shares))
	c.within = true
	for i, n := range cells {
		c.column = i
		c.children(n)
		c.flush()
	}
	c.column, c.within, c.columned = 0, false, true
}

// begin begins a band of columns.
func (c *carrying) begin(shares []float64) {
	c.columned = false
	c.page.Blocks = append(c.page.Blocks, Block{Kind: Band, Shares: shares})
}

// shown is something to look at.
func shown(n *html.Node) bool {
	return n.DataAtom == atom.Img || n.DataAtom == atom.Iframe || n.DataAtom == atom.Video
}

// evened are shares in percent. Where one of them is not said, all are alike.
func evened(shares []float64) []float64 {
	sum := 0.0
	for _, s := range shares {
		sum += s
		if s <= 0 {
			sum = -1e9
		}
	}
	out := make([]float64, len(shares))
	for i, s := range shares {
		out[i] = 100 / float64(len(shares))
		if sum > 0 {
			out[i] = 100 * s / sum
		}
	}
	return out
}

var (
	// styled is the width of an element as its style says it.
	styled = regexp.MustCompile(`(?i)(?:^|;)\s*(?:width|flex-basis)\s*:\s*([0-9.]+)(?:px|%)`)
	// twelfths is the width of an element as its class says it, in twelfths of a row (common practice).
	twelfths = regexp.MustCompile(`(?:^|[\s-])col(?:umns?)?-(?:[a-z]+-)?([0-9]{1,2})(?:\s|$)`)
	// rowLike and columnLike are classes of what stands beside each other (common practice).
	rowLike    = regexp.MustCompile(`(?i)(?:^|[\s_-])(?:rows?|columns|cols|grid|flex)(?:$|[\s_-])`)
	columnLike = regexp.MustCompile(`(?i)(?:^|[\s_-])(?:col|column)(?:$|[\s_0-9-])`)
	// flowing is the style of an element whose children stand beside each other.
	flowing = regexp.MustCompile(`(?i)(?:^|;)\s*display\s*:\s*(?:inline-)?(?:flex|grid)\s*(?:;|$)`)
	upright = regexp.MustCompile(`(?i)(?:^|;)\s*flex-(?:direction|flow)\s*:\s*column`)
	floats  = regexp.MustCompile(`(?i)(?:^|;)\s*float\s*:\s*(?:left|right)`)
)

// shareOf is how wide an element is among those beside it; 0 where it does not say.
func shareOf(n *html.Node) float64 {
	for _, text := range []string{attr(n, "width"), said(styled, attr(n, "style")), said(twelfths, attr(n, "class"))} {
		if w, err := strconv.ParseFloat(strings.TrimRight(strings.TrimSpace(text), "%px"), 64); err == nil && w > 0 && w < 1e5 {
			return w
		}
	}
	return 0
}

func said(re *regexp.Regexp, text string) string {
	if m := re.FindStringSubmatch(text); m != nil {
		return m[1]
	}
	return ""
}

// columnsOf are the children of an element that stand beside each other, as far as the page itself says so; nil where
// they do not.
func columnsOf(n *html.Node) (all []*html.Node) {
	floating, classed := true, true
	for child := range n.ChildNodes() {
		switch {
		case blank(child):
			continue
		case child.Type != html.ElementNode || inLine[child.DataAtom] || child.DataAtom == atom.Img || headingAtoms[child.DataAtom]:
			return nil // words stand among them
		case passed(child):
			continue
		}
		floating = floating && floats.MatchString(attr(child, "style")) && shareOf(child) > 0
		classed = classed && columnLike.MatchString(attr(child, "class"))
		all = append(all, child)
	}
	style := attr(n, "style")
	switch {
	case len(all) < 2:
	case flowing.MatchString(style) && !upright.MatchString(style), floating, classed && rowLike.MatchString(attr(n, "class")):
		return all
	}
	return nil
}

var headingAtoms = map[atom.Atom]bool{atom.H1: true, atom.H2: true, atom.H3: true, atom.H4: true, atom.H5: true, atom.H6: true}
