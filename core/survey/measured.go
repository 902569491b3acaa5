package survey

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"mivlet/core/words"
)

// Measured is how wide a browser shows the pictures of a page in one window.
type Measured struct {
	Page     string    `json:"page"`     // its path
	Viewport int       `json:"viewport"` // which of [Viewports]
	Widths   []float64 `json:"widths"`   // of each <img> that has an address, in their order, in CSS pixels
	Chosen   []string  `json:"chosen"`   // the path of the file that the browser took for each; empty where it took none
	// Shift is how much moves when the pictures come: the share of the window that is touched times how far, as a share
	// of its longer side (Layout Instability, W3C draft). Up to 0.1 is good (web.dev, from memory).
	Shift float64 `json:"shift"`
}

// Measured puts widths that a browser has measured in the place of estimates, on each page that was measured
// in all windows and has as many pictures there as were read. It returns how many pages that are.
func (s *Survey) Measured(all []Measured) int {
	byPage := map[string][]Measured{}
	for _, m := range all {
		byPage[m.Page] = append(byPage[m.Page], m)
	}
	n := 0
	for _, p := range s.Pages {
		if p.measure(byPage[p.Path]) {
			n++
		}
	}
	s.tally()
	return n
}

// tally adds up how wide each file is shown on all pages, and whether that is an estimate on any.
func (s *Survey) tally() {
	for _, f := range s.Files {
		f.shown, f.estimated, f.alone = [len(Viewports)]float64{}, false, false
	}
	for _, p := range s.Pages {
		for _, u := range p.Uses {
			if f := s.Files[u.File]; f != nil {
				f.estimated = f.estimated || !p.measured
				f.alone = f.alone || !slices.ContainsFunc(u.others, func(other string) bool { return s.wider(other, f) })
				for v, w := range u.Shown {
					f.shown[v] = max(f.shown[v], w)
				}
			}
		}
	}
}

func (p *Page) measure(all []Measured) bool {
	var images []*Use
	for i := range p.Uses {
		if u := &p.Uses[i]; u.Kind == Image && !u.button {
			images = append(images, u)
		}
	}
	seen := map[int]bool{}
	for _, m := range all {
		if m.Viewport < 0 || m.Viewport >= len(Viewports) || len(m.Widths) != len(images) {
			return false
		}
		seen[m.Viewport] = true
	}
	if len(seen) != len(Viewports) {
		return false
	}
	for _, m := range all {
		for i, u := range images {
			u.Shown[m.Viewport] = m.Widths[i]
		}
		p.chosen[m.Viewport], p.shift[m.Viewport] = m.Chosen, m.Shift
	}
	p.measured = true
	return true
}

// Column is a width at which several pictures are shown.
type Column struct {
	Width    int `json:"width"`    // CSS pixels, in the widest window
	Pictures int `json:"pictures"` // that are shown so
}

// leastInColumn is how many pictures make a width a column.
const leastInColumn = 3

// Columns are the widths at which pictures are shown on a desktop, the one with most pictures first: slots
// that a house would have for this site. Widths within 2 px are one.
func (s *Survey) Columns() []Column {
	widths := map[int]int{}
	for _, p := range s.Pages {
		for _, u := range p.Uses {
			if w := u.Shown[len(Viewports)-1]; u.Kind == Image && u.File != "" && w >= leastIcons {
				widths[int(math.Round(w))]++
			}
		}
	}
	var all []Column
	for w, n := range widths {
		all = append(all, Column{w, n})
	}
	most := func(a, b Column) int {
		return cmp.Or(cmp.Compare(b.Pictures, a.Pictures), cmp.Compare(b.Width, a.Width))
	}
	slices.SortFunc(all, most)
	var kept []Column
	for _, c := range all {
		if i := slices.IndexFunc(kept, func(k Column) bool { return c.Width-k.Width <= 2 && k.Width-c.Width <= 2 }); i >= 0 {
			kept[i].Pictures += c.Pictures
			continue
		}
		kept = append(kept, c)
	}
	kept = slices.DeleteFunc(kept, func(c Column) bool { return c.Pictures < leastInColumn })
	slices.SortFunc(kept, most)
	return kept
}

// A page moves too much, or far too much, where its layout shift is above these (web.dev, from memory).
const (
	movesMuch = 0.1
	movesFar  = 0.25
)

// shifts tells where a page moves when its pictures come, as measured.
func (p *Page) shifts() []Finding {
	worst := 0
	for v, shift := range p.shift {
		if shift > p.shift[worst] {
			worst = v
		}
	}
	level := words.Hint
	switch shift := p.shift[worst]; {
	case !p.measured || shift <= movesMuch:
		return nil
	case shift > movesFar:
		level = words.Warn
	}
	return []Finding{{Code: LayoutShift, Level: level, Page: p.Path, Values: []any{fmt.Sprintf("%.2f", p.shift[worst]), int(Viewports[worst])}, Times: 1, Cost: Cost{Pages: 1}}}
}

// comes are the bytes of pictures that come with a page in each window, as the browser took them: as a mean of all pages
// that were measured. Nil where none was.
func (s *Survey) comes() []int64 {
	sums, pages := make([]int64, len(Viewports)), int64(0)
	for _, p := range s.Pages {
		if !p.measured || slices.ContainsFunc(p.chosen[:], func(c []string) bool { return c == nil }) {
			continue
		}
		pages++
		for v, chosen := range p.chosen {
			came := map[string]bool{}
			for _, at := range chosen {
				if f := s.Files[at]; f != nil && !came[at] {
					came[at] = true
					sums[v] += f.Bytes
				}
			}
		}
	}
	if pages == 0 {
		return nil
	}
	for v := range sums {
		sums[v] /= pages
	}
	return sums
}
