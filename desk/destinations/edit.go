package destinations

import (
	"context"
	"encoding/json"
	"errors"
	"slices"

	"mivlet/desk/access"
	"mivlet/store"
)

// View is a destination with all that is known of it.
type View struct {
	store.Destination
	Files, Waiting int // that it has; that stay for a while
	Bytes          int64
	Theirs         []string // paths that somebody else changed
	Where          string
	Due            bool      // something may have changed since it was sent to
	Now            *Progress // nil where nothing is being sent
	Saw            *Seen     // nil where nobody has looked
	Former         string    // the former site that is sent as it was mended; empty: what is live
}

// All returns the destinations of the house.
func (d *Desk) All() ([]View, error) {
	if err := d.MayKeep(); err != nil {
		return nil, err
	}
	var all []View
	now := d.underWay()
	return all, d.Store.View(func(s store.Records) error {
		list, err := s.Destinations()
		for _, to := range list {
			if err == nil {
				var v View
				v, err = d.view(s, to, now[to.ID])
				all = append(all, v)
			}
		}
		return err
	})
}

// Of returns one destination.
func (d *Desk) Of(id uint) (v View, err error) {
	if err := d.MayKeep(); err != nil {
		return v, err
	}
	now := d.underWay()
	return v, d.Store.View(func(s store.Records) error {
		to, err := s.Destination(id)
		if err != nil {
			return access.NotFound(err, "The destination")
		}
		v, err = d.view(s, to, now[id])
		return err
	})
}

// view reads what is known of a destination. now is how far sending was before anything was read: where it has ended
// since, whoever asked asks once more, and does not take what was before it for how it ended.
func (d *Desk) view(s store.Records, to store.Destination, now *Progress) (View, error) {
	state, err := d.state(s, to)
	if err != nil {
		return View{}, err
	}
	rows, err := s.SentFiles(to.ID)
	if err != nil {
		return View{}, err
	}
	v := View{Destination: to, Where: Where(to), Due: to.State != state, Now: now}
	if to.FormerSite != 0 {
		f, err := s.FormerSite(to.FormerSite)
		if err != nil {
			return View{}, err
		}
		v.Former = f.Title
	}
	for _, r := range rows {
		if r.Theirs != "" {
			v.Theirs = append(v.Theirs, r.Path)
		}
		if r.Sum != "" {
			v.Files, v.Bytes = v.Files+1, v.Bytes+r.Bytes
		}
		if r.UnusedSince != nil {
			v.Waiting++
		}
	}
	if to.Seen != "" {
		v.Saw = &Seen{}
		err = json.Unmarshal([]byte(to.Seen), v.Saw)
	}
	return v, err
}

// Remove forgets a destination. What was sent stays where it is.
func (d *Desk) Remove(id uint) error {
	return d.changing(id, "Removed the destination %s; its files stay there", func(s store.Records, to *store.Destination) error {
		return errors.Join(s.RemoveDestination(to.ID), s.DropRounds(to.ID))
	})
}

// Pause lets nothing be sent to a destination, or lets it be again.
func (d *Desk) Pause(id uint, paused bool) error {
	what := "Nothing is sent to %s any more"
	if !paused {
		what = "What goes live is sent to %s"
	}
	return d.changing(id, what, func(s store.Records, to *store.Destination) error {
		to.Paused = paused
		return s.SaveDestination(*to)
	})
}

// Overwrite lets what somebody else put there be replaced by what is sent. theirs are the paths that
// whoever decided has seen.
func (d *Desk) Overwrite(id uint, theirs []string) error {
	return d.changing(id, "Let files be overwritten that somebody else changed at %s", func(s store.Records, to *store.Destination) error {
		rows, err := s.SentFiles(id)
		if err != nil {
			return err
		}
		var changed []store.SentFile
		for _, r := range rows {
			if r.Theirs != "" && slices.Contains(theirs, r.Path) {
				r.Sum, r.Stamp, r.Theirs = r.Theirs, "", ""
				changed = append(changed, r)
			}
		}
		if len(changed) == 0 {
			return access.Refuse(access.Bad, "None of these files is there as it was.", "Look at the destination again.")
		}
		to.State = ""
		if err := s.SaveDestination(*to); err != nil {
			return err
		}
		return s.SaveSent(changed)
	})
}

// changing does something with a destination in a transaction, and notes it.
func (d *Desk) changing(id uint, what string, do func(store.Records, *store.Destination) error) error {
	if err := d.MayKeep(); err != nil {
		return err
	}
	return d.Store.Tx(func(s store.Records) error {
		to, err := s.Destination(id)
		if err != nil {
			return access.NotFound(err, "The destination")
		}
		if err := do(s, &to); err != nil {
			return err
		}
		return d.Trace(s, "", what, to.Title)
	})
}

// DryRun tells what would be sent and removed. It changes nothing.
func (d *Desk) DryRun(ctx context.Context, id uint) (Work, error) {
	if err := d.MayKeep(); err != nil {
		return Work{}, err
	}
	to, err := d.Store.Destination(id)
	if err != nil {
		return Work{}, access.NotFound(err, "The destination")
	}
	l := d.lane(id)
	if !l.TryLock() {
		return Work{}, access.Refuse(access.TooSoon, "Files are being sent there at this moment.", "What would be sent is told when that has ended.")
	}
	defer l.Unlock()
	r, err := d.prepare(ctx, to, l, true)
	if err != nil {
		return Work{}, unseen(to, err)
	}
	return r.work, r.close()
}
