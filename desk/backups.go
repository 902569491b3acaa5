package desk

import (
	"fmt"
	"time"

	"mivlet/desk/access"
	"mivlet/store"
)

// EraseInBackups has what was erased in the house erased in its backups, too, and tells it in the trail.
// change does something in the records of every backup, as if it had been done before each was written. What
// fails is left for the next time.
func (d *Desk) EraseInBackups(change func(do func(*store.Store) (changed bool, err error)) (int, error)) error {
	if err := d.MayKeep(); err != nil {
		return err
	}
	left, err := d.Store.ErasuresLeft()
	if err != nil || len(left) == 0 {
		return err
	}
	reached := map[uint]int{}
	if _, err := change(func(s *store.Store) (bool, error) { return eraseIn(s, d.Now, left, reached) }); err != nil {
		return err
	}
	return d.Store.Tx(func(s store.Records) error {
		for _, e := range left {
			if err := s.EndErasure(e.ID); err != nil {
				return err
			}
			text := fmt.Sprintf("Erased picture number %d in %s, too", e.Picture, access.Count(reached[e.ID], "backup"))
			if reached[e.ID] == 0 {
				text = fmt.Sprintf("No backup has picture number %d any more, which was erased", e.Picture)
			}
			if err := d.Trace(s, "", "%s", text); err != nil {
				return err
			}
		}
		return nil
	})
}

// eraseIn erases pictures in a copy of the house, and counts for each erasure that the copy had it.
func eraseIn(s *store.Store, now func() time.Time, all []store.Erasure, reached map[uint]int) (bool, error) {
	copied, err := New(s, Options{Now: now})
	if err != nil {
		return false, err
	}
	changed := false
	for _, e := range all {
		had, err := copied.Withdraw.EraseCopied(e)
		if err != nil {
			return false, err
		}
		if had {
			reached[e.ID]++
			changed = true
		}
	}
	return changed, nil
}
