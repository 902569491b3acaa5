package house

import (
	"cmp"
	"slices"

	"mivlet/desk/access"
)

// mostTried is how many pictures lighter files are tried on: with more, somebody would wait for long.
const mostTried = 4

// Saving is what pictures weigh in a format beside JPEG, each in the file that a usual desktop loads.
type Saving struct {
	Pictures     int
	Before, Then int64 // bytes: as JPEG, and where it is lighter in the other format
}

// Percent is what they weigh then, of what they weigh as JPEG.
func (s Saving) Percent() int { return int(100 * s.Then / max(s.Before, 1)) }

// TryLighter tells what a format beside JPEG would save, by trying it on some pictures that stand on
// pages, the newest first.
func (d *Desk) TryLighter(format string) (s Saving, err error) {
	if err := d.MayKeep(); err != nil {
		return s, err
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
		before, then, err := d.cuts.Beside(t.picture, slot, format)
		if err != nil {
			return s, err
		}
		if before == 0 { // it is no JPEG
			continue
		}
		s.Before, s.Then = s.Before+before, s.Then+min(before, then)
		if s.Pictures++; s.Pictures == mostTried {
			break
		}
	}
	if s.Pictures == 0 {
		return s, access.Refuse(access.Missing, "No photo stands on a page yet.", "Try again when one does.")
	}
	return s, nil
}
