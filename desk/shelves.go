package desk

import (
	"slices"
	"strings"

	"mivlet/core/facts"
	"mivlet/core/naming"
	"mivlet/core/rules"
	"mivlet/store"
)

// folderName writes one part of a folder's path as addresses have it.
func folderName(s string) string {
	return strings.Join(naming.Convention{Case: naming.Lower, Joiner: "-"}.Words(s), "-")
}

// ShelfView is what the shelves hold of what was asked for.
type ShelfView struct {
	Query    store.ShelfQuery
	Pictures []store.Picture
	All      int64 // without the limits of one screen
	Folders  []store.FolderCount
	People   []string
}

// ShelfPage is how many pictures a screen of shelves holds.
const ShelfPage = 60

// Shelves returns the pictures of the shelves that a query wants. All sections'
// shelves can be looked at.
func (d *Desk) Shelves(q store.ShelfQuery) (ShelfView, error) {
	if err := d.mayLook(); err != nil {
		return ShelfView{}, err
	}
	q.Now = d.now()
	if q.Most <= 0 || q.Most > 500 {
		q.Most = ShelfPage
	}
	v := ShelfView{Query: q}
	var err error
	if v.Pictures, v.All, err = d.store.Shelf(q); err != nil {
		return v, err
	}
	if v.Folders, err = d.store.Folders(); err != nil {
		return v, err
	}
	v.People, err = d.store.Brought()
	return v, err
}

// PictureCard is all there is to know of a picture.
type PictureCard struct {
	Item
	Section  rules.Section
	Pages    []store.Page
	Variants []store.Picture
	Cuts     []store.Cut
	Slots    map[string]string // title of the slot that a cut was made for, by its key
	Steps    []store.Step
	Tags     []string
	Former   []string
	CanWork  bool
	Today    string // 2006-01-02
}

// PictureCard returns the card of a picture. What its original shows and how it came to
// be is for its section's own people.
func (d *Desk) PictureCard(id uint) (PictureCard, error) {
	p, err := d.visible(id)
	if err != nil {
		return PictureCard{}, err
	}
	c := PictureCard{Item: d.item(p), CanWork: d.who.CanWork(p.Section), Today: d.today(), Slots: map[string]string{}}
	c.Section, _ = d.Rules().Section(p.Section)
	for _, slot := range d.Rules().Slots {
		c.Slots[d.cutKey(p, slot)] = slot.Title
	}
	if c.Pages, err = d.store.PagesWith(id); err != nil {
		return c, err
	}
	if c.Tags, err = d.store.Tags(id); err != nil {
		return c, err
	}
	if c.Former, err = d.store.FormerNames(id); err != nil {
		return c, err
	}
	if c.Cuts, err = d.currentCuts(p, c.Slots); err != nil {
		return c, err
	}
	same, err := d.store.PicturesByOriginal(p.OriginalHash)
	if err != nil {
		return c, err
	}
	for _, o := range same {
		if o.ID != id && o.Station != store.Bin && d.sees(o) && (o.VariantOf == id || p.VariantOf == o.ID || o.VariantOf != 0 && o.VariantOf == p.VariantOf) {
			c.Variants = append(c.Variants, o)
		}
	}
	if c.CanWork {
		c.Steps, err = d.store.Steps(id)
	}
	return c, err
}

// OpenOriginal opens the untouched original of a picture, for its section's own people.
// Who took it along is in the trail: it shows what veils hide.
func (d *Desk) OpenOriginal(id uint) (f Shown, name string, err error) {
	p, err := d.mine(d.store, id)
	if err != nil {
		return f, "", err
	}
	if f, err = d.open(p.OriginalHash); err != nil {
		return f, "", err
	}
	if err := d.tracePicture(d.store, p, "Took the original of %s along", nameOr(p)); err != nil {
		f.Close()
		return Shown{}, "", err
	}
	return f, attachedName(p.OriginalName, facts.Extension(p.Facts.MediaType)), nil
}

// currentCuts are the cuts that show a picture as it is now.
func (d *Desk) currentCuts(p store.Picture, slots map[string]string) ([]store.Cut, error) {
	all, err := d.store.AllCuts(p.ID)
	return slices.DeleteFunc(all, func(c store.Cut) bool { return slots[c.Key] == "" }), err
}

