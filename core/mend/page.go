package mend

import (
	"cmp"
	"fmt"
	"math"
	"net/url"
	"path"
	"slices"
	"strconv"
	"strings"

	"mivlet/core/survey"
)

// early is how many pictures at the top of a page are fetched at once (common practice: what is seen first
// does not wait).
const early = 2

// page works out what changes on a page.
func (p *planning) page(at *survey.Page, read *page) Page {
	one := Page{Path: at.Path}
	if read == nil {
		return one
	}
	seen := 0
	for i := range at.Uses {
		u := &at.Uses[i]
		t, ok := read.image(u)
		if !ok {
			continue
		}
		c := Change{Page: at.Path, Picture: u.File, Address: u.Address, Before: string(read.data[t.from:t.to])}
		from := len(read.edits)
		if p.words(read, t, u, &c) {
			one.of = append(one.of, make([]string, len(read.edits)-from)...)
		}
		own := len(read.edits)
		p.shows(read, t, u, &c, seen >= early)
		for range read.edits[own:] {
			one.of = append(one.of, p.fileOf(u))
		}
		if u.Visible() {
			seen++
		}
		if len(read.edits) == from {
			continue
		}
		after, err := apply(read.data[:t.to], read.edits[from:])
		if err != nil { // a tag that says something twice, in each other's way
			read.edits, one.of = read.edits[:from], one.of[:from]
			continue
		}
		c.After = string(after[t.from:])
		one.Changes = append(one.Changes, c)
	}
	one.edits = read.edits
	return one
}

// words has a tag say what an editor gave it to say.
func (p *planning) words(read *page, t tag, u *survey.Use, c *Change) bool {
	alt, said := p.choices.Words[Spot{c.Page, u.Address}]
	if !said || u.HasAlt && u.Alt == alt {
		return false
	}
	c.Kinds = append(c.Kinds, Described)
	read.set(t, [][2]string{{"alt", alt}})
	return true
}

// shows has a tag show the picture that it is to show. late is whether enough pictures come before it on the
// page.
func (p *planning) shows(read *page, t tag, u *survey.Use, c *Change, late bool) {
	one := p.pictures[p.fileOf(u)]
	if one == nil {
		return
	}
	var all [][2]string
	did := func(k Kind, more ...[2]string) {
		all = append(all, more...)
		if !slices.Contains(c.Kinds, k) {
			c.Kinds = append(c.Kinds, k)
		}
	}
	p.source(c.Page, t, u, one, did)
	p.size(read, t, u, one, did)
	if _, said := t.find("loading"); !said && late && u.Visible() && (u.Sized || has(all, "height")) {
		if _, first := t.find("fetchpriority"); !first {
			did(Later, [2]string{"loading", "lazy"})
		}
	}
	if len(all) > 0 {
		read.set(t, all)
	}
}

func has(all [][2]string, name string) bool {
	for _, one := range all {
		if one[0] == name {
			return true
		}
	}
	return false
}

// source has a tag show the file that it is to show, and the cuts of it.
func (p *planning) source(page string, t tag, u *survey.Use, one *Picture, did func(Kind, ...[2]string)) {
	to, kind := cmp.Or(one.also, one.Path), Joined
	if one.also != "" {
		kind = Named
	}
	cuts := len(one.Cuts) > 0 && keeps(t, u)
	if cuts {
		to = one.Cuts[0].Path
		kind = Lighter
	}
	address, ok := leadTo(u.Address, u.File, to, page)
	if !ok {
		return // it shows what it showed
	}
	if address != u.Address {
		did(kind, [2]string{"src", address})
	}
	if !cuts {
		return
	}
	if one.own != nil {
		did(Lighter) // the same address, and another file
	}
	if len(one.Cuts) == 1 {
		return
	}
	var set []string
	for _, cut := range one.Cuts {
		address, ok := leadTo(u.Address, u.File, cut.Path, page)
		if !ok {
			return
		}
		// White space parts the addresses of a srcset from what follows them, wherever it stands.
		set = append(set, fmt.Sprintf("%s %dw", strings.Join(strings.Fields(address), "%20"), cut.Size.W))
	}
	did(Lighter, [2]string{"srcset", strings.Join(set, ", ")}, [2]string{"sizes", sizes(u.Shown)})
}

