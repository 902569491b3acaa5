package rules

import (
	"fmt"
	"math"
	"slices"
	"time"

	"mivlet/core/fit"
	"mivlet/core/layout"
	"mivlet/core/naming"
)

// Slot is a place for a picture. It follows from a column of a pattern, or its
// width, height or box are given.
type Slot struct {
	ID      string `json:"id"`
	Title   string `json:"title"`
	Purpose string `json:"purpose"`

	Pattern string      `json:"pattern,omitempty"` // the slot follows from a column of it
	Column  int         `json:"column,omitempty"`  // counted from 0
	Rule    layout.Rule `json:"rule,omitzero"`     // how wide the picture is in it

	Width  int  `json:"width,omitempty"`  // CSS px; 0 follows the height, or the column
	Height int  `json:"height,omitempty"` // CSS px; 0 follows the width
	Inside bool `json:"inside,omitempty"` // the whole picture goes into the box
	// Shape crops the picture to proportions, such as 3:2, where its width rules; empty
	// leaves them to the picture.
	Shape string `json:"shape,omitempty"`

	Buffer int `json:"buffer,omitempty"` // CSS px more, for containers that stretch
	// Densities are the screens that files are made for, in device pixels for each CSS pixel.
	Densities []float64 `json:"densities"`
	// Widths are how wide the files are, in device pixels, as they follow from the page and the
	// densities; empty where the place has the same width on all screens.
	Widths     []int    `json:"-"`
	Budget     int64    `json:"budget"`            // bytes of the largest cut for two pixels to each CSS pixel
	Formats    []string `json:"formats,omitempty"` // allowed ones; empty leaves it to the pixels
	FixedRatio bool     `json:"fixed_ratio,omitempty"`
}

// SlotKind is what rules a slot.
type SlotKind string

// The kinds of slots.
const (
	ByColumn SlotKind = "column" // the width of a column
	ByWidth  SlotKind = "width"
	ByHeight SlotKind = "height"
	Box      SlotKind = "box"
	InBox    SlotKind = "inside"
)

// Kind returns what rules the slot.
func (s Slot) Kind() SlotKind {
	switch {
	case s.Pattern != "":
		return ByColumn
	case s.Width > 0 && s.Height > 0 && s.Inside:
		return InBox
	case s.Width > 0 && s.Height > 0:
		return Box
	case s.Height > 0:
		return ByHeight
	}
	return ByWidth
}

// Stands reports whether the slot is a place in the text of a page.
func (s Slot) Stands() bool { return s.Kind() == ByColumn || s.Kind() == ByWidth }

// TakesMotion reports whether a picture that moves keeps moving in the slot.
func (s Slot) TakesMotion() bool {
	return len(s.Formats) == 0 || slices.Contains(s.Formats, "gif") || slices.Contains(s.Formats, "webp")
}

// Still returns the slot with the formats alone in which nothing moves.
func (s Slot) Still() Slot {
	still := slices.DeleteFunc(slices.Clone(s.Formats), func(f string) bool { return f == "gif" || f == "webp" })
	if len(still) == 0 {
		still = []string{"jpeg", "png"}
	}
	s.Formats = still
	return s
}

// Want returns the space of the slot as the fitting sees it.
func (s Slot) Want() fit.Want {
	want := fit.Want{Width: s.Width, Height: s.Height, Inside: s.Inside, Buffer: s.Buffer}
	if w, h := s.shape(); w > 0 && s.Stands() {
		want.Height = max(1, int(math.Round(float64(s.Width)*float64(h)/float64(w))))
	}
	return want
}

// shape is the proportions of [Slot.Shape]; 0, 0 where it has none.
func (s Slot) shape() (w, h int) {
	if n, err := fmt.Sscanf(s.Shape, "%d:%d", &w, &h); n != 2 || err != nil || w <= 0 || h <= 0 || fmt.Sprintf("%d:%d", w, h) != s.Shape {
		return 0, 0
	}
	return w, h
}

// Scales are how large the files are, as pixels of the file for each CSS pixel of the slot,
// ascending.
func (s Slot) Scales() []float64 {
	if len(s.Widths) == 0 || s.Width == 0 {
		return s.Densities
	}
	var all []float64
	for _, w := range s.Widths {
		all = append(all, float64(w)/float64(s.Width))
	}
	return all
}

// ForScreens is the slot with the widths that files need where it is shown as wide as shown says,
// in CSS px, at a viewport.
func (s Slot) ForScreens(shown func(viewport int) float64) Slot {
	s.Widths = layout.Widths(shown, s.Densities)
	return s
}

// ServeUpTo leaves the screens out that have more pixels for each CSS pixel than most.
func (r *Rules) ServeUpTo(most float64) {
	for i, s := range r.Slots {
		r.Slots[i].Densities = slices.DeleteFunc(slices.Clone(s.Densities), func(d float64) bool { return d > max(most, s.Densities[0]) })
	}
	*r = r.Resolved()
}

// crisp is the density from which more is hardly seen (common practice). Screens that have more
// get it where the picture has it.
const crisp = 2

// Sharpest returns the density at which a picture is crisp in the slot: the highest that it asks
// for, and 2 at most.
func (s Slot) Sharpest() float64 {
	top := 1.0
	for _, d := range s.Densities {
		top = max(top, d)
	}
	return min(top, crisp)
}

