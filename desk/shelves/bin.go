package shelves

import (
	"fmt"
	"slices"
	"time"

	"mivlet/core/words"
	"mivlet/desk/access"
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
	*access.Refusal
	Picture uint
	Uses    []Use
}

// Unwrap returns the refusal.
func (o *OnPages) Unwrap() error { return o.Refusal }

// UsesOf returns the pages that a picture is used on.
func UsesOf(s store.Records, id uint) ([]Use, error) {
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
		if f.OfList() {
			continue // it goes when it goes from the page that it stands for
		}
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

// OutOfUse refuses to throw away a picture that is in an album or on a banner.
func OutOfUse(s store.Records, id uint) error {
	in, err := s.AlbumsWith(id)
	if err != nil {
		return err
	}
	on, err := s.BannersWith(id)
	if err != nil {
		return err
	}
	var albums, banners []string
	for _, a := range in {
		albums = append(albums, "“"+a.Doc.Title+"”")
	}
	for _, b := range on {
		banners = append(banners, "“"+b.Doc.Title+"”")
	}
	switch {
	case len(albums) > 0:
		return access.Refuse(access.Clash, fmt.Sprintf("It is in %s: %s.", access.Count(len(albums), "album"), words.Listed(albums)), "Take it out of there first. Taking out of an album is not throwing away.")
	case len(banners) > 0:
		return access.Refuse(access.Clash, fmt.Sprintf("It is on %s: %s.", access.Count(len(banners), "banner"), words.Listed(banners)), "Choose another picture there first, and have it approved.")
	}
	return nil
}

// UseNames lists the titles of pages, and which of them visitors see.
func UseNames(uses []Use) string {
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
	return d.pictures.Stirring(id, func(s store.Records) error {
		p, err := d.Mine(s, id)
		if err != nil {
			return err
		}
		if err := OutOfUse(s, id); err != nil {
			return err
		}
		uses, err := UsesOf(s, id)
		if err != nil {
			return err
		}
		if len(uses) > 0 {
			return &OnPages{access.Refuse(access.Clash, fmt.Sprintf("It is on %s: %s.", access.Count(len(uses), "page"), UseNames(uses)), "Take it off there first."), id, uses}
		}
		return d.ToBin(s, &p)
	})
}

// ToBin throws a picture away in a transaction, for those who have asked whether they may.
func (d *Desk) ToBin(s store.Records, p *store.Picture) error {
	return d.ToBinBecause(s, p, "")
}

// ToBinBecause is ToBin with what the trail says besides.
func (d *Desk) ToBinBecause(s store.Records, p *store.Picture, why string) error {
	if p.Station == store.Bin {
		return nil
	}
	if err := OutOfUse(s, p.ID); err != nil {
		return err
	}
	now := d.Now()
	p.Was, p.Station, p.BinnedAt = p.Station, store.Bin, &now
	if err := s.SavePicture(p); err != nil {
		return err
	}
	return d.TracePicture(s, *p, "Threw %s away%s", access.NameOr(*p), why)
}

// BringBack takes a picture out of the bin, to where it was. Its name was kept
// for it.
func (d *Desk) BringBack(id uint) error {
	return d.Store.Tx(func(s store.Records) error {
		p, err := d.Mine(s, id)
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
		return d.TracePicture(s, p, "Brought %s back", access.NameOr(p))
	})
}

// EmptyBin forgets what has been in the bin longer than the house keeps it. Its files
// go with the next sweep.
func (d *Desk) EmptyBin() (int, error) {
	if err := d.MayKeep(); err != nil {
		return 0, err
	}
	before := d.Now().Add(-time.Duration(d.Rules().Limits.BinDays) * 24 * time.Hour)
	n := 0
	return n, d.Store.Tx(func(s store.Records) error {
		old, err := s.BinnedBefore(before)
		if err != nil {
			return err
		}
		for _, p := range old {
			if err := s.RemovePicture(p.ID); err != nil {
				return err
			}
			if err := d.TracePicture(s, p, "%s left the bin for good, after %d days", access.NameOr(p), d.Rules().Limits.BinDays); err != nil {
				return err
			}
		}
		n = len(old)
		return nil
	})
}
