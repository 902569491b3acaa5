package desk

import (
	"fmt"
	"io"
	"path"
	"slices"
	"strings"

	"mivlet/core/audit"
	"mivlet/core/facts"
	"mivlet/core/naming"
	"mivlet/core/raster"
	"mivlet/core/rules"
	"mivlet/store"
)

// Arrival is a picture that has come in and waits for a slot and a section.
type Arrival struct {
	store.Picture
	Twin *store.Picture // the same file, brought before
}

// Arrive takes a file in. It streams r to disk, judges it by its bytes and
// decodes it once, for the check that it is whole and for its previews. What
// is refused leaves nothing behind.
func (d *Desk) Arrive(name string, r io.Reader, section string) (Arrival, error) {
	name = baseName(name)
	if err := d.mayWork(section); err != nil {
		return Arrival{}, err
	}
	if _, ok := d.Rules().Section(section); !ok {
		return Arrival{}, refuse(Bad, fmt.Sprintf("There is no section %q.", section), "Choose one of the house's sections.")
	}
	in, err := d.store.Blobs.Receive(io.LimitReader(r, d.Rules().Limits.Bytes+1))
	if err != nil {
		return Arrival{}, fmt.Errorf("%s could not be taken in: %w", name, err)
	}
	defer in.Discard()
	if in.Bytes > d.Rules().Limits.Bytes {
		return Arrival{}, d.TooLarge(name)
	}
	known, err := facts.Read(in)
	if err != nil {
		return Arrival{}, d.refuseFile(name, err)
	}
	if _, err := in.Seek(0, io.SeekStart); err != nil {
		return Arrival{}, err
	}
	src, err := raster.Decode(in, known, d.limits())
	if err != nil {
		return Arrival{}, d.refuseFile(name, err)
	}
	d.sources.put(in.Hash, src)
	p := store.Picture{Section: section, OriginalHash: in.Hash, OriginalName: name, Facts: known, Station: store.Arrivals}
	if p.PreviewHash, p.ThumbHash, err = d.makePreviews(src); err != nil {
		return Arrival{}, err
	}
	if err := in.Keep(); err != nil {
		return Arrival{}, err
	}
	return d.addArrival(p)
}

// addArrival records a picture whose original is kept.
func (d *Desk) addArrival(p store.Picture) (Arrival, error) {
	p.CreatedAt = d.now()
	p.UpdatedAt = p.CreatedAt
	p.Work.Alt = p.Facts.Alt
	err := d.store.Tx(func(s *store.Store) error {
		if err := s.AddPicture(&p); err != nil {
			return err
		}
		return d.trace(s, p.Section, "Brought %s in", p.OriginalName)
	})
	if err != nil {
		return Arrival{}, err
	}
	return d.arrival(p)
}

func (d *Desk) arrival(p store.Picture) (Arrival, error) {
	a := Arrival{Picture: p}
	same, err := d.store.PicturesByOriginal(p.OriginalHash)
	for _, t := range same {
		if t.ID < p.ID && t.Station != store.Bin {
			a.Twin = &t
			break
		}
	}
	return a, err
}

// Waiting returns what has arrived and waits, newest first.
func (d *Desk) Waiting() ([]Arrival, error) {
	ps, err := d.own(store.Arrivals)
	if err != nil {
		return nil, err
	}
	all := make([]Arrival, len(ps))
	for i, p := range ps {
		if all[i], err = d.arrival(p); err != nil {
			return nil, err
		}
	}
	return all, nil
}