// sizes tells a browser how wide a picture will be before it knows the styles (HTML, 4.8.4.2.2): as wide a
// part of the window as it was seen to be in small ones, and so many pixels in others.
func sizes(shown [len(survey.Viewports)]float64) string {
	phone, tablet, desktop := math.Ceil(shown[0]), math.Ceil(shown[1]), math.Ceil(shown[2])
	if phone == tablet && tablet == desktop {
		return fmt.Sprintf("%.0fpx", desktop)
	}
	part := math.Ceil(100 * max(shown[0]/survey.Viewports[0], shown[1]/survey.Viewports[1]))
	return fmt.Sprintf("(max-width: %.0fpx) %.0fvw, %.0fpx", survey.Viewports[1], part, max(tablet, desktop))
}

// size has a tag tell how large its picture is, where that changes nothing of what is seen.
func (p *planning) size(read *page, t tag, u *survey.Use, one *Picture, did func(Kind, ...[2]string)) {
	own := one.facts.Upright()
	wide, hasWidth := t.find("width")
	_, hasHeight := t.find("height")
	both := [][2]string{{"width", strconv.Itoa(own.W)}, {"height", strconv.Itoa(own.H)}}
	switch {
	case !u.Sure || hasHeight || own.W == 0 || len(u.Others) > 0: // others may have other proportions
	case !hasWidth && u.AutoHeight && (u.Fixed() || u.Bounded()):
		did(Sized, both...)
	case !hasWidth && !u.Fixed() && u.Bounded() && len(one.Cuts) > 0 && keeps(t, u):
		did(Lighter, both[0]) // as wide as the file was, and at most as wide as the page allows
	case !hasWidth && u.Natural() && one.own == nil:
		did(Sized, both...)
	case u.Fixed() && u.Shown[0] == u.Shown[1] && u.Shown[1] == u.Shown[2] && (!hasWidth || strings.TrimSpace(read.says(wide)) == fmt.Sprint(u.Shown[0])):
		// As many pixels in every window: where the height comes out even, the tag can tell it.
		if high := u.Shown[0] * float64(own.H) / float64(own.W); u.Shown[0] == math.Round(u.Shown[0]) && math.Abs(high-math.Round(high)) < 0.01 {
			if !hasWidth {
				did(Sized, [2]string{"width", fmt.Sprint(u.Shown[0])})
			}
			did(Sized, [2]string{"height", fmt.Sprint(math.Round(high))})
		}
	}
}

// leadTo is an address that leads to another file, said in the way in which one is said that leads to from.
// ok is false where that way is not understood.
func leadTo(address, from, to, page string) (string, bool) {
	if from == to {
		return address, true
	}
	plain := address
	if i := strings.IndexAny(plain, "?#"); i >= 0 {
		plain = plain[:i]
	}
	plain = strings.ReplaceAll(plain, `\`, "/")
	if path.Dir(from) == path.Dir(to) {
		return plain[:strings.LastIndexByte(plain, '/')+1] + escaped(path.Base(to)), true
	}
	if i := strings.Index(plain, "://"); i >= 0 {
		if n := strings.IndexByte(plain[i+3:], '/'); n >= 0 {
			return plain[:i+3+n] + "/" + escaped(to), true
		}
		return "", false
	}
	if strings.HasPrefix(plain, "//") {
		return "", false
	}
	if strings.HasPrefix(plain, "/") {
		return "/" + escaped(to), true
	}
	u, err := url.Parse(plain)
	if err != nil || path.Join(path.Dir(page), u.Path) != from {
		return "", false // something else than its folder is what its addresses begin at
	}
	up := strings.Split(path.Dir(page), "/")
	if up[0] == "." {
		up = nil
	}
	down := strings.Split(to, "/")
	for len(up) > 0 && len(down) > 1 && up[0] == down[0] {
		up, down = up[1:], down[1:]
	}
	return strings.Repeat("../", len(up)) + escaped(strings.Join(down, "/")), true
}

func escaped(at string) string {
	parts := strings.Split(at, "/")
	for i, one := range parts {
		parts[i] = strings.ReplaceAll(url.PathEscape(one), ",", "%2C") // a comma parts the addresses of a srcset
	}
	return strings.Join(parts, "/")
}
