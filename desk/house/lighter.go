package house

import (
	"cmp"
	"slices"

	"mivlet/core/rules"
	"mivlet/desk/access"
)

// mostTried is how many pictures lighter files are tried on: with more, somebody would wait for long.
const mostTried = 2

// Trial is what pictures weigh in formats beside JPEG, each in the file that a usual desktop loads.
type Trial struct {
	Pictures int
	Before   int64 // bytes, as JPEG
	In       []Saving
}

// Saving is what they weigh where a format is offered.
type Saving struct {
	Format  string
	Then    int64 // bytes, in the format where it is lighter
	Percent int   // of what they weigh as JPEG
}

// Least is the saving after which they weigh least.
func (t Trial) Least() Saving {
	return slices.MinFunc(t.In, func(a, b Saving) int { return cmp.Compare(a.Then, b.Then) })
}

// TryLighter tells what the formats that may be offered beside JPEG would save, by trying them on some
// pictures that stand on pages, the newest first.
func (d *Desk) TryLighter() (s Trial, err error) {
	if err := d.MayKeep(); err != nil {
		return s, err
	}
	for _, format := range rules.LighterFormats {
		s.In = append(s.In, Saving{Format: format})
	}
	bySlot, err := d.placements()
	if err != nil {
		return s, err
	}
	type try struct {
		placement
		slot string
	}
	var all []try
	for slot, placements := range bySlot {
		for _, p := range placements {
			if p.picture.Facts.Frames <= 1 {
				all = append(all, try{p, slot})
			}
		}
	}
	slices.SortFunc(all, func(a, b try) int {
		return cmp.Or(cmp.Compare(b.picture.ID, a.picture.ID), cmp.Compare(a.slot, b.slot))
	})
	all = slices.CompactFunc(all, func(a, b try) bool { return a.picture.ID == b.picture.ID })
	for _, t := range all {
		slot, ok := d.Rules().Slot(t.slot)
		if !ok {
			continue
		}
		before, then, err := d.cuts.Beside(t.picture, slot, rules.LighterFormats)
		if err != nil {
			return s, err
		}
		if before == 0 { // it is no JPEG
			continue
		}
		s.Before += before
		for i := range s.In {
			s.In[i].Then += min(before, then[i])
			s.In[i].Percent = int(100 * s.In[i].Then / max(s.Before, 1))
		}
		if s.Pictures++; s.Pictures == mostTried {
			break
		}
	}
	if s.Pictures == 0 {
		return s, access.Refuse(access.Missing, "No photo stands on a page yet.", "Try again when one does.")
	}
	return s, nil
}
