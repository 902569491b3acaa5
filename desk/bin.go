package desk

import (
	"fmt"
	"strings"
	"time"

	"mivlet/store"
)

// ThrowAway puts a picture that is on no page into the bin, from where
// BringBack takes it for as long as the house rules say.
func (d *Desk) ThrowAway(id uint) error {
	return d.store.Tx(func(s *store.Store) error {
		p, err := d.mine(s, id)
		if err != nil {
			return err
		}
		pages, err := s.PagesWith(id)
		if err != nil {
			return err
		}
		if len(pages) > 0 {
			var on []string
			for _, page := range pages {
				on = append(on, page.Doc.Title)
			}
			return refuse(Clash, fmt.Sprintf("It is on %s: %s.", count(len(on), "page"), strings.Join(on, ", ")), "Take it off there first.")
		}
		if p.Station == store.Bin {
			return nil
		}
		now := d.now()
		p.Was, p.Station, p.BinnedAt = p.Station, store.Bin, &now
		if err := s.SavePicture(&p); err != nil {
			return err
		}
		return d.trace(s, p.Section, "Threw %s away", nameOr(p))
	})
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
		return d.trace(s, p.Section, "Brought %s back", nameOr(p))
	})
}

// EmptyBin forgets what has been in the bin longer than the house keeps it.
func (d *Desk) EmptyBin() (int, error) {
	if err := d.mayKeep(); err != nil {
		return 0, err
	}
	old, err := d.store.BinnedBefore(d.now().Add(-time.Duration(d.Rules().Limits.BinDays) * 24 * time.Hour))
	if err != nil {
		return 0, err
	}
	for _, p := range old {
		err := d.store.Tx(func(s *store.Store) error {
			if err := s.RemovePicture(p.ID); err != nil {
				return err
			}
			return d.trace(s, p.Section, "%s left the bin for good, after %d days", nameOr(p), d.Rules().Limits.BinDays)
		})
		if err != nil {
			return 0, err
		}
	}
	return len(old), nil
}