// ByDetail is the power with which bytes grow with pixels: a larger file of the same picture has less
// detail in each pixel, and gets by with a lower quality (measured on the demo photos).
const ByDetail = 0.7

// As is the slot for files of one format.
func (s Slot) As(format string) Slot {
	s.Formats = []string{format}
	return s
}

// BudgetAt is how many bytes a file of a density may have: the slot's budget, and more in proportion
// where screens get more pixels than are hardly seen.
func (s Slot) BudgetAt(density float64) int64 {
	if finer := density / crisp; finer > 1 {
		return int64(float64(s.Budget) * math.Pow(finer*finer, ByDetail))
	}
	return s.Budget
}

// Ratio returns the proportions that a picture is cropped to; 0, 0 where it keeps its own.
func (s Slot) Ratio() (w, h int) {
	if w, h := s.shape(); w > 0 && s.Stands() {
		return w, h
	}
	if s.Kind() != Box {
		return 0, 0
	}
	return fit.Ratio(fit.Size{W: s.Width, H: s.Height})
}

// SectionOf returns a section of a page with a pattern, ready for the
// arithmetic.
func (r Rules) SectionOf(p Pattern) layout.Band {
	return layout.Band{Breaks: r.Page.Breaks, PageCap: r.Page.Cap, Cap: p.Cap, Padding: r.Page.Padding, Gutter: r.Page.Gutter,
		ColumnPadding: r.Page.ColumnPadding, Shares: p.Shares}
}

// FirstSlot returns the ID of the first slot of which something holds; where it holds
// of none, that of the first of all.
func (r Rules) FirstSlot(is func(Slot) bool) string {
	s, ok := find(r.Slots, is)
	if !ok {
		s = r.Slots[0]
	}
	return s.ID
}

// PatternIDs lists what a slot can follow from, beginning with nothing.
func (r Rules) PatternIDs() []string {
	ids := []string{""}
	for _, p := range r.Page.Patterns {
		ids = append(ids, p.ID)
	}
	return ids
}

// Clues returns what the house knows of a picture's name before anybody has
// said a word: its section, the others, and the day it was taken.
func (r Rules) Clues(section string, taken time.Time) naming.Clues {
	k := naming.Clues{Section: section, Taken: taken, Language: r.Words.Language}
	for _, s := range r.Sections {
		k.Others = append(k.Others, s.Code)
	}
	return k
}

// Place returns where a slot stands: its column, or, for one whose width is
// given, a column as wide as the page.
func (r Rules) Place(s Slot) layout.Place {
	if p, ok := r.Pattern(s.Pattern); ok && s.Pattern != "" {
		return layout.Place{Section: r.SectionOf(p), Column: s.Column, Rule: s.Rule}
	}
	page := r.SectionOf(Pattern{Shares: []float64{1}})
	return layout.Place{Section: page, Rule: layout.Rule{Fixed: s.Width}}
}

// Text returns the section that text of a page stands in: the narrowest pattern
// of one column.
func (r Rules) Text() layout.Band {
	best := Pattern{Shares: []float64{1}}
	for _, p := range r.Page.Patterns {
		if len(p.Shares) == 1 && p.Cap > 0 && (best.Cap == 0 || p.Cap < best.Cap) {
			best = p
		}
	}
	return r.SectionOf(best)
}

// TextWidth is the widest a line of text gets, in CSS px.
func (r Rules) TextWidth() int { return int(r.Text().Column(layout.Widest, 0)) }

// PageWidth is the widest a picture gets, in CSS px.
func (r Rules) PageWidth() int {
	return int(r.SectionOf(Pattern{Shares: []float64{1}}).Column(layout.Widest, 0))
}

// Resolved returns the rules with the widths of slots that follow from a column
// worked out.
func (r Rules) Resolved() Rules {
	r.Slots = slices.Clone(r.Slots)
	for i, s := range r.Slots {
		if s.Kind() == ByColumn {
			r.Slots[i].Width = r.Place(s).Full()
		}
		if s := r.Slots[i]; s.Stands() {
			r.Slots[i] = s.ForScreens(r.Place(s).Width)
		}
	}
	return r
}

// plain takes what was worked out off again, as it is written.
func (r Rules) plain() Rules {
	r.Slots = slices.Clone(r.Slots)
	for i, s := range r.Slots {
		r.Slots[i].Widths = nil
		if s.Kind() == ByColumn {
			r.Slots[i].Width = 0
		}
	}
	return r
}

// WithTextWidth has lines of text as wide as px CSS px; the page gets wider where it has to. It
// fails where no column plan of text has a width of its own, or where the rules do not hold then.
func (r Rules) WithTextWidth(px int) (Rules, error) {
	text := -1
	for i, p := range r.Page.Patterns {
		if len(p.Shares) == 1 && p.Cap > 0 && (text < 0 || p.Cap < r.Page.Patterns[text].Cap) {
			text = i
		}
	}
	if text < 0 {
		return r, fmt.Errorf("no column plan of one column has a width of its own: give one a widest section")
	}
	r.Page.Patterns = slices.Clone(r.Page.Patterns)
	around := r.Page.Patterns[text].Cap - r.TextWidth() // padding
	r.Page.Patterns[text].Cap = px + around
	if r.Page.Cap > 0 {
		r.Page.Cap = max(r.Page.Cap, px+around)
	}
	if faults := r.Check(); len(faults) > 0 {
		return r, faults
	}
	return r, nil
}
