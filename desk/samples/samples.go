// Package samples is the room of what a new house tries its hand on: a page with a picture, and
// two more pictures that wait on the bench. All of it goes again in one act.
package samples

import (
	"embed"
	"errors"
	"fmt"

	"mivlet/core/page"
	"mivlet/core/words"
	"mivlet/desk/access"
	"mivlet/desk/bench"
	"mivlet/desk/deleted"
	"mivlet/desk/landing"
	"mivlet/desk/pages"
	"mivlet/desk/presence"
	"mivlet/desk/shelves"
	"mivlet/store"
)

// drawn are pictures of a made-up canoe club; all of them are rendered.
//
//go:embed pictures
var drawn embed.FS

// placed stands on the page already; waiting are for who tries.
const placed, placedAlt = "island-in-the-mist.jpg", "A red kayak drifts towards an island of dark firs in the mist"

var waiting = []string{"vests-on-hooks.jpg", "paddles-by-the-wall.jpg"}

// What the page says.
const (
	title  = "Sample page"
	before = "This page is here to try on. Click these words and write. Choose a gap between two blocks and place one of the pictures that wait on the bench, or drop a photo of yours there. Whatever you do can be undone."
	after  = "Nobody outside sees this page until you publish it. When you have seen enough, remove the samples: the page and its pictures go together."
)

// Desk is where one person brings samples in and takes them away.
type Desk struct {
	*access.Seat
	bench   *bench.Desk
	shelves *shelves.Desk
	pages   *pages.Desk
	deleted *deleted.Desk
	landing *landing.Desk
}

// New returns the desk of the house itself.
func New(s *access.Seat, b *bench.Desk, sh *shelves.Desk, p *pages.Desk, del *deleted.Desk, l *landing.Desk) *Desk {
	return &Desk{s, b, sh, p, del, l}
}

// At returns the same desk for another seat.
func (d *Desk) At(s *access.Seat) *Desk {
	return &Desk{s, d.bench.At(s), d.shelves.At(s), d.pages.At(s), d.deleted.At(s), d.landing.At(s)}
}

// There is what is there to try on.
type There struct {
	Page     uint // 0 where it was deleted
	Pictures int
}

// Any reports whether there is something.
func (t There) Any() bool { return t.Page > 0 || t.Pictures > 0 }

// Now returns what is there to try on.
func (d *Desk) Now() (There, error) {
	if err := d.MayLook(); err != nil {
		return There{}, err
	}
	all, err := d.Store.Samples()
	t := There{Pictures: len(all[store.SamplePicture])}
	if pages := all[store.SamplePage]; len(pages) > 0 {
		t.Page = pages[0]
	}
	return t, err
}

// Begin brings the samples into a section, and returns the page. Where it is there already,
// nothing else happens. What fails leaves nothing behind but the bin.
func (d *Desk) Begin(section string) (uint, error) {
	if err := d.MayWork(section); err != nil {
		return 0, err
	}
	if now, err := d.Now(); err != nil || now.Page > 0 {
		return now.Page, err
	}
	id, err := d.begin(section)
	if err != nil {
		_, bad := d.Remove()
		return 0, errors.Join(err, bad)
	}
	return id, nil
}