// ToBench sends arrivals to the bench with a slot and a section, all or none.
func (d *Desk) ToBench(ids []uint, slot, section string) error {
	if err := d.mayWork(section); err != nil {
		return err
	}
	chosen, ok := d.Rules().Slot(slot)
	if !ok {
		return refuse(Bad, "No slot is chosen.", "Say where the pictures will stand, then send them.")
	}
	if _, ok := d.Rules().Section(section); !ok {
		return refuse(Bad, "No section is chosen.", "Say which section they belong to, then send them.")
	}
	if len(ids) == 0 {
		return refuse(Bad, "No picture is chosen.", "Tick the pictures to send.")
	}
	return d.store.Tx(func(s *store.Store) error {
		for _, id := range ids {
			p, err := s.Picture(id)
			if err != nil {
				return missing(err, "A picture")
			}
			if err := d.mayWork(p.Section); err != nil {
				return err
			}
			if p.Station != store.Arrivals {
				continue // somebody else was quicker
			}
			p.Station, p.Section, p.Work.Slot = store.Bench, section, slot
			if err := s.AddStep(&p, "Fitted for "+chosen.Title, d.who.Name, d.now()); err != nil {
				return err
			}
		}
		return nil
	})
}

// ThrowAway puts a picture that is on no page into the bin, from where
// BringBack takes it.
func (d *Desk) ThrowAway(id uint) error {
	return d.store.Tx(func(s *store.Store) error {
		p, err := s.Picture(id)
		if err != nil {
			return missing(err, "The picture")
		}
		if err := d.mayWork(p.Section); err != nil {
			return err
		}
		pages, err := s.Pages()
		if err != nil {
			return err
		}
		if on := pagesWith(pages, id); len(on) > 0 {
			return refuse(Clash, fmt.Sprintf("It is on %d page(s): %s.", len(on), strings.Join(on, ", ")), "Take it off there first.")
		}
		p.Station = store.Bin
		if err := s.SavePicture(&p); err != nil {
			return err
		}
		return d.trace(s, p.Section, "Threw %s away", nameOr(p))
	})
}

// BringBack takes a picture out of the bin, to where it would be waiting.
func (d *Desk) BringBack(id uint) error {
	return d.store.Tx(func(s *store.Store) error {
		p, err := s.Picture(id)
		if err != nil {
			return missing(err, "The picture")
		}
		if err := d.mayWork(p.Section); err != nil {
			return err
		}
		if p.Station != store.Bin {
			return nil
		}
		p.Station = store.Arrivals
		if p.Work.Slot != "" {
			p.Station = store.Bench
		}
		if err := s.SavePicture(&p); err != nil {
			return err
		}
		return d.trace(s, p.Section, "Brought %s back", nameOr(p))
	})
}

// Binned returns what was thrown away, newest first.
func (d *Desk) Binned() ([]store.Picture, error) { return d.own(store.Bin) }

// own returns the pictures at a station that whoever is at the desk works on,
// newest first.
func (d *Desk) own(at store.Station) ([]store.Picture, error) {
	if err := d.mayLook(); err != nil {
		return nil, err
	}
	ps, err := d.store.PicturesAt(at)
	return slices.DeleteFunc(ps, func(p store.Picture) bool { return !d.who.CanWork(p.Section) }), err
}

// TooSmallFor returns the slots that a picture has too few pixels for.
func (d *Desk) TooSmallFor(p store.Picture) []rules.Slot {
	var small []rules.Slot
	for _, slot := range d.Rules().Slots {
		if len(audit.Stops(audit.CheckFit(audit.Work{Facts: p.Facts, Recipe: p.Work.Recipe, Slot: &slot}))) > 0 {
			small = append(small, slot)
		}
	}
	return small
}

// proposal returns the name that the house would give a picture.
func proposal(p store.Picture, typed string) string {
	if strings.TrimSpace(typed) == "" {
		typed = p.OriginalName
	}
	return naming.Propose(naming.Clues{Typed: typed, Alt: p.Work.Alt, Section: p.Section, Taken: p.Facts.Taken, Fallback: p.OriginalHash[:6]})
}

// baseName takes the folders off a name that a browser or a camera gives.
func baseName(name string) string {
	name = path.Base(strings.ReplaceAll(name, `\`, "/"))
	if name == "." || name == "/" || name == "" {
		return "the file"
	}
	return name
}
