// Package deleted is the room of pages that were deleted: they wait to be brought back, and leave
// for good after as many days as the house rules say.
package deleted

import (
	"fmt"
	"slices"
	"time"

	"mivlet/desk/access"
	"mivlet/desk/pages"
	"mivlet/desk/presence"
	"mivlet/store"
)

// Desk is where one person deletes pages and brings them back.
type Desk struct {
	*access.Seat
	pages *pages.Desk
}

// New returns the desk of the house itself.
func New(s *access.Seat, p *pages.Desk) *Desk { return &Desk{s, p} }

// At returns the same desk for another seat.
func (d *Desk) At(s *access.Seat) *Desk { return &Desk{s, d.pages.At(s)} }

// Delete deletes a page that visitors do not see. Its pictures stay; [Desk.BringBack] brings it
// back, for as long as the house rules keep what was thrown away.
func (d *Desk) Delete(id uint) error {
	err := d.Store.Tx(func(s store.Records) error {
		p, err := s.Page(id)
		if err != nil {
			return access.NotFound(err, "The page")
		}
		if err := d.MayWork(p.Section); err != nil {
			return err
		}
		return d.Drop(s, p)
	})
	if err == nil {
		d.Rooms.Notify(presence.Page(id))
	}
	return err
}

// Drop deletes a page in a transaction, for those who have asked whether they may.
func (d *Desk) Drop(s store.Records, p store.Page) error {
	if p.Live() {
		return access.Refuse(access.Clash, "Visitors see "+p.Doc.Title+".", "Take it off the site first. Then you can delete it.")
	}
	if err := s.DropPage(p.ID, d.Now()); err != nil {
		return err
	}
	if err := pages.Restation(s, p.Doc.Pictures()); err != nil {
		return err
	}
	return d.Trace(s, p.Section, "Deleted the page %s", p.Doc.Title)
}

// BringBack has a deleted page be there again, without the pictures that were thrown away since.
// Where another page has its address by now, it gets one beside it.
func (d *Desk) BringBack(id uint) error {
	return d.Store.Tx(func(s store.Records) error {
		p, err := s.DroppedPage(id)
		if err != nil {
			return access.NotFound(err, "The page")
		}
		if err := d.MayWork(p.Section); err != nil {
			return err
		}
		if _, ok := d.Rules().Section(p.Section); !ok && p.Section != "" {
			return access.Refuse(access.Clash, fmt.Sprintf("The section %q is not there any more.", p.Section), "Add a section of that code under House rules first.")
		}
		slug := p.Slug
		for n := 2; d.pages.FreeAddress(s, p.Section, slug, id) != nil; n++ {
			if p.Front() || n > 50 {
				return d.pages.FreeAddress(s, p.Section, slug, id)
			}
			slug = fmt.Sprintf("%s-%d", p.Slug, n)
		}
		if err := s.BringPageBack(id, slug); err != nil {
			return err
		}
		if p, err = s.Page(id); err != nil {
			return err
		}
		if err := d.withoutGone(s, &p); err != nil {
			return err
		}
		if err := pages.Restation(s, p.Doc.Pictures()); err != nil {
			return err
		}
		return d.Trace(s, p.Section, "Brought the page %s back", p.Doc.Title)
	})
}

// withoutGone empties the places of pictures that are not there any more.
func (d *Desk) withoutGone(s store.Records, p *store.Page) error {
	there, err := s.PicturesIn(p.Doc.Pictures())
	if err != nil {
		return err
	}
	gone := 0
	for _, id := range p.Doc.Pictures() {
		if now, ok := there[id]; !ok || now.Station == store.Bin {
			p.Doc, gone = p.Doc.Forgetting(id), gone+1
		}
	}
	if gone == 0 {
		return nil
	}
	return s.AddPageStep(p, "As before, without what was thrown away", d.Person.Name, d.Now())
}

// Pages returns the deleted pages of the sections that whoever is at the desk works for, those
// deleted last first.
func (d *Desk) Pages() ([]store.Page, error) {
	if err := d.MayLook(); err != nil {
		return nil, err
	}
	all, err := d.Store.DroppedPages()
	return slices.DeleteFunc(all, func(p store.Page) bool { return !d.Person.CanWork(p.Section) }), err
}

// EmptyBin forgets the pages that were deleted longer ago than the house rules keep what was
// thrown away. It returns how many went.
func (d *Desk) EmptyBin() (int, error) {
	if err := d.MayKeep(); err != nil {
		return 0, err
	}
	days := d.Rules().Limits.BinDays
	before := d.Now().Add(-time.Duration(days) * 24 * time.Hour)
	n := 0
	return n, d.Store.Tx(func(s store.Records) error {
		all, err := s.DroppedPages()
		if err != nil {
			return err
		}
		n = 0
		for _, p := range all {
			if !p.DroppedAt.Before(before) {
				continue
			}
			if err := s.RemovePage(p.ID); err != nil {
				return err
			}
			if err := d.Trace(s, p.Section, "The page %s left for good, after %d days", p.Doc.Title, days); err != nil {
				return err
			}
			n++
		}
		return nil
	})
}
