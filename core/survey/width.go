package survey

import (
	"slices"
	"strings"

	"golang.org/x/net/html"
)

// styles are all styles of a page, in their order.
type styles struct {
	rules   []rule
	unclear bool                    // more is said than was understood
	said    map[*html.Node][]winner // per element, for all windows: what is known of it already
	space   map[spot]float64
}

// spot is an element in a window.
type spot struct {
	n        *html.Node
	viewport int
}

// winner is a declaration that an element has, with what it is weighed by (CSS Cascade 4, 6).
type winner struct {
	declaration
	weight [5]int // important, in the attribute, and the three of its selector
	media  []media
}

func newStyles(all ...sheet) *styles {
	s := &styles{said: map[*html.Node][]winner{}, space: map[spot]float64{}}
	for _, one := range all {
		s.rules = append(s.rules, one.rules...)
		s.unclear = s.unclear || one.unclear
	}
	return s
}

// of are the declarations that an element has.
func (s *styles) of(n *html.Node) []winner {
	if all, known := s.said[n]; known {
		return all
	}
	all := []winner{} // known, though there may be none
	for _, r := range s.rules {
		if r.finds.Match(n) {
			c := r.finds.Specificity()
			all = append(all, winner{declaration{r.property, r.value, r.important}, [5]int{truth(r.important), 0, c[0], c[1], c[2]}, r.media})
		}
	}
	for _, a := range n.Attr {
		if a.Key != "style" || a.Namespace != "" {
			continue
		}
		for _, d := range inline(a.Val) {
			if !slices.Contains(widths, d.name) && !slices.Contains(others, d.name) {
				continue
			}
			for _, one := range readDeclaration(d.name, d.values) {
				all = append(all, winner{one, [5]int{truth(one.important), 1}, nil})
			}
		}
	}
	s.said[n] = all
	return all
}

func truth(b bool) int {
	if b {
		return 1
	}
	return 0
}

// value is what a property of an element is in a window.
func (s *styles) value(n *html.Node, property string, viewport float64) length {
	best := winner{weight: [5]int{-1}}
	for _, w := range s.of(n) {
		if w.property != property || slices.ContainsFunc(w.media, func(m media) bool { return !m.holds(viewport) }) {
			continue
		}
		if slices.Compare(w.weight[:], best.weight[:]) >= 0 { // of two that weigh the same the later one holds
			best = w
		}
	}
	return best.value
}

// inside is a length in CSS pixels; ok is false where it says nothing.
func (l length) inside(holder, viewport float64) (float64, bool) {
	switch l.in {
	case px:
		return l.n, true
	case percent:
		return l.n / 100 * holder, true
	case vw:
		return l.n / 100 * viewport, true
	}
	return 0, false
}

// bodyMargin is what a browser leaves around a page that says nothing (HTML, 15.3.3), in CSS pixels.
const bodyMargin = 8

// room is how wide what an element holds may be, in CSS pixels.
func (s *styles) room(n *html.Node, v int) float64 {
	viewport := Viewports[v]
	if n == nil || n.Type == html.DocumentNode || n.Data == "html" {
		return viewport
	}
	if known, ok := s.space[spot{n, v}]; ok {
		return known
	}
	holder := s.room(n.Parent, v)
	if n.Type != html.ElementNode {
		return holder
	}
	side := func(property string) (sum float64) {
		for _, at := range []string{"-left", "-right"} {
			one, said := s.value(n, property+at, viewport).inside(holder, viewport)
			if !said && property == "margin" && n.Data == "body" {
				one = bodyMargin
			}
			if !said && property == "margin" && (n.Data == "figure" || n.Data == "blockquote") {
				one = 40 // HTML, 15.3.3
			}
			sum += one
		}
		return sum
	}
	padding := side("padding")
	width := holder - side("margin")
	outer := true // of width: whether padding is in it
	set := func(l length, limit bool) {
		if w, ok := l.inside(holder, viewport); ok && (!limit || w < width) {
			width, outer = w, s.value(n, "box-sizing", viewport).n == borderBox
		}
	}
	if n.Data == "table" || n.Data == "td" || n.Data == "th" || n.Data == "col" {
		if w, part, ok := attribute(n, "width"); ok && part {
			set(length{w, percent}, false)
		} else if ok {
			set(length{w, px}, false)
		}
	}
	set(s.value(n, "width", viewport), false)
	set(s.value(n, "max-width", viewport), true)
	if outer {
		width -= padding
	}
	width = max(width, 0)
	s.space[spot{n, v}] = width
	return width
}

