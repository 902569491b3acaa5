package albums

import (
	"errors"
	"fmt"
	"time"

	"mivlet/core/words"
	"mivlet/desk/access"
	"mivlet/desk/presence"
	"mivlet/store"
)

// ShowStep shows a step of an album's history: undo and redo. Pictures that were thrown away
// or erased since do not come back with it.
func (d *Desk) ShowStep(id uint, seq int) error {
	return d.on(id, func(s store.Records, a *store.Album) error {
		if err := s.ShowAlbumStep(a, seq, d.Now()); err != nil {
			return access.NotFound(err, "That step")
		}
		there, err := s.StandingOf(a.Doc.Pictures())
		if err != nil {
			return err
		}
		var gone []uint
		for _, p := range a.Doc.Pictures() {
			if now, ok := there[p]; !ok || now.Station == store.Bin {
				gone = append(gone, p)
			}
		}
		if len(gone) == 0 {
			return nil
		}
		a.Doc = a.Doc.Without(gone...)
		return s.AddAlbumStep(a, "As before, without what was thrown away", d.Person.Name, d.Now())
	})
}

// Drop deletes an album that no page shows. Its pictures stay; [Desk.BringBack] brings it back.
func (d *Desk) Drop(id uint) error {
	return d.on(id, func(s store.Records, a *store.Album) error {
		showing, err := s.AlbumPages(id)
		if err != nil {
			return err
		}
		if uses := showing[id]; len(uses) > 0 {
			names := make([]string, len(uses))
			for i, u := range uses {
				names[i] = u.Doc.Title
				if u.OnLive {
					names[i] += " (live)"
				}
			}
			return access.Refuse(access.Clash, fmt.Sprintf("%s shows it: %s.", access.Count(len(uses), "page"), words.Listed(names)), "Take the album off there first, and publish.")
		}
		now := d.Now()
		held := a.Doc.Pictures()
		a.Doc.Entries = nil // as far as stations go
		if err := s.DropAlbum(id, &now); err != nil {
			return err
		}
		return d.Trace(s, a.Section, "Deleted the album %s; its %s stay", a.Doc.Title, access.Count(len(held), "picture"))
	})
}

// BringBack brings a deleted album back, without what was thrown away since.
func (d *Desk) BringBack(id uint) error {
	err := d.Store.Tx(func(s store.Records) error {
		a, err := s.Album(id)
		if err != nil {
			return access.NotFound(err, "The album")
		}
		if err := d.MayWork(a.Section); err != nil {
			return err
		}
		var none *time.Time
		if err := s.DropAlbum(id, none); err != nil {
			return err
		}
		return d.Trace(s, a.Section, "Brought the album %s back", a.Doc.Title)
	})
	if err != nil {
		return err
	}
	v, err := d.Store.Album(id)
	if err == nil {
		err = d.ShowStep(id, v.Step)
	}
	if errors.Is(err, store.ErrNotFound) {
		return nil
	}
	return err
}

// EnterAlbum enters the room of an album.
func (d *Desk) EnterAlbum(id uint) (*presence.Visit, error) {
	if err := d.MayLook(); err != nil {
		return nil, err
	}
	if _, err := d.Store.Album(id); err != nil {
		return nil, access.NotFound(err, "The album")
	}
	return d.Rooms.Enter(presence.Album(id), d.Visitor()), nil
}

// AlbumVersion returns the version that an album is at.
func (d *Desk) AlbumVersion(id uint) (int, error) {
	if err := d.MayLook(); err != nil {
		return 0, err
	}
	a, err := d.Store.Album(id)
	return a.Version, access.NotFound(err, "The album")
}
