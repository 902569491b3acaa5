package cuts

import (
	"cmp"
	"slices"

	"mivlet/core/fit"
	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/store"
)

// Loaded is which cut a screen loads for a picture that stands css CSS px wide.
func Loaded(made []store.Cut, css, density float64) store.Cut {
	return made[loaded(made, func(c store.Cut) int { return c.Width }, css, density)]
}

// loaded is which of some files, made or not, a screen loads for a picture that stands css CSS px
// wide; width is that of a file in pixels.
func loaded[C any](all []C, width func(C) int, css, density float64) int {
	var files []fit.Candidate
	for _, c := range all {
		files = append(files, fit.Candidate{Width: width(c)})
	}
	return slices.Index(files, fit.Choose(files, css, density))
}

// SrcSet lists cuts for a browser's choice; address tells where each of them is found.
func SrcSet(made []store.Cut, address func(store.Cut) string) string {
	var files []fit.Candidate
	for _, c := range made {
		files = append(files, fit.Candidate{URL: address(c), Width: c.Width})
	}
	return fit.SrcSet(files)
}

// Image lets a browser choose from cuts. Who chooses none takes the one for a usual desktop.
func Image(made []store.Cut, sizes, alt string, address func(store.Cut) string) page.Image {
	usual := Loaded(made, float64(made[0].CSSWidth), 1)
	m := page.Image{Src: address(usual), Width: usual.Width, Height: usual.Height, Alt: alt}
	if len(made) > 1 {
		m.SrcSet, m.Sizes = SrcSet(made, address), sizes
	}
	return m
}

// LighterThan gives cuts in other formats, format by format, that are offered beside JPEG files, where
// they weigh less, the lightest first: a browser takes the first that it knows. in gives the cuts in a
// format; none where they are not made yet.
func LighterThan(made []store.Cut, formats []string, in func(format string) ([]store.Cut, error)) (all [][]store.Cut, err error) {
	if made[0].MediaType != "image/jpeg" {
		return nil, nil
	}
	for _, format := range formats {
		others, err := in(format)
		if err != nil {
			return nil, err
		}
		if len(others) > 0 && Weight(others) < Weight(made) {
			all = append(all, others)
		}
	}
	slices.SortStableFunc(all, func(a, b []store.Cut) int { return cmp.Compare(Weight(a), Weight(b)) })
	return all, nil
}

// Lighter are files of [LighterThan] as a page offers them.
func Lighter(lighter [][]store.Cut, address func(store.Cut) string) (all []page.Lighter) {
	for _, others := range lighter {
		all = append(all, page.Lighter{MediaType: others[0].MediaType, SrcSet: SrcSet(others, address)})
	}
	return all
}

// Later are cuts that are offered beside JPEG files once they are made: nobody waits for them.
type Later struct {
	Picture store.Picture // as it stands there
	Slot    rules.Slot    // with the format
}

// LighterReady gives the cuts of a picture in the formats that the house offers beside JPEG files, as far
// as they are made, and what is not. A picture that moves has none: it would move in a format that can.
func (d *Desk) LighterReady(r rules.Rules, p store.Picture, slot rules.Slot, made []store.Cut) (ready [][]store.Cut, later []Later, err error) {
	if p.Facts.KeepsMotion() {
		return nil, nil, nil
	}
	ready, err = LighterThan(made, r.Placing.Lighter, func(format string) ([]store.Cut, error) {
		as := slot.As(format)
		is, err := d.Store.Cuts(p.ID, CutKey(r, p, as))
		if err == nil && len(is) == 0 {
			later = append(later, Later{p, as})
		}
		return is, err
	})
	return ready, later, err
}

// Weight is what cuts weigh together, in bytes.
func Weight(made []store.Cut) (sum int64) {
	for _, c := range made {
		sum += c.Bytes
	}
	return sum
}

// Heaviest is the weight of the heaviest cut for a slot, in bytes. One that may be heavier than the
// slot's budget counts in proportion.
func Heaviest(made []store.Cut, slot rules.Slot) (most int64) {
	for _, c := range made {
		if room := slot.BudgetAt(c.Density); room > 0 {
			most = max(most, c.Bytes*slot.Budget/room)
		}
	}
	return most
}
