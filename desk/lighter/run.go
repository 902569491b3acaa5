package lighter

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"log/slog"
	"slices"
	"time"

	"mivlet/core/page"
	"mivlet/desk/presence"
	"mivlet/desk/publish"
	"mivlet/desk/snapshot"
	"mivlet/store"
)

// Progress is how far the lighter files of a page have come.
type Progress struct {
	Page      uint
	Done, All int // sets of files, each for one picture in one place and format
}

// Progress returns how far those of a page are; false where none are due. Before its turn comes, all
// is 0.
func (d *Desk) Progress(p store.Page) (Progress, bool, error) {
	if err := d.MayLook(); err != nil {
		return Progress{}, false, err
	}
	d.mu.Lock()
	at := d.at
	d.mu.Unlock()
	if at.Page == p.ID {
		return at, true, nil
	}
	if len(d.Rules().Placing.Lighter) == 0 || !p.Live() || d.hasFailed(p) {
		return Progress{}, false, nil
	}
	due, err := d.Store.LighterDue()
	return Progress{Page: p.ID}, slices.Contains(due, p.ID), err
}

// Run makes what is due until ctx ends, and looks every so often whether something is. After each set
// of files it rests for as long as that took: who works in the house comes first.
func (d *Desk) Run(ctx context.Context, every time.Duration, layout publish.Layout) {
	tick := time.NewTicker(every)
	defer tick.Stop()
	for {
		if err := d.makeDue(ctx, layout, func(took time.Duration) { pause(ctx, took) }); err != nil && ctx.Err() == nil {
			slog.Error("lighter files", "error", err)
		}
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
		}
	}
}

func pause(ctx context.Context, d time.Duration) {
	select {
	case <-ctx.Done():
	case <-time.After(d):
	}
}

// Make makes all that is due, without rest.
func (d *Desk) Make(ctx context.Context, layout publish.Layout) error {
	if err := d.MayKeep(); err != nil {
		return err
	}
	return d.makeDue(ctx, layout, func(time.Duration) {})
}

func (d *Desk) makeDue(ctx context.Context, layout publish.Layout, rest func(time.Duration)) error {
	d.one.Lock()
	defer d.one.Unlock()
	due, err := d.Store.LighterDue()
	if err != nil {
		return err
	}
	var all []error
	for _, id := range due {
		if ctx.Err() != nil {
			return ctx.Err()
		}
		n, err := d.asLive(id)
		switch {
		case err != nil:
		case n == nil: // whoever publishes it makes it due again
			err = d.Store.SetLighterDue(id, false)
		case d.hasFailed(n.Page):
			continue
		default:
			err = d.makeFor(ctx, n, layout, rest)
			d.setProgress(Progress{})
			d.Rooms.Notify(presence.Page(id))
		}
		if err != nil && ctx.Err() == nil {
			if n != nil {
				d.fail(n.Page)
			}
			all = append(all, fmt.Errorf("page %d: %w", id, err))
		}
	}
	return errors.Join(append(all, ctx.Err())...)
}

// makeFor makes the lighter files of a page, and has the live page name them.
func (d *Desk) makeFor(ctx context.Context, n *snapshot.Snapshot, layout publish.Layout, rest func(time.Duration)) error {
	done := d.publish.Alone(n.ID)
	_, err := d.publish.Files(n, *n.LiveAt, layout) // it notes what is not made
	done()
	if err != nil {
		return err
	}
	later := n.Later()
	for i, l := range later {
		d.setProgress(Progress{n.ID, i, len(later)})
		began := time.Now()
		if _, err := d.cuts.CutsUnder(n.House.Rules, l.Picture, l.Slot); err != nil {
			again, bad := d.asLive(n.ID)
			if bad != nil || again != nil {
				return errors.Join(err, bad)
			}
			break // the picture has gone meanwhile, and the page has changed with it
		}
		rest(time.Since(began))
		if ctx.Err() != nil {
			return ctx.Err()
		}
	}
	return d.name(ctx, n.ID, layout)
}

// asLive takes a snapshot of a page that visitors see as its draft is; nil where that is not so.
func (d *Desk) asLive(id uint) (*snapshot.Snapshot, error) {
	n, err := d.snapshot.Snap(id)
	switch {
	case errors.Is(err, store.ErrNotFound):
		return nil, nil
	case err != nil:
		return nil, err
	case !n.Live() || n.Differs():
		return nil, nil
	}
	return n, nil
}

