package rounds

import (
	"cmp"
	"errors"
	"path"
	"strings"
	"time"

	"mivlet/core/site"
	"mivlet/desk/access"
	"mivlet/store"
)

// Place is a site that rounds are gone through.
type Place struct {
	ID      uint // 0 for the house's own
	Title   string
	Address string
	Last    *store.Round  // nil where none was gone yet
	Before  []store.Round // all that looked through it, the oldest first
	Open    []Thing       // nobody has decided about it
	Left    []Thing       // somebody decided that it stays
	Going   uint          // the job that looks through it now; 0 for none
}

// Thing is something that is wrong.
type Thing struct {
	store.Found
	Page      uint   // of the house's pages, that it is on; 0 where it is on none
	PageTitle string // of that
	MayDecide bool
}

// View is what rounds found.
type View struct {
	Places []Place
	MayGo  bool
}

// View returns what rounds found, and what was decided about it.
func (d *Desk) View() (v View, err error) {
	if err := d.MayLook(); err != nil {
		return v, err
	}
	v.MayGo = d.publishesSomewhere()
	v.Places = []Place{{Title: "The site", Address: d.Site}}
	elsewhere, err := d.elsewhere()
	if err != nil {
		return v, err
	}
	for _, e := range elsewhere {
		v.Places = append(v.Places, Place{ID: e.ID, Title: e.Title, Address: e.Base})
	}
	found, err := d.Store.AllFound()
	if err != nil {
		return v, err
	}
	titles, err := d.Store.PageTitles(0)
	if err != nil {
		return v, err
	}
	pages := map[string]store.PageTitle{}
	for _, t := range titles {
		if t.Live {
			pages[site.PageFile(store.Page{Section: t.Section, Slug: t.Slug}.Path())] = t
		}
	}
	for i := range v.Places {
		if err := d.fill(&v.Places[i], found, pages); err != nil {
			return v, err
		}
	}
	return v, nil
}

func (d *Desk) fill(p *Place, found []store.Found, pages map[string]store.PageTitle) error {
	rounds, err := d.Store.Rounds(p.ID)
	if err != nil {
		return err
	}
	for i, r := range rounds {
		if r.Fault == "" {
			p.Before = append(p.Before, r)
		}
		if i == len(rounds)-1 {
			p.Last = &rounds[i]
		}
	}
	for _, f := range found {
		if f.Place != p.ID {
			continue
		}
		t := Thing{Found: f, MayDecide: d.mayDecide(f)}
		if on, ok := pages[pathOf(f.Finding.Page)]; ok {
			t.Page, t.PageTitle = on.ID, cmp.Or(on.Title, on.Slug)
		}
		if f.LeftAt != nil {
			p.Left = append(p.Left, t)
		} else {
			p.Open = append(p.Open, t)
		}
	}
	p.Going, err = d.going.Going(d.jobs, aboutPlace(p.ID))
	return err
}

// pathOf is the file of a page, however its server names it.
func pathOf(file string) string {
	if base := path.Base(file); base != "index.html" && path.Ext(base) == ".html" {
		return strings.TrimSuffix(file, ".html") + "/index.html"
	}
	return file
}

// mayDecide lets those decide about a finding who publish for its section; where it is on no page of one, keepers.
func (d *Desk) mayDecide(f store.Found) bool { return d.Person.CanPublish(f.Section) }

// Leave decides that findings stay as they are.
func (d *Desk) Leave(ids []uint) error {
	at := d.Now()
	return d.decide(ids, d.Person.Name, &at, "Left %s of what is live as it is")
}

// TakeUp takes that decision back.
func (d *Desk) TakeUp(ids []uint) error {
	return d.decide(ids, "", nil, "Took up %s of what is live again")
}

func (d *Desk) decide(ids []uint, by string, at *time.Time, what string) error {
	if err := d.mayGo(); err != nil {
		return err
	}
	if len(ids) == 0 {
		return access.Refuse(access.Bad, "Nothing is chosen.", "Choose what you want to decide about.")
	}
	return d.Store.Tx(func(s store.Records) error {
		found, err := s.AllFound()
		if err != nil {
			return err
		}
		known := map[uint]store.Found{}
		for _, f := range found {
			known[f.ID] = f
		}
		for _, id := range ids {
			f, there := known[id]
			if !there {
				return access.NotFound(store.ErrNotFound, "That finding")
			}
			if !d.mayDecide(f) {
				if f.Section == "" {
					return access.Refuse(access.Forbidden, "Only keepers can decide about this.", "Ask a keeper.")
				}
				return d.MayPublish(f.Section)
			}
		}
		return errors.Join(s.LeaveFound(ids, by, at), d.Trace(s, "", what, access.Count(len(ids), "finding")))
	})
}
