// Package retention throws away what nothing has used for as long as its section keeps such pictures. It is
// told two weeks before, so that whoever needs one can keep it; and what is thrown away lies in the bin for
// as long as all the rest.
package retention

import (
	"fmt"
	"slices"
	"time"

	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/desk/shelves"
	"mivlet/store"
)

// Notice is how long before it is told that a picture leaves.
const Notice = 14 * 24 * time.Hour

const day = 24 * time.Hour

// Desk is where unused pictures are told of, kept and thrown away.
type Desk struct {
	*access.Seat
	shelves *shelves.Desk
}

// New returns the desk of a seat.
func New(s *access.Seat, sh *shelves.Desk) *Desk { return &Desk{s, sh} }

// At returns the same desk for another seat.
func (d *Desk) At(s *access.Seat) *Desk { return &Desk{s, d.shelves.At(s)} }

// Leaving is a picture that is thrown away soon.
type Leaving struct {
	store.Picture
	Since time.Time // nothing has used it
	On    time.Time // it is thrown away then, at the daily tidying
}

// Leaving returns the pictures that leave soon, of the sections that whoever is at the desk works for. The
// one that leaves first comes first.
func (d *Desk) Leaving() ([]Leaving, error) {
	if err := d.MayLook(); err != nil {
		return nil, err
	}
	var all []Leaving
	for _, s := range d.Rules().Sections {
		if !d.Person.CanWork(s.Code) {
			continue
		}
		due, err := d.due(d.Store, s)
		if err != nil {
			return nil, err
		}
		for _, u := range due {
			if u.ToldAt != nil {
				all = append(all, Leaving{u.Picture, u.Since, leaves(s, u)})
			}
		}
	}
	slices.SortStableFunc(all, func(a, b Leaving) int { return a.On.Compare(b.On) })
	return all, nil
}

// due are the pictures of a section that are told of now, or were.
func (d *Desk) due(s store.Records, section rules.Section) ([]store.Unused, error) {
	if section.UnusedDays == 0 {
		return nil, nil
	}
	return s.UnusedSince(section.Code, d.Now().Add(Notice-time.Duration(section.UnusedDays)*day))
}

// leaves is when a picture that was told of is thrown away.
func leaves(section rules.Section, u store.Unused) time.Time {
	kept, told := u.Since.Add(time.Duration(section.UnusedDays)*day), u.ToldAt.Add(Notice)
	if told.After(kept) {
		return told
	}
	return kept
}

// Keep has pictures that leave soon count as used now.
func (d *Desk) Keep(ids []uint) error {
	if err := d.MayLook(); err != nil {
		return err
	}
	if len(ids) == 0 {
		return access.Refuse(access.Bad, "No picture is ticked.", "Tick those that you want to keep.")
	}
	return d.Store.Tx(func(s store.Records) error {
		for _, id := range ids {
			p, err := d.Mine(s, id)
			if err != nil {
				return err
			}
			if err := s.UseAgain([]uint{id}, d.Now()); err != nil {
				return err
			}
			if err := d.TracePicture(s, p, "Keeps %s, which nothing uses", access.NameOr(p)); err != nil {
				return err
			}
		}
		return nil
	})
}

// Tidy tells of pictures that leave soon, and throws those away whose day has come. It returns how many.
func (d *Desk) Tidy() (thrown int, err error) {
	if err := d.MayKeep(); err != nil {
		return 0, err
	}
	if err := d.Store.Tx(func(s store.Records) error { return s.NoteUnused(d.Now()) }); err != nil {
		return 0, err
	}
	for _, section := range d.Rules().Sections {
		due, err := d.due(d.Store, section)
		if err != nil {
			return thrown, err
		}
		var tell []uint
		for _, u := range due {
			switch {
			case u.ToldAt == nil:
				tell = append(tell, u.ID)
			case !d.Now().Before(leaves(section, u)):
				gone, err := d.throw(u.ID, section)
				if err != nil {
					return thrown, err
				}
				thrown += gone
			}
		}
		if len(tell) > 0 {
			if err := d.Store.Tx(func(s store.Records) error { return s.TellUnused(tell, d.Now()) }); err != nil {
				return thrown, err
			}
		}
	}
	return thrown, nil
}

// throw throws a picture away, unless something has come to use it meanwhile.
func (d *Desk) throw(id uint, section rules.Section) (n int, err error) {
	return n, d.Store.Tx(func(s store.Records) error {
		p, err := s.Picture(id)
		if err != nil {
			return err
		}
		uses, err := shelves.UsesOf(s, id)
		if err != nil {
			return err
		}
		if len(uses) > 0 || shelves.OutOfUse(s, id) != nil {
			return nil
		}
		n = 1
		if err := s.UseAgain([]uint{id}, d.Now()); err != nil { // whoever brings it back has all the time again
			return err
		}
		return d.shelves.ToBinBecause(s, &p, fmt.Sprintf(": nothing had used it for %d days", section.UnusedDays))
	})
}
