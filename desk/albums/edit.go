package albums

import (
	"fmt"
	"reflect"
	"slices"
	"strings"

	"mivlet/core/album"
	"mivlet/core/words"
	"mivlet/desk/access"
	"mivlet/desk/pages"
	"mivlet/desk/pictures"
	"mivlet/desk/presence"
	"mivlet/desk/snapshot"
	"mivlet/store"
)

// The longest title of an album, and the longest caption in one, in characters.
const (
	mostTitle   = 120
	mostCaption = 300
)

func cleanTitle(title string) (string, error) {
	title = words.VisibleLine(title, mostTitle)
	if title == "" {
		return "", access.Refuse(access.Bad, "An album needs a title.", "Write a few words, such as “Autumn regatta”.")
	}
	return title, nil
}

// Begin begins an album of a section with some pictures.
func (d *Desk) Begin(section, title string, chosen []uint) (uint, error) {
	if err := d.MayWork(section); err != nil {
		return 0, err
	}
	if _, ok := d.Rules().Section(section); !ok {
		return 0, access.Refuse(access.Bad, "There is no such section.", "Choose one from the list.")
	}
	title, err := cleanTitle(title)
	if err != nil {
		return 0, err
	}
	var id uint
	err = d.Store.Tx(func(s store.Records) error {
		id, err = d.begin(s, section, album.Album{Version: album.Version, Title: title}.Add(chosen...), chosen)
		return err
	})
	return id, err
}

// begin keeps a new album of a section.
func (d *Desk) begin(s store.Records, section string, doc album.Album, chosen []uint) (uint, error) {
	if err := d.checked(doc); err != nil {
		return 0, err
	}
	if err := d.taken(s, chosen); err != nil {
		return 0, err
	}
	a := store.Album{Section: section, Doc: doc, UpdatedAt: d.Now()}
	if err := s.AddAlbum(&a); err != nil {
		return 0, err
	}
	if err := pages.Restation(s, doc.Pictures()); err != nil {
		return 0, err
	}
	return a.ID, d.Trace(s, section, "Began the album %s with %s", doc.Title, access.Count(len(doc.Entries), "picture"))
}

// checked refuses what is no album in words for editors.
func (d *Desk) checked(a album.Album) error {
	if len(a.Entries) > album.Most {
		return access.Refuse(access.Bad, fmt.Sprintf("An album holds up to %d pictures.", album.Most), "Make two albums of them.")
	}
	if err := a.Check(); err != nil {
		return access.Because(access.Bad, "The album cannot be like that.", "Nothing was changed.", err)
	}
	return nil
}

// taken refuses pictures that cannot be in an album.
func (d *Desk) taken(s store.Records, ids []uint) error {
	found, err := s.PicturesIn(ids)
	if err != nil {
		return err
	}
	for _, id := range ids {
		p, ok := found[id]
		if !ok || !d.Sees(p) {
			return access.Refuse(access.Missing, "A picture that you chose is not there any more.", "Look again.")
		}
		if err := pages.Placeable(p); err != nil {
			return err
		}
	}
	return nil
}

// edit changes an album as one step, for those who work for its section. Whatever was changed
// by others meanwhile stays.
func (d *Desk) edit(id uint, text string, act func(store.Records, album.Album) (album.Album, error)) error {
	return d.on(id, func(s store.Records, a *store.Album) error {
		doc, err := act(s, a.Doc)
		if err != nil || reflect.DeepEqual(doc, a.Doc) {
			return err
		}
		if err := d.checked(doc); err != nil {
			return err
		}
		a.Doc = doc
		if err := s.AddAlbumStep(a, text, d.Person.Name, d.Now()); err != nil {
			return err
		}
		return d.Trace(s, a.Section, "Album %s: %s", a.Doc.Title, text)
	})
}

// on does something to an album in a transaction, and keeps its pictures' stations true.
func (d *Desk) on(id uint, do func(store.Records, *store.Album) error) error {
	err := d.Store.Tx(func(s store.Records) error {
		a, err := s.Album(id)
		if err != nil {
			return access.NotFound(err, "The album")
		}
		if err := d.MayWork(a.Section); err != nil {
			return err
		}
		if a.Dropped() {
			return access.Refuse(access.Bad, "The album was deleted.", "Bring it back first.")
		}
		before := a.Doc.Pictures()
		if err := do(s, &a); err != nil {
			return err
		}
		return pages.Restation(s, pages.InOne(before, a.Doc.Pictures()))
	})
	if err == nil {
		d.Rooms.Notify(presence.Album(id))
	}
	return err
}

