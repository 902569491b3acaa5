package publish

import (
	"context"
	"fmt"
	"slices"

	"mivlet/core/page"
	"mivlet/desk/access"
	"mivlet/desk/presence"
	"mivlet/desk/shelves"
	"mivlet/desk/snapshot"
	"mivlet/store"
)

// ThrowAwayFrom takes a picture off all pages that use it, publishes those again that
// are live, and puts it into the bin: all of it at once, or nothing. A live page with
// other changes that visitors have not seen keeps it from happening, as they would go
// live with it.
func (d *Desk) ThrowAwayFrom(ctx context.Context, id uint, layout Layout) error {
	pic, err := d.Mine(d.Store, id)
	if err != nil {
		return err
	}
	if err := shelves.OutOfUse(d.Store, id); err != nil {
		return err
	}
	if err := d.snapshot.Settle(false); err != nil {
		return err
	}
	uses, err := shelves.UsesOf(d.Store, id)
	if err != nil {
		return err
	}
	type cleared struct {
		before snapshot.Seen
		release
	}
	var all []cleared
	for _, u := range uses {
		if err := d.MayWork(u.Section); err != nil {
			return err
		}
		n, err := d.snapshot.Snap(u.ID)
		if err != nil {
			return err
		}
		c := cleared{before: n.Seen()}
		if n.Live() {
			if err := d.MayPublish(u.Section); err != nil {
				return err
			}
			if n.Differs() {
				return access.Refuse(access.Clash, fmt.Sprintf("%s has other changes that visitors have not seen yet.", n.Doc.Title), "Publish it, or take them back; then throw the picture away.")
			}
		}
		next := *n
		next.Doc, next.Version = withoutPicture(n.Doc, id), n.Version+1
		c.release = release{Snapshot: &next}
		if n.Live() {
			if c.release, err = d.prepare(&next, "", layout); err != nil {
				return err
			}
		}
		all = append(all, c)
	}
	var others []uint
	err = d.Store.Tx(func(s store.Records) error {
		others = nil
		now, err := d.Mine(s, id)
		if err != nil {
			return err
		}
		for _, c := range all {
			if err := d.snapshot.ChangedSince(s, c.ID, c.before); err != nil {
				return err
			}
			p := c.Page
			p.Version--
			if err := s.AddPageStep(&p, "Took "+access.NameOr(pic)+" off: it was thrown away", d.Person.Name, d.Now()); err != nil {
				return err
			}
			if p.Live() {
				changed, err := d.keepLive(s, &p, c.release)
				if err != nil {
					return err
				}
				others = append(others, changed...)
			}
			if err := d.Trace(s, p.Section, "Page %s: took %s off, as it was thrown away", p.Doc.Title, access.NameOr(pic)); err != nil {
				return err
			}
		}
		if uses, err = shelves.UsesOf(s, id); err != nil {
			return err
		}
		if len(uses) > 0 {
			return access.Refuse(access.Clash, "Somebody has placed it on "+shelves.UseNames(uses)+" in the meantime.", "Nothing was changed; look again.")
		}
		return d.shelves.ToBin(s, &now)
	})
	if err != nil {
		return err
	}
	d.Rooms.Notify(presence.Picture(id))
	if err := d.visit.LookAt(ctx, others); err != nil {
		return err
	}
	for _, c := range all {
		d.Rooms.Notify(presence.Page(c.ID))
		if c.Live() {
			if _, err := d.visit.Check(ctx, c.ID); err != nil {
				return err
			}
		}
	}
	return nil
}

// withoutPicture is a page without the blocks and places of a picture.
func withoutPicture(doc page.Doc, id uint) page.Doc {
	doc = doc.Uncovered(id)
	for {
		block, nth := "", 0
		for _, b := range doc.Blocks {
			if n := slices.IndexFunc(b.Holds(), func(p page.Placement) bool { return p.Picture == id }); n >= 0 {
				block, nth = b.ID, n
			}
		}
		if block == "" {
			return doc
		}
		var err error
		if doc, err = doc.RemovePicture(block, nth); err != nil {
			return doc // not reached: it was just found there
		}
	}
}
