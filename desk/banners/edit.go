package banners

import (
	"io"
	"reflect"
	"regexp"
	"slices"
	"strings"

	"mivlet/core/banner"
	"mivlet/core/words"
	"mivlet/desk/access"
	"mivlet/desk/pages"
	"mivlet/store"
)

// longest is the longest text of a banner, in characters.
const longest = 200

// Begin begins a banner of a section, for a spot.
func (d *Desk) Begin(section, title, spot string) (uint, error) {
	if err := d.MayWork(section); err != nil {
		return 0, err
	}
	if _, ok := d.Rules().Section(section); !ok {
		return 0, access.Refuse(access.Bad, "There is no such section.", "Choose one from the list.")
	}
	if _, ok := d.Rules().Spot(spot); !ok {
		return 0, access.Refuse(access.Bad, "There is no such spot.", "Choose one from the list. Keepers add spots under House rules.")
	}
	doc, err := cleaned(banner.Doc{Version: banner.Version, Title: title, Spot: spot})
	if err != nil {
		return 0, err
	}
	b := store.Banner{Section: section, Doc: doc, UpdatedAt: d.Now()}
	err = d.Store.Tx(func(s store.Records) error {
		if err := s.AddBanner(&b); err != nil {
			return err
		}
		return d.Trace(s, section, "Began the banner %s", doc.Title)
	})
	return b.ID, err
}

// bare is an address as people type it, without how it is fetched.
var bare = regexp.MustCompile(`^[A-Za-z0-9-]+(\.[A-Za-z0-9-]+)+(/\S*)?$`)

// cleaned is what an editor said of a banner, as it is kept.
func cleaned(doc banner.Doc) (banner.Doc, error) {
	for _, text := range []*string{&doc.Title, &doc.For, &doc.Alt} {
		*text = words.VisibleLine(*text, longest)
	}
	doc.Address = strings.TrimSpace(doc.Address)
	if bare.MatchString(doc.Address) {
		doc.Address = "https://" + doc.Address
	}
	if doc.Title == "" {
		return doc, access.Refuse(access.Bad, "A banner needs a title.", "Write a few words by which you find it again.")
	}
	for _, list := range []*[]string{&doc.Sections, &doc.Tags, &doc.Words} {
		var tidy []string
		for _, one := range *list {
			if one = words.VisibleLine(one, longest); one != "" {
				tidy = access.AddOnce(tidy, one)
			}
		}
		*list = tidy
	}
	for i, t := range doc.Tags {
		doc.Tags[i] = strings.ToLower(t)
	}
	slices.Sort(doc.Tags)
	if err := doc.Check(); err != nil {
		return doc, access.Because(access.Bad, access.Sentence(err), "Nothing was changed.", err)
	}
	return doc, nil
}

// Set changes what a banner says. seen is the version that whoever changes it saw: where
// somebody else has changed it since, theirs is kept. Its picture is changed by itself.
func (d *Desk) Set(id uint, seen int, doc banner.Doc) error {
	return d.edit(id, "Changed what it says", func(_ store.Records, b store.Banner) (banner.Doc, error) {
		if b.Version != seen {
			return doc, access.Refuse(access.Clash, "Somebody else has changed this banner.", "Look at it as it is now; what you typed was not kept.")
		}
		if _, ok := d.Rules().Spot(doc.Spot); !ok && doc.Spot != b.Doc.Spot {
			return doc, access.Refuse(access.Bad, "There is no such spot.", "Choose one from the list.")
		}
		doc.Version, doc.Picture = banner.Version, b.Doc.Picture
		return cleaned(doc)
	})
}

// SetDays moves the first and the last day of a banner; an empty one is open.
func (d *Desk) SetDays(id uint, from, until string) error {
	return d.edit(id, "Moved its days", func(_ store.Records, b store.Banner) (banner.Doc, error) {
		doc := b.Doc
		doc.From, doc.Until = from, until
		return cleaned(doc)
	})
}

// SetPicture chooses the picture of a banner; 0 is none.
func (d *Desk) SetPicture(id, picture uint) error {
	return d.edit(id, "Another picture", func(s store.Records, b store.Banner) (banner.Doc, error) {
		doc := b.Doc
		doc.Picture = picture
		if picture == 0 {
			return doc, nil
		}
		p, err := s.Picture(picture)
		if err != nil || !d.Sees(p) {
			return doc, access.Refuse(access.Missing, "That picture is not there any more.", "Choose another one.")
		}
		if doc.Alt == "" {
			doc.Alt = p.Work.Alt
		}
		return doc, pages.Placeable(p)
	})
}

// Bring takes a file in for a banner. It comes through Arrivals as any other, and to the bench,
// fitted for the spot.
func (d *Desk) Bring(id uint, name string, r io.Reader) (uint, error) {
	b, err := d.own(id)
	if err != nil {
		return 0, err
	}
	spot, ok := d.Rules().Spot(b.Doc.Spot)
	if !ok {
		return 0, access.Refuse(access.Bad, "The house does not have this spot any more.", "Choose another spot first.")
	}
	came, err := d.bench.Bring(b.Section, spot.Slot().ID, name, r)
	if err != nil {
		return 0, err
	}
	return came, d.SetPicture(id, came)
}

// edit changes a banner as one step, for those who work for its section.
func (d *Desk) edit(id uint, text string, act func(store.Records, store.Banner) (banner.Doc, error)) error {
	return d.on(id, func(s store.Records, b *store.Banner) error {
		doc, err := act(s, *b)
		if err != nil || reflect.DeepEqual(doc, b.Doc) {
			return err
		}
		b.Doc = doc
		if err := s.AddBannerStep(b, text, d.Person.Name, d.Now()); err != nil {
			return err
		}
		return d.Trace(s, b.Section, "Banner %s: %s", b.Doc.Title, text)
	})
}

// on does something to a banner in a transaction, and keeps its pictures' stations true.
func (d *Desk) on(id uint, do func(store.Records, *store.Banner) error) error {
	return d.Store.Tx(func(s store.Records) error {
		b, err := s.Banner(id)
		if err != nil {
			return access.NotFound(err, "The banner")
		}
		if err := d.MayWork(b.Section); err != nil {
			return err
		}
		if b.Dropped() {
			return access.Refuse(access.Bad, "The banner was deleted.", "Bring it back first.")
		}
		before := picturesOf(b)
		if err := do(s, &b); err != nil {
			return err
		}
		return pages.Restation(s, pages.InOne(before, picturesOf(b)))
	})
}

// picturesOf are the pictures of a banner: on its draft, and to visitors.
func picturesOf(b store.Banner) []uint {
	var all []uint
	if b.Doc.Picture != 0 {
		all = append(all, b.Doc.Picture)
	}
	if b.Live != nil && b.Live.Picture != 0 {
		all = access.AddOnce(all, b.Live.Picture)
	}
	return all
}

// own is a banner that whoever is at the desk may work on.
func (d *Desk) own(id uint) (store.Banner, error) {
	b, err := d.Banner(id)
	if err != nil {
		return b, err
	}
	return b, d.MayWork(b.Section)
}

// Banner returns a banner as it is kept.
func (d *Desk) Banner(id uint) (store.Banner, error) {
	if err := d.MayLook(); err != nil {
		return store.Banner{}, err
	}
	b, err := d.Store.Banner(id)
	return b, access.NotFound(err, "The banner")
}
