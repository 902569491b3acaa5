package desk

import (
	"context"
	"fmt"
	"slices"
	"time"

	"mivlet/core/page"
	"mivlet/core/words"
	"mivlet/store"
)

// Use is a page that a picture is used on: its draft shows it, its live page, or both.
type Use struct {
	store.Page
	OnDraft bool
	OnLive  bool
}

// OnPages is the refusal to throw away a picture that pages use. [Desk.ThrowAwayFrom]
// takes it off them first.
type OnPages struct {
	*Refusal
	Picture uint
	Uses    []Use
}

// Unwrap returns the refusal.
func (o *OnPages) Unwrap() error { return o.Refusal }

// usesOf returns the pages that a picture is used on.
func usesOf(s *store.Store, id uint) ([]Use, error) {
	drafts, err := s.PagesWith(id)
	if err != nil {
		return nil, err
	}
	files, err := s.Showing(id)
	if err != nil {
		return nil, err
	}
	var uses []Use
	for _, p := range drafts {
		uses = append(uses, Use{Page: p, OnDraft: true})
	}
	for _, f := range files {
		i := slices.IndexFunc(uses, func(u Use) bool { return u.ID == f.PageID })
		if i < 0 {
			p, err := s.Page(f.PageID)
			if err != nil {
				return nil, err
			}
			i, uses = len(uses), append(uses, Use{Page: p})
		}
		uses[i].OnLive = true
	}
	return uses, nil
}

// useNames lists the titles of pages, and which of them visitors see.
func useNames(uses []Use) string {
	var names []string
	for _, u := range uses {
		if u.OnLive {
			names = append(names, u.Doc.Title+" (live)")
		} else {
			names = append(names, u.Doc.Title)
		}
	}
	return words.Listed(names)
}

// ThrowAway puts a picture that no page uses into the bin, from where BringBack takes
// it for as long as the house rules say. Where pages use it, or visitors see it, it
// fails with an [*OnPages].
func (d *Desk) ThrowAway(id uint) error {
	return d.stirring(id, func(s *store.Store) error {
		p, err := d.mine(s, id)
		if err != nil {
			return err
		}
		uses, err := usesOf(s, id)
		if err != nil {
			return err
		}
		if len(uses) > 0 {
			return &OnPages{refuse(Clash, fmt.Sprintf("It is on %s: %s.", count(len(uses), "page"), useNames(uses)), "Take it off there first."), id, uses}
		}
		return d.toBin(s, &p)
	})
}

func (d *Desk) toBin(s *store.Store, p *store.Picture) error {
	if p.Station == store.Bin {
		return nil
	}
	now := d.now()
	p.Was, p.Station, p.BinnedAt = p.Station, store.Bin, &now
	if err := s.SavePicture(p); err != nil {
		return err
	}
	return d.tracePicture(s, *p, "Threw %s away", nameOr(*p))
}

// ThrowAwayFrom takes a picture off all pages that use it, publishes those again that
// are live, and puts it into the bin: all of it at once, or nothing. A live page with
// other changes that visitors have not seen keeps it from happening, as they would go
// live with it.
func (d *Desk) ThrowAwayFrom(ctx context.Context, id uint, layout Layout) error {
	pic, err := d.mine(d.store, id)
	if err != nil {
		return err
	}
	if err := d.settle(false); err != nil {
		return err
	}
	uses, err := usesOf(d.store, id)
	if err != nil {
		return err
	}
	type cleared struct {
		before Seen
		release
	}
	var all []cleared
	for _, u := range uses {
		if err := d.mayWork(u.Section); err != nil {
			return err
		}
		n, err := d.snap(u.ID)
		if err != nil {
			return err
		}
		c := cleared{before: n.seen()}
		if n.Live() {
			if err := d.mayPublish(u.Section); err != nil {
				return err
			}
			if n.differs() {
				return refuse(Clash, fmt.Sprintf("%s has other changes that visitors have not seen yet.", n.Doc.Title), "Publish it, or take them back; then throw the picture away.")
			}
		}
		next := *n
		next.Doc, next.Version = withoutPicture(n.Doc, id), n.Version+1
		c.release = release{snapshot: &next}
		if n.Live() {
			if c.release, err = d.prepare(&next, "", layout); err != nil {
				return err
			}
		}
		all = append(all, c)
	}
	err = d.store.Tx(func(s *store.Store) error {
		now, err := d.mine(s, id)
		if err != nil {
			return err
		}
		for _, c := range all {
			if err := d.changedSince(s, c.ID, c.before); err != nil {
				return err
			}
			p := c.Page
			p.Version--
			if err := s.AddPageStep(&p, "Took "+nameOr(pic)+" off: it was thrown away", d.who.Name, d.now()); err != nil {
				return err
			}
			if p.Live() {
				if err := d.keepLive(s, &p, c.files, c.print(), nil); err != nil {
					return err
				}
			}
			if err := d.trace(s, p.Section, "Page %s: took %s off, as it was thrown away", p.Doc.Title, nameOr(pic)); err != nil {
				return err
			}
		}
		if uses, err = usesOf(s, id); err != nil {
			return err
		}
		if len(uses) > 0 {
			return refuse(Clash, "Somebody has placed it on "+useNames(uses)+" meanwhile.", "Nothing was changed; look again.")
		}
		return d.toBin(s, &now)
	})
	if err != nil {
		return err
	}
	d.stir(pictureRoom(id))
	for _, c := range all {
		d.stir(pageRoom(c.ID))
		if c.Live() {
			if _, err := d.CheckLive(ctx, c.ID); err != nil {
				return err
			}
		}
	}
	return nil
}

// withoutPicture is a page without the blocks and places of a picture.
func withoutPicture(doc page.Doc, id uint) page.Doc {
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

// BringBack takes a picture out of the bin, to where it was. Its name was kept
// for it.
func (d *Desk) BringBack(id uint) error {
	return d.store.Tx(func(s *store.Store) error {
		p, err := d.mine(s, id)
		if err != nil {
			return err
		}
		if p.Station != store.Bin {
			return nil
		}
		p.Station, p.BinnedAt = p.Was, nil
		if p.Station == "" || p.Station == store.Bin {
			p.Station = store.Arrivals
		}
		if err := s.SavePicture(&p); err != nil {
			return err
		}
		return d.tracePicture(s, p, "Brought %s back", nameOr(p))
	})
}

// EmptyBin forgets what has been in the bin longer than the house keeps it. Its files
// go with the next sweep.
func (d *Desk) EmptyBin() (int, error) {
	if err := d.mayKeep(); err != nil {
		return 0, err
	}
	before := d.now().Add(-time.Duration(d.Rules().Limits.BinDays) * 24 * time.Hour)
	n := 0
	return n, d.store.Tx(func(s *store.Store) error {
		old, err := s.BinnedBefore(before)
		if err != nil {
			return err
		}
		for _, p := range old {
			if err := s.RemovePicture(p.ID); err != nil {
				return err
			}
			if err := d.tracePicture(s, p, "%s left the bin for good, after %d days", nameOr(p), d.Rules().Limits.BinDays); err != nil {
				return err
			}
		}
		n = len(old)
		return nil
	})
}
