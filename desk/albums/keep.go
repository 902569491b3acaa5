package albums

import (
	"fmt"

	"mivlet/core/words"
	"mivlet/desk/access"
	"mivlet/desk/pages"
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
		return d.withoutGone(s, a)
	})
}

// withoutGone takes out of an album what was thrown away or erased since.
func (d *Desk) withoutGone(s store.Records, a *store.Album) error {
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
	return d.Store.Tx(func(s store.Records) error {
		a, err := s.Album(id)
		if err != nil {
			return access.NotFound(err, "The album")
		}
		if err := d.MayWork(a.Section); err != nil {
			return err
		}
		a.DroppedAt = nil
		if err := s.DropAlbum(id, nil); err != nil {
			return err
		}
		if err := d.withoutGone(s, &a); err != nil {
			return err
		}
		if err := pages.Restation(s, a.Doc.Pictures()); err != nil {
			return err
		}
		return d.Trace(s, a.Section, "Brought the album %s back", a.Doc.Title)
	})
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

// Album returns an album as it is kept.
func (d *Desk) Album(id uint) (store.Album, error) {
	if err := d.MayLook(); err != nil {
		return store.Album{}, err
	}
	a, err := d.Store.Album(id)
	return a, access.NotFound(err, "The album")
}
