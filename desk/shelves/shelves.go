package shelves

import (
	"slices"
	"strings"

	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/desk/bench"
	"mivlet/desk/derive"
	"mivlet/desk/pictures"
	"mivlet/store"
)

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
	if err := d.MayLook(); err != nil {
		return ShelfView{}, err
	}
	q.Now = d.Now()
	if q.Most <= 0 || q.Most > 500 {
		q.Most = ShelfPage
	}
	v := ShelfView{Query: q}
	var err error
	if v.Pictures, v.All, err = d.Store.Shelf(q); err != nil {
		return v, err
	}
	if v.Folders, err = d.Store.Folders(); err != nil {
		return v, err
	}
	v.People, err = d.Store.Brought()
	return v, err
}

// PictureCard is all there is to know of a picture.
type PictureCard struct {
	pictures.Item
	Section  rules.Section
	Pages    []store.Page
	Albums   []store.Album
	Banners  []store.Banner
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
	p, err := d.Visible(id)
	if err != nil {
		return PictureCard{}, err
	}
	c := PictureCard{Item: d.pictures.Item(p), CanWork: d.Person.CanWork(p.Section), Today: d.Today(), Slots: map[string]string{}}
	c.Section, _ = d.Rules().Section(p.Section)
	for _, slot := range d.Rules().Slots {
		c.Slots[d.cuts.CutKey(p, slot)] = slot.Title
	}
	if c.Pages, err = d.Store.PagesWith(id); err != nil {
		return c, err
	}
	if c.Albums, err = d.Store.AlbumsWith(id); err != nil {
		return c, err
	}
	if c.Banners, err = d.Store.BannersWith(id); err != nil {
		return c, err
	}
	if c.Tags, err = d.Store.Tags(id); err != nil {
		return c, err
	}
	if c.Former, err = d.Store.FormerNames(id); err != nil {
		return c, err
	}
	if c.Cuts, err = d.currentCuts(p, c.Slots); err != nil {
		return c, err
	}
	same, err := d.Store.PicturesByOriginal(p.OriginalHash)
	if err != nil {
		return c, err
	}
	for _, o := range same {
		if o.ID != id && o.Station != store.Bin && d.Sees(o) && (o.VariantOf == id || p.VariantOf == o.ID || o.VariantOf != 0 && o.VariantOf == p.VariantOf) {
			c.Variants = append(c.Variants, o)
		}
	}
	if c.CanWork {
		c.Steps, err = d.Store.Steps(id)
	}
	return c, err
}

// OpenOriginal opens the untouched original of a picture, for its section's own people.
// Who took it along is in the trail: it shows what veils hide.
func (d *Desk) OpenOriginal(id uint) (f derive.File, name string, err error) {
	p, err := d.Mine(d.Store, id)
	if err != nil {
		return f, "", err
	}
	if f, err = d.derive.Open(p.OriginalHash); err != nil {
		return f, "", err
	}
	if err := d.TracePicture(d.Store, p, "Downloaded the original of %s", access.NameOr(p)); err != nil {
		f.Close()
		return derive.File{}, "", err
	}
	return f, pictures.AttachedName(p.OriginalName, p.Facts.Ending()), nil
}

// currentCuts are the cuts that show a picture as it is now.
func (d *Desk) currentCuts(p store.Picture, slots map[string]string) ([]store.Cut, error) {
	all, err := d.Store.AllCuts(p.ID)
	return slices.DeleteFunc(all, func(c store.Cut) bool { return slots[c.Key] == "" }), err
}

// Move puts pictures into a folder of their own section's shelf.
func (d *Desk) Move(ids []uint, folder string) error {
	if err := d.MayLook(); err != nil {
		return err
	}
	folder, err := bench.CleanFolder(folder)
	if err != nil {
		return err
	}
	return d.each(ids, func(s store.Records, p *store.Picture) error {
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
		return d.TracePicture(s, *p, "Moved %s from /%s to /%s", access.NameOr(*p), from, folder)
	})
}

// Tag takes tags off several pictures and adds others, all or none. One that is
// both taken and added stays.
func (d *Desk) Tag(ids []uint, add, take []string) error {
	if err := d.MayLook(); err != nil {
		return err
	}
	add, take = pictures.CleanTags(add), pictures.CleanTags(take)
	return d.each(ids, func(s store.Records, p *store.Picture) error {
		tags, err := s.Tags(p.ID)
		if err != nil {
			return err
		}
		tags = append(slices.DeleteFunc(tags, func(t string) bool { return slices.Contains(take, t) }), add...)
		if err := s.SetTags(p.ID, tags); err != nil {
			return err
		}
		return d.TracePicture(s, *p, "Tagged %s: %s", access.NameOr(*p), strings.Join(tags, ", "))
	})
}

// each does an act on several pictures that whoever is at the desk works on: all
// of them, or none.
func (d *Desk) each(ids []uint, act func(store.Records, *store.Picture) error) error {
	if len(ids) == 0 {
		return access.Refuse(access.Bad, "No picture is chosen.", "Tick some first.")
	}
	return d.Store.Tx(func(s store.Records) error {
		for _, id := range ids {
			p, err := d.Mine(s, id)
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
	if err := d.MayWork(section); err != nil {
		return err
	}
	folder, err := bench.CleanFolder(folder)
	if err != nil || folder == "" {
		return err
	}
	return d.Store.Tx(func(s store.Records) error {
		if err := s.AddFolder(section, folder); err != nil {
			return err
		}
		return d.Trace(s, section, "Made the folder /%s", folder)
	})
}

// DropFolder takes an empty folder off a section's shelf.
func (d *Desk) DropFolder(section, folder string) error {
	if err := d.MayWork(section); err != nil {
		return err
	}
	return d.Store.Tx(func(s store.Records) error {
		empty, err := s.DropFolder(section, folder)
		if err != nil {
			return err
		}
		if !empty {
			return access.Refuse(access.Clash, "The folder still contains pictures.", "Move them first.")
		}
		return d.Trace(s, section, "Removed the folder /%s", folder)
	})
}

// NewVariant makes another picture of the same original, with its own recipe and
// name, and returns its number.
func (d *Desk) NewVariant(id uint) (uint, error) {
	if err := d.MayLook(); err != nil {
		return 0, err
	}
	var made uint
	err := d.Store.Tx(func(s store.Records) error {
		p, err := d.Mine(s, id)
		if err != nil {
			return err
		}
		v := p
		v.ID, v.VariantOf, v.Station, v.Step, v.Heavy = 0, p.ID, store.Bench, 0, false
		if p.VariantOf != 0 {
			v.VariantOf = p.VariantOf
		}
		v.Work.Name = "" // a name of its own
		v.CreatedAt, v.UpdatedAt, v.Person = d.Now(), d.Now(), d.Person.Name
		if err := d.RoomForPicture(s, v.Facts.Bytes); err != nil {
			return err
		}
		if err := s.AddPicture(&v); err != nil {
			return err
		}
		made = v.ID
		return d.TracePicture(s, v, "Made a variant of %s", access.NameOr(p))
	})
	return made, err
}