// name makes the files of a live page anew, and makes them what visitors get where nothing has
// changed but that lighter files are named.
func (d *Desk) name(ctx context.Context, id uint, layout publish.Layout) error {
	defer d.publish.Alone(id)()
	n, err := d.asLive(id)
	if err != nil || n == nil {
		return errors.Join(err, d.Store.SetLighterDue(id, false))
	}
	files, err := d.publish.Files(n, *n.LiveAt, layout)
	if err != nil {
		return err
	}
	before, err := d.Store.FilesOf(id)
	if err != nil {
		return err
	}
	same, err := d.onlyLighter(before, files)
	if err != nil {
		return err
	}
	var others []uint
	named := false
	err = d.Store.Tx(func(s store.Records) error {
		if err := s.SetLighterDue(id, false); err != nil || !same {
			return err
		}
		p, err := s.Page(id)
		if err != nil {
			return err
		}
		now, err := s.FilesOf(id)
		if err != nil {
			return err
		}
		if !p.Live() || p.LivePrint != n.Print() || !slices.Equal(addresses(before), addresses(now)) || d.snapshot.ChangedSince(s, id, n.Seen()) != nil {
			return nil // somebody was quicker
		}
		after := slices.Concat(files, slices.DeleteFunc(slices.Clone(now), func(f store.Published) bool { return !f.OfList() }))
		if err := s.Relist(id, now, after, d.Now()); err != nil {
			return err
		}
		named = true
		others, err = d.lists.Went(s, p, n.Doc, files)
		return err
	})
	if err != nil {
		return err
	}
	if _, err := d.Store.RemoveUnnamed(pagesOf(slices.Concat(before, files))); err != nil || !named {
		if err == nil && !same {
			slog.Warn("a live page is not what would be made of it now: it names no lighter files until it is published again", "page", id)
		}
		return err
	}
	if err := d.visit.LookAt(ctx, append(others, id)); err != nil {
		return err
	}
	return nil
}

// onlyLighter reports whether files of a page are those that it has, with no more than lighter ones
// besides, which its HTML names.
func (d *Desk) onlyLighter(before, after []store.Published) (bool, error) {
	own := slices.DeleteFunc(slices.Clone(before), store.Published.OfList)
	for _, f := range own {
		at := slices.IndexFunc(after, func(o store.Published) bool {
			return o.Path == f.Path && (o.Hash == f.Hash || f.MediaType == store.PageType)
		})
		if at < 0 {
			return false, nil
		}
		if f.MediaType != store.PageType || after[at].Hash == f.Hash {
			continue
		}
		was, err := store.Content(d.Store.Files, f.Hash)
		if err != nil {
			return false, err
		}
		is, err := store.Content(d.Store.Files, after[at].Hash)
		if err != nil {
			return false, err
		}
		if !bytes.Equal(page.WithoutLighter(was), page.WithoutLighter(is)) {
			return false, nil
		}
	}
	for _, f := range after {
		known := slices.ContainsFunc(own, func(o store.Published) bool {
			return o.Path == f.Path && (o.Hash == f.Hash || f.MediaType == store.PageType)
		})
		if !known && (f.PictureID == 0 || !slices.Contains(page.LighterTypes, f.MediaType)) {
			return false, nil
		}
	}
	return true, nil
}

// pagesOf are the hashes of the HTML among files.
func pagesOf(files []store.Published) (all []string) {
	for _, f := range files {
		if f.MediaType == store.PageType {
			all = append(all, f.Hash)
		}
	}
	return all
}

func addresses(files []store.Published) []string {
	all := make([]string, len(files))
	for i, f := range files {
		all[i] = f.Path + "?" + f.Hash
	}
	slices.Sort(all)
	return all
}

func (s *shared) setProgress(p Progress) {
	s.mu.Lock()
	defer s.mu.Unlock()
	s.at = p
}

func (s *shared) hasFailed(p store.Page) bool {
	s.mu.Lock()
	defer s.mu.Unlock()
	return p.LiveAt != nil && s.failed[p.ID].Equal(*p.LiveAt)
}

func (s *shared) fail(p store.Page) {
	s.mu.Lock()
	defer s.mu.Unlock()
	s.failed[p.ID] = *p.LiveAt
}