// Add puts pictures at the end of an album; those that are in it already stay where they are.
func (d *Desk) Add(id uint, chosen ...uint) error {
	return d.edit(id, "Added "+access.Count(len(chosen), "picture"), func(s store.Records, a album.Album) (album.Album, error) {
		return a.Add(chosen...), d.taken(s, chosen)
	})
}

// TakeOut takes pictures out of an album. They stay on their shelves; one step back puts them
// in again.
func (d *Desk) TakeOut(id uint, chosen ...uint) error {
	return d.edit(id, "Took out "+access.Count(len(chosen), "picture"), func(_ store.Records, a album.Album) (album.Album, error) { return a.TakeOut(chosen...), nil })
}

// Move moves a picture by a number of places. An album that is sorted by something else is
// kept as it stands first, and is in order by hand from then on.
func (d *Desk) Move(id, picture uint, by int) error {
	return d.byHand(id, "Moved a picture", func(a album.Album) album.Album { return a.Move(picture, by) })
}

// MoveTo puts pictures before another one, or with 0 at the end; see [Desk.Move].
func (d *Desk) MoveTo(id uint, chosen []uint, before uint) error {
	return d.byHand(id, "Moved "+access.Count(len(chosen), "picture"), func(a album.Album) album.Album { return a.MoveTo(chosen, before) })
}

func (d *Desk) byHand(id uint, text string, act func(album.Album) album.Album) error {
	return d.edit(id, text, func(s store.Records, a album.Album) (album.Album, error) {
		if a.Order == album.ByTaken || a.Order == album.ByName {
			known, err := s.PicturesIn(a.Pictures())
			if err != nil {
				return a, err
			}
			a = snapshot.Sorted(a, known)
		}
		if a.Order != album.Shuffled {
			a.Order = album.ByHand
		}
		return act(a), nil
	})
}

// SetOrder sorts an album, or shuffles it for each visit.
func (d *Desk) SetOrder(id uint, order album.Order) error {
	return d.edit(id, "Another order", func(_ store.Records, a album.Album) (album.Album, error) {
		a.Order = order
		return a, nil
	})
}

// SetLead chooses the picture that stands for an album.
func (d *Desk) SetLead(id, picture uint) error {
	return d.edit(id, "Another lead picture", func(_ store.Records, a album.Album) (album.Album, error) {
		a.Lead = picture
		return a, nil
	})
}

// SetTitle gives an album another title.
func (d *Desk) SetTitle(id uint, title string) error {
	title, err := cleanTitle(title)
	if err != nil {
		return err
	}
	return d.edit(id, "Another title", func(_ store.Records, a album.Album) (album.Album, error) {
		a.Title = title
		return a, nil
	})
}

// SetRule says which pictures an album looks for.
func (d *Desk) SetRule(id uint, rule album.Rule) error {
	rule.Tag = strings.ToLower(words.VisibleLine(rule.Tag, mostTitle))
	if rule.Tag == "" {
		rule = album.Rule{} // a year alone would be the whole shelf
	}
	return d.edit(id, "Another rule", func(_ store.Records, a album.Album) (album.Album, error) {
		a.Rule = rule
		return a, nil
	})
}

// SetCaption gives a picture another caption in the album. was is the caption that whoever
// writes saw: where somebody else has written another meanwhile, theirs is kept.
func (d *Desk) SetCaption(id, picture uint, was, caption string) error {
	caption = words.VisibleLine(caption, mostCaption)
	return d.edit(id, "Another caption", func(_ store.Records, a album.Album) (album.Album, error) {
		i := slices.IndexFunc(a.Entries, func(e album.Entry) bool { return e.Picture == picture })
		if i < 0 {
			return a, access.Refuse(access.Missing, "The picture is not in the album any more.", "Nothing was changed.")
		}
		if now := a.Entries[i].Caption; now != was && now != caption {
			return a, access.Refuse(access.Clash, fmt.Sprintf("Somebody else has written another caption: “%s”.", now), "Yours was not kept. Write it again if you still want it.")
		}
		return a.Captioned(picture, caption), nil
	})
}

// Describe writes the description of a picture in an album, as its editor saw it at a step of
// its history, and leaves its other words alone.
func (d *Desk) Describe(id, picture uint, seen int, alt string) error {
	a, err := d.own(id)
	if err != nil {
		return err
	}
	if !a.Doc.Has(picture) {
		return access.Refuse(access.Missing, "The picture is not in the album any more.", "Nothing was changed.")
	}
	p, err := d.Store.Picture(picture)
	if err != nil {
		return access.NotFound(err, "The picture")
	}
	w := pictures.WordsOf(p)
	w.Alt, w.Decorative = alt, w.Decorative && strings.TrimSpace(alt) == ""
	return d.pictures.SetWords(picture, seen, w)
}