// item is a picture with what keeps it from going live.
func (d *Desk) item(p store.Picture) Item { return Item{p, stopsOf(d, p)} }

// Move puts pictures into a folder of their own section's shelf.
func (d *Desk) Move(ids []uint, folder string) error {
	if err := d.mayLook(); err != nil {
		return err
	}
	folder, err := cleanFolder(folder)
	if err != nil {
		return err
	}
	return d.each(ids, func(s *store.Store, p *store.Picture) error {
		if folder != "" {
			if err := s.AddFolder(p.Section, folder); err != nil {
				return err
			}
		}
		if p.Folder == folder {
			return nil
		}
		from := p.Folder
		p.Folder = folder
		if err := s.SavePicture(p); err != nil {
			return err
		}
		return d.tracePicture(s, *p, "Moved %s from /%s to /%s", nameOr(*p), from, folder)
	})
}

// Tag takes tags off several pictures and adds others, all or none. One that is
// both taken and added stays.
func (d *Desk) Tag(ids []uint, add, take []string) error {
	if err := d.mayLook(); err != nil {
		return err
	}
	add, take = cleanTags(add), cleanTags(take)
	return d.each(ids, func(s *store.Store, p *store.Picture) error {
		tags, err := s.Tags(p.ID)
		if err != nil {
			return err
		}
		tags = append(slices.DeleteFunc(tags, func(t string) bool { return slices.Contains(take, t) }), add...)
		if err := s.SetTags(p.ID, tags); err != nil {
			return err
		}
		return d.tracePicture(s, *p, "Tagged %s: %s", nameOr(*p), strings.Join(tags, ", "))
	})
}

func cleanTags(tags []string) []string {
	var out []string
	for _, t := range tags {
		t = strings.ToLower(strings.Join(strings.Fields(t), " "))
		if t != "" && len(t) <= 40 && !slices.Contains(out, t) {
			out = append(out, t)
		}
	}
	return out
}

// each does an act on several pictures that whoever is at the desk works on: all
// of them, or none.
func (d *Desk) each(ids []uint, act func(*store.Store, *store.Picture) error) error {
	if len(ids) == 0 {
		return refuse(Bad, "No picture is chosen.", "Tick some first.")
	}
	return d.store.Tx(func(s *store.Store) error {
		for _, id := range ids {
			p, err := d.mine(s, id)
			if err != nil {
				return err
			}
			if err := act(s, &p); err != nil {
				return err
			}
		}
		return nil
	})
}

// AddFolder makes a folder on a section's shelf.
func (d *Desk) AddFolder(section, folder string) error {
	if err := d.mayWork(section); err != nil {
		return err
	}
	folder, err := cleanFolder(folder)
	if err != nil || folder == "" {
		return err
	}
	return d.store.Tx(func(s *store.Store) error {
		if err := s.AddFolder(section, folder); err != nil {
			return err
		}
		return d.trace(s, section, "Made the folder /%s", folder)
	})
}

// DropFolder takes an empty folder off a section's shelf.
func (d *Desk) DropFolder(section, folder string) error {
	if err := d.mayWork(section); err != nil {
		return err
	}
	return d.store.Tx(func(s *store.Store) error {
		empty, err := s.DropFolder(section, folder)
		if err != nil {
			return err
		}
		if !empty {
			return refuse(Clash, "The folder still holds pictures.", "Move them first.")
		}
		return d.trace(s, section, "Took the folder /%s away", folder)
	})
}

// NewVariant makes another picture of the same original, with its own recipe and
// name, and returns its number.
func (d *Desk) NewVariant(id uint) (uint, error) {
	if err := d.mayLook(); err != nil {
		return 0, err
	}
	var made uint
	err := d.store.Tx(func(s *store.Store) error {
		p, err := d.mine(s, id)
		if err != nil {
			return err
		}
		v := p
		v.ID, v.VariantOf, v.Station, v.Step, v.Heavy = 0, p.ID, store.Bench, 0, false
		if p.VariantOf != 0 {
			v.VariantOf = p.VariantOf
		}
		v.Work.Name = "" // a name of its own
		v.CreatedAt, v.UpdatedAt, v.Person = d.now(), d.now(), d.who.Name
		if err := s.AddPicture(&v); err != nil {
			return err
		}
		made = v.ID
		return d.tracePicture(s, v, "Made a variant of %s", nameOr(p))
	})
	return made, err
}