func (d *Desk) begin(section string) (uint, error) {
	id, err := d.pages.NewPage(section, title, "empty")
	if err != nil {
		return 0, err
	}
	if err := d.note(store.SamplePage, id); err != nil {
		return 0, err
	}
	first := page.Block{ID: access.NewBlock(), Kind: page.Text, Text: before}
	if err := d.pages.Edit(id, pages.Newest, "Words to begin with", func(doc page.Doc) (page.Doc, error) {
		last := page.Block{ID: access.NewBlock(), Kind: page.Text, Text: after}
		doc, err := doc.InsertAt(page.Gap{}, last)
		if err != nil {
			return doc, err
		}
		return doc.InsertAt(page.Gap{}, first)
	}); err != nil {
		return 0, err
	}
	file, err := drawn.Open("pictures/" + placed)
	if err != nil {
		return 0, err
	}
	defer file.Close()
	block, err := d.landing.Land(id, pages.Target{Gap: page.Behind(first.ID)}, placed, file)
	if err != nil {
		return 0, err
	}
	p, err := d.pages.OwnPage(id)
	if err != nil {
		return 0, err
	}
	for _, picture := range p.Doc.Pictures() {
		if err := d.note(store.SamplePicture, picture); err != nil {
			return 0, err
		}
	}
	if _, err := d.landing.Finish(id, landing.Place{Block: block}, placedAlt, ""); err != nil {
		return 0, err
	}
	for _, name := range waiting {
		if err := d.bring(section, name); err != nil {
			return 0, err
		}
	}
	return id, nil
}

// bring takes a picture in that waits on the bench.
func (d *Desk) bring(section, name string) error {
	file, err := drawn.Open("pictures/" + name)
	if err != nil {
		return err
	}
	defer file.Close()
	id, err := d.bench.Bring(section, page.Picture.SlotFor(d.Rules(), ""), name, file)
	if err != nil {
		return err
	}
	return d.note(store.SamplePicture, id)
}

func (d *Desk) note(kind store.SampleKind, id uint) error {
	return d.Store.Tx(func(s store.Records) error { return s.AddSample(kind, id) })
}

// Removed is what came of removing the samples.
type Removed struct {
	Pictures int
	Stay     []string // pictures that are used elsewhere, each with where
}

// Remove deletes the sample page and throws its pictures away, in one act. Both can be brought
// back. A picture that is used elsewhere by now stays: it is the house's own from then on.
func (d *Desk) Remove() (Removed, error) {
	if !d.Person.WorksSomewhere() {
		return Removed{}, d.MayWork("")
	}
	var out Removed
	var page uint
	err := d.Store.Tx(func(s store.Records) error {
		out, page = Removed{}, 0
		all, err := s.Samples()
		if err != nil {
			return err
		}
		for _, id := range all[store.SamplePage] {
			p, err := s.Page(id)
			if err != nil {
				return err
			}
			if err := d.MayWork(p.Section); err != nil {
				return err
			}
			if err := d.deleted.Drop(s, p); err != nil {
				return err
			}
			page = id
		}
		for _, id := range all[store.SamplePicture] {
			if err := d.remove(s, id, &out); err != nil {
				return err
			}
		}
		return s.ForgetSamples()
	})
	if err == nil && page > 0 {
		d.Rooms.Notify(presence.Page(page))
	}
	return out, err
}

// remove throws a sample away, unless it is used.
func (d *Desk) remove(s store.Records, id uint, out *Removed) error {
	p, err := s.Picture(id)
	if err != nil {
		return err
	}
	if err := d.MayWork(p.Section); err != nil {
		return err
	}
	uses, err := shelves.UsesOf(s, id)
	if err != nil {
		return err
	}
	if len(uses) > 0 {
		out.Stay = append(out.Stay, fmt.Sprintf("%s, which is on %s", access.NameOr(p), shelves.UseNames(uses)))
		return nil
	}
	var used *access.Refusal
	if err := shelves.OutOfUse(s, id); errors.As(err, &used) {
		out.Stay = append(out.Stay, access.NameOr(p)+". "+used.What)
		return nil
	} else if err != nil {
		return err
	}
	out.Pictures++
	return d.shelves.ToBin(s, &p)
}

// String tells what came of it.
func (r Removed) String() string {
	if len(r.Stay) == 0 {
		return fmt.Sprintf("The sample page is deleted, and %s thrown away.", access.Count(r.Pictures, "picture"))
	}
	return fmt.Sprintf("The sample page is deleted. Some pictures stay: %s.", words.Listed(r.Stay))
}
