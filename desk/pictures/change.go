package pictures

import (
	"reflect"

	"mivlet/desk/access"
	"mivlet/desk/presence"
	"mivlet/store"
)

// Change does one act on a picture as one step of its history. An act that
// changes nothing leaves no step.
func (d *Desk) Change(id uint, act func(*store.Picture) (string, error)) error {
	return d.ChangeIn(id, func(_ store.Records, p *store.Picture) (string, error) { return act(p) })
}

// ChangeIn is change for an act that reads other records of the same moment.
func (d *Desk) ChangeIn(id uint, act func(store.Records, *store.Picture) (string, error)) error {
	return d.Stirring(id, func(s store.Records) error {
		p, err := d.Mine(s, id)
		if err != nil {
			return err
		}
		before := p.Work
		text, err := act(s, &p)
		if err != nil {
			return err
		}
		if Same(before, p.Work) {
			return nil
		}
		return d.KeepStep(s, &p, text)
	})
}

// KeepStep keeps a picture as a further step of its history.
func (d *Desk) KeepStep(s store.Records, p *store.Picture, text string) error {
	p.Soft = Softness(d, *p) != ""
	if err := s.AddStep(p, text, d.Person.Name, d.Now()); err != nil {
		return err
	}
	return d.TracePicture(s, *p, "%s: %s", access.NameOr(*p), text)
}

// Stirring does an act on a picture as one transaction, and then tells those who
// have it open.
func (d *Desk) Stirring(id uint, act func(store.Records) error) error {
	err := d.Store.Tx(act)
	if err == nil {
		d.Rooms.Notify(presence.Picture(id))
	}
	return err
}

// Same reports whether two states of the work are the same.
func Same(a, b store.Work) bool { return reflect.DeepEqual(a, b) }