// hidden reports whether an element is not drawn at all.
func (s *styles) hidden(n *html.Node, viewport float64) bool {
	for ; n != nil; n = n.Parent {
		if n.Type == html.ElementNode && s.value(n, "display", viewport) == (length{notShown, keyword}) {
			return true
		}
	}
	return false
}

// shown works out how wide a picture is shown; the width of the file itself is filled in where the page
// says none.
func (s *styles) shown(n *html.Node, u *Use) {
	wide, part, hasWidth := attribute(n, "width")
	tall, tallPart, hasHeight := attribute(n, "height")
	u.Sized = hasWidth && hasHeight || strings.Contains(strings.ReplaceAll(attr(n, "style"), " ", ""), "aspect-ratio:")
	u.Sure = !s.unclear && !s.says(n, unclear) && !s.arranged(n.Parent)
	u.AutoHeight = true
	u.natural = !s.says(n, "width") && !s.says(n, "max-width") && !s.says(n, "height")
	for v, viewport := range Viewports {
		u.AutoHeight = u.AutoHeight && s.auto(n, "height", viewport)
		u.autoWidth = u.autoWidth || s.auto(n, "width", viewport)
		if s.hidden(n, viewport) {
			continue
		}
		holder := s.room(n.Parent, v)
		width, said := s.value(n, "width", viewport).inside(holder, viewport)
		switch {
		case said:
		case hasWidth && part:
			width, said = wide/100*holder, true
		case hasWidth && !s.auto(n, "width", viewport):
			width, said = wide, true
		}
		most, limited := s.value(n, "max-width", viewport).inside(holder, viewport)
		switch {
		case said && limited:
			u.Shown[v] = min(width, most)
		case said:
			u.Shown[v] = width
		case limited:
			u.Shown[v], u.own[v] = most, true
		default:
			u.own[v] = true
		}
		if high, said := s.value(n, "height", viewport).inside(0, viewport); said {
			u.height = high
		} else if hasHeight && !tallPart {
			u.height = tall
		}
	}
}

// says reports whether anything says something of an element, in whatever window.
func (s *styles) says(n *html.Node, property string) bool {
	return slices.ContainsFunc(s.of(n), func(w winner) bool { return w.property == property })
}

// arranged reports whether an element arranges what it holds, in whatever window: how large that is follows
// from more than what it says itself (CSS Flexible Box Layout, CSS Grid Layout).
func (s *styles) arranged(n *html.Node) bool {
	return n != nil && n.Type == html.ElementNode && slices.ContainsFunc(s.of(n), func(w winner) bool {
		return w.property == "display" && w.value == length{arranged, keyword}
	})
}

// auto reports whether styles take the size of the attribute back, such as width: auto.
func (s *styles) auto(n *html.Node, property string, viewport float64) bool {
	for _, w := range s.of(n) {
		if w.property == property && w.value.in == none && !slices.ContainsFunc(w.media, func(m media) bool { return !m.holds(viewport) }) {
			return true
		}
	}
	return false
}

// fill puts the width of the file in where the page says none, or only how wide it may be at most. Where it
// says how high the picture is, the width follows from that.
func (u *Use) fill(w, h int) {
	own := float64(w)
	if u.height > 0 && h > 0 {
		own *= u.height / float64(h)
	}
	u.bounded = !u.autoWidth
	for v, most := range u.Shown {
		u.bounded = u.bounded && (!u.own[v] || most > 0)
		if u.own[v] && own > 0 && (most == 0 || own < most) {
			u.Shown[v] = own
		}
	}
}

// Fixed reports whether the page says how wide it is, in each window where it is shown.
func (u Use) Fixed() bool { return u.own == [len(Viewports)]bool{} }

// Bounded reports whether it is as wide as its file, and at most as wide as the page says, wherever the page
// says no width. A width in its tag would hold in place of the file's.
func (u Use) Bounded() bool { return u.bounded && u.height == 0 }

// Natural reports whether it is as large as its file in all windows.
func (u Use) Natural() bool {
	return u.natural && u.height == 0 && u.own == [len(Viewports)]bool{true, true, true}
}

func attr(n *html.Node, name string) string {
	for _, a := range n.Attr {
		if a.Key == name && a.Namespace == "" {
			return a.Val
		}
	}
	return ""
}
