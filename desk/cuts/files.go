package cuts

import (
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
// they weigh less; in gives the cuts in a format.
func LighterThan(made []store.Cut, formats []string, in func(format string) ([]store.Cut, error)) (all [][]store.Cut, err error) {
	if made[0].MediaType != "image/jpeg" {
		return nil, nil
	}
	for _, format := range formats {
		others, err := in(format)
		if err != nil {
			return nil, err
		}
		if Weight(others) < Weight(made) {
			all = append(all, others)
		}
	}
	return all, nil
}

// Lighter are the files of [LighterThan] as a page offers them.
func Lighter(made []store.Cut, formats []string, in func(format string) ([]store.Cut, error), address func(store.Cut) string) (all []page.Lighter, err error) {
	lighter, err := LighterThan(made, formats, in)
	for _, others := range lighter {
		all = append(all, page.Lighter{MediaType: others[0].MediaType, SrcSet: SrcSet(others, address)})
	}
	return all, err
}

// StillWithLighter are the cuts of a picture that stands still, for some slots, and those of
// [Desk.LighterOfStill] for each.
func (d *Desk) StillWithLighter(r rules.Rules, p store.Picture, slots []rules.Slot) (made [][]store.Cut, lighter [][][]store.Cut, err error) {
	if made, err = d.CutsOfStill(r, p, slots); err != nil {
		return nil, nil, err
	}
	lighter = make([][][]store.Cut, len(slots))
	for i, slot := range slots {
		if lighter[i], err = d.LighterOfStill(r, p, slot, made[i]); err != nil {
			return nil, nil, err
		}
	}
	return made, lighter, nil
}

// LighterOfStill is [LighterThan] for the cuts of a picture that stands still, as rules say.
func (d *Desk) LighterOfStill(r rules.Rules, p store.Picture, slot rules.Slot, made []store.Cut) ([][]store.Cut, error) {
	return LighterThan(made, r.Placing.Lighter, func(format string) ([]store.Cut, error) {
		return d.cutsBy(r, p, slot.As(format), d.stillEncoder)
	})
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
