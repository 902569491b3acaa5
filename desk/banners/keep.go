package banners

import (
	"mivlet/desk/access"
	"mivlet/desk/pages"
	"mivlet/store"
)

// ShowStep shows a step of a banner's history: undo and redo. A picture that was thrown away or
// erased since does not come back with it.
func (d *Desk) ShowStep(id uint, seq int) error {
	return d.on(id, func(s store.Records, b *store.Banner) error {
		if err := s.ShowBannerStep(b, seq, d.Now()); err != nil {
			return access.NotFound(err, "That step")
		}
		return d.withoutGone(s, b)
	})
}

// withoutGone takes a picture off a banner that was thrown away or erased since.
func (d *Desk) withoutGone(s store.Records, b *store.Banner) error {
	if b.Doc.Picture == 0 {
		return nil
	}
	there, err := s.StandingOf([]uint{b.Doc.Picture})
	if err != nil {
		return err
	}
	if now, ok := there[b.Doc.Picture]; ok && now.Station != store.Bin {
		return nil
	}
	b.Doc.Picture = 0
	return s.AddBannerStep(b, "As before, without the picture that was thrown away", d.Person.Name, d.Now())
}

// Drop deletes a banner, and takes it off the air. Its picture stays; [Desk.BringBack] brings
// it back, stopped.
func (d *Desk) Drop(id uint) error {
	b, err := d.own(id)
	if err != nil {
		return err
	}
	return d.Store.Tx(func(s store.Records) error {
		now := d.Now()
		if err := s.DropBanner(id, &now); err != nil {
			return err
		}
		if err := s.StopBanner(id, b.Live != nil); err != nil {
			return err
		}
		if err := pages.Restation(s, picturesOf(b)); err != nil {
			return err
		}
		return d.Trace(s, b.Section, "Deleted the banner %s; its picture stays", b.Doc.Title)
	})
}

// BringBack brings a deleted banner back. One that was live is stopped: whether it shows again
// is a publisher's to say.
func (d *Desk) BringBack(id uint) error {
	if _, err := d.own(id); err != nil {
		return err
	}
	return d.Store.Tx(func(s store.Records) error {
		if err := s.DropBanner(id, nil); err != nil {
			return err
		}
		b, err := s.Banner(id)
		if err != nil {
			return access.NotFound(err, "The banner")
		}
		if err := d.withoutGone(s, &b); err != nil {
			return err
		}
		if err := pages.Restation(s, picturesOf(b)); err != nil {
			return err
		}
		return d.Trace(s, b.Section, "Brought the banner %s back", b.Doc.Title)
	})
}

// SaveOccasion keeps a named period in which banners may run; one without a number is new.
// Whoever publishes somewhere may: what it opens and closes is shown to visitors.
func (d *Desk) SaveOccasion(o store.Occasion) error {
	if err := d.mayTime(); err != nil {
		return err
	}
	known := o.Known()
	if err := known.Check(); err != nil {
		return access.Because(access.Bad, access.Sentence(err), "Nothing was changed.", err)
	}
	return d.Store.Tx(func(s store.Records) error {
		if o.ID != 0 {
			if _, err := occasion(s, o.ID); err != nil {
				return err
			}
		}
		o.UpdatedAt = d.Now()
		if err := s.SaveOccasion(&o); err != nil {
			return err
		}
		return d.Trace(s, "", "The occasion %s goes from %s to %s", o.Title, o.FromDay, o.Until)
	})
}

// DropOccasion takes an occasion out in which no banner runs.
func (d *Desk) DropOccasion(id uint) error {
	if err := d.mayTime(); err != nil {
		return err
	}
	return d.Store.Tx(func(s store.Records) error {
		o, err := occasion(s, id)
		if err != nil {
			return err
		}
		all, err := s.Banners(false)
		if err != nil {
			return err
		}
		for _, b := range all {
			if b.Doc.Occasion == id || b.Live != nil && b.Live.Occasion == id {
				return access.Refuse(access.Clash, "The banner “"+b.Doc.Title+"” runs in it.", "Choose another occasion there first, and approve it.")
			}
		}
		if err := s.DropOccasion(id); err != nil {
			return err
		}
		return d.Trace(s, "", "Took out the occasion %s, from %s to %s", o.Title, o.FromDay, o.Until)
	})
}

// mayTime refuses those who publish nowhere.
func (d *Desk) mayTime() error {
	if err := d.MayLook(); err != nil {
		return err
	}
	for _, s := range d.Rules().Sections {
		if d.Person.CanPublish(s.Code) {
			return nil
		}
	}
	return access.Refuse(access.Forbidden, "Only publishers can change occasions.", "Ask a publisher of your section.")
}

// occasion is the one with a number.
func occasion(s store.Records, id uint) (store.Occasion, error) {
	all, err := s.Occasions()
	if err != nil {
		return store.Occasion{}, err
	}
	for _, o := range all {
		if o.ID == id {
			return o, nil
		}
	}
	return store.Occasion{}, access.NotFound(store.ErrNotFound, "The occasion")
}
