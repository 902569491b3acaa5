package desk

import (
	"context"
	"log/slog"
	"slices"
	"time"

	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/desk/cuts"
	"mivlet/desk/snapshot"
	"mivlet/store"
)

// graceForFiles is how long a file that no record names is kept: whoever made it names
// it in a record before then.
const graceForFiles = 24 * time.Hour

// graceForCuts is how long a cut is kept that nothing shows any more: an undone step
// may want it back.
const graceForCuts = 7 * 24 * time.Hour

// filledADay is for how many pictures of earlier days a day finds what they are known by when they are
// cropped, so that a large house is not busy with it for long.
const filledADay = 1000

// Upkeep does what keeps the house in order: at once, and then every day until ctx
// ends. It empties the bin of what has been there too long, forgets sessions that have
// ended and cuts that nothing shows any more, and takes files away that no record names.
func (d *Desk) Upkeep(ctx context.Context, every time.Duration) {
	tick := time.NewTicker(every)
	defer tick.Stop()
	for {
		if err := d.Tidy(); err != nil && ctx.Err() == nil {
			slog.Error("the daily tidying failed", "error", err)
		}
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
		}
	}
}

// Tidy does the daily work once. What fails does not keep the rest from being done.
func (d *Desk) Tidy() error {
	if err := d.MayKeep(); err != nil {
		return err
	}
	_, err := d.Retention.Tidy()
	if _, bad := d.Shelves.EmptyBin(); bad != nil {
		err = bad
	}
	if _, bad := d.Deleted.EmptyBin(); bad != nil {
		err = bad
	}
	if bad := d.Store.Sessions().Sweep(); bad != nil {
		err = bad
	}
	if bad := d.People.TidySessions(); bad != nil {
		err = bad
	}
	if bad := d.dropOldCuts(); bad != nil {
		err = bad
	}
	if _, bad := d.Pictures.FillCrops(filledADay); bad != nil {
		err = bad
	}
	won, bad := d.Store.Sweep(time.Now().Add(-d.grace))
	if bad != nil {
		return bad
	}
	if won.Files > 0 {
		slog.Info("files that nothing refers to were taken away", "files", won.Files, "bytes", won.Bytes)
	}
	return err
}

// dropOldCuts forgets the cuts that show no picture as it is now, neither for a slot
// nor where it stands. What visitors get of them stays with what is live.
func (d *Desk) dropOldCuts() error {
	before := d.Now().Add(-graceForCuts)
	return d.Store.Tx(func(s store.Records) error {
		old, err := s.CutsMadeBefore(before)
		if err != nil || len(old) == 0 {
			return err
		}
		var ids []uint
		for id := range old {
			ids = append(ids, id)
		}
		pictures, err := s.PicturesIn(ids)
		if err != nil {
			return err
		}
		pages, err := s.Pages()
		if err != nil {
			return err
		}
		if pages, err = snapshot.Filled(s, pages); err != nil {
			return err
		}
		r := d.Rules()
		slots := map[uint][]rules.Slot{} // that a picture stands in
		for _, p := range pages {
			for _, at := range p.Doc.Stands(r) {
				slots[at.Picture] = append(slots[at.Picture], at.Slot)
			}
		}
		var gone []uint
		for id, made := range old {
			pic := pictures[id]
			usual := append(slices.Clone(r.Slots), page.EnlargedSlot(r))
			current := map[string]bool{}
			for _, slot := range append(usual, slots[id]...) {
				current[cuts.CutKey(r, pic, slot)] = true
				current[cuts.CutKey(r, pic, slot.Still())] = true // what stands for it while it is held still
			}
			for _, c := range made {
				if !current[c.Key] {
					gone = append(gone, c.ID)
				}
			}
		}
		return s.DropCuts(gone)
	})
}
