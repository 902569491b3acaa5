package albums

import (
	"errors"
	"fmt"
	"reflect"
	"slices"
	"strings"
	"time"

	"mivlet/core/album"
	"mivlet/core/steps"
	"mivlet/core/words"
	"mivlet/desk/access"
	"mivlet/desk/pages"
	"mivlet/desk/pictures"
	"mivlet/desk/presence"
	"mivlet/desk/snapshot"
	"mivlet/store"
)

// Use is a page that shows an album.
type Use struct {
	store.Page
	OnDraft bool
	OnLive  bool
}

// Due reports whether visitors see the album otherwise than it is now, so that the page wants
// publishing again.
func (u Use) Due() bool { return u.Live() && u.Differs }

// Line is an album in the list of all.
type Line struct {
	store.Album
	Lead *store.Picture // that stands for it; nil where it is empty
	Uses []Use
}

// All returns all albums, or the deleted ones, with the pages that show them.
func (d *Desk) All(dropped bool) ([]Line, error) {
	if err := d.MayLook(); err != nil {
		return nil, err
	}
	if err := d.snapshot.Settle(false); err != nil {
		return nil, err
	}
	all, err := d.Store.Albums(dropped)
	if err != nil {
		return nil, err
	}
	var leads []uint
	for _, a := range all {
		leads = append(leads, a.Doc.LeadPicture())
	}
	known, err := d.Store.PicturesIn(leads)
	if err != nil {
		return nil, err
	}
	showing, err := d.Store.AlbumPages()
	if err != nil {
		return nil, err
	}
	lines := make([]Line, len(all))
	for i, a := range all {
		lines[i] = Line{Album: a, Uses: usesOf(showing[a.ID])}
		if p, ok := known[leads[i]]; ok {
			lines[i].Lead = &p
		}
	}
	return lines, nil
}

func usesOf(pages []store.AlbumPage) []Use {
	uses := make([]Use, len(pages))
	for i, p := range pages {
		uses[i] = Use{p.Page, p.OnDraft, p.OnLive}
	}
	return uses
}

// Item is a picture in an album.
type Item struct {
	store.Picture
	Caption string // in the album
	Lead    bool
	Lacks   []string // what keeps it from going live, by the codes of its findings
}

// View is an album on its screen.
type View struct {
	store.Album
	Items    []Item // in the order that they are shown in
	Uses     []Use
	Steps    []store.AlbumStep
	Offers   []store.Picture // fit the rule and are not in it
	Findings []Finding
}

func (v View) history() steps.History[store.AlbumStep] {
	return steps.History[store.AlbumStep]{Steps: v.Steps, Shown: v.Step}
}

// Undo is the step that the shown one was made from; -1 where there is none.
func (v View) Undo() int { return v.history().Undo() }

// Redo is the newest step that was made from the shown one; -1 where there is none.
func (v View) Redo() int { return v.history().Redo() }

// Of returns an album on its screen.
func (d *Desk) Of(id uint) (View, error) {
	if err := d.MayLook(); err != nil {
		return View{}, err
	}
	if err := d.snapshot.Settle(false); err != nil {
		return View{}, err
	}
	v := View{}
	return v, d.Store.View(func(s store.Records) error {
		var err error
		if v.Album, err = s.Album(id); err != nil {
			return access.NotFound(err, "The album")
		}
		known, err := s.PicturesIn(v.Doc.Pictures())
		if err != nil {
			return err
		}
		for _, e := range snapshot.Sorted(v.Doc, known).Entries {
			if p, ok := known[e.Picture]; ok {
				v.Items = append(v.Items, Item{p, e.Caption, e.Picture == v.Doc.LeadPicture(), d.lacks(p)})
			}
		}
		if v.Steps, err = s.AlbumSteps(id); err != nil {
			return err
		}
		showing, err := s.AlbumPages(id)
		if err != nil {
			return err
		}
		v.Uses = usesOf(showing[id])
		if v.Offers, err = d.offers(s, v.Doc); err != nil {
			return err
		}
		v.Findings, err = d.findings(s, v)
		return err
	})
}

// offers are the pictures that fit an album's rule and are not in it.
func (d *Desk) offers(s store.Records, a album.Album) ([]store.Picture, error) {
	if a.Rule == (album.Rule{}) {
		return nil, nil
	}
	found, _, err := s.Shelf(store.ShelfQuery{Tag: a.Rule.Tag, Sort: store.ByTaken, Most: album.Most, Now: d.Now()})
	if err != nil {
		return nil, err
	}
	found = slices.DeleteFunc(found, func(p store.Picture) bool {
		at := p.Facts.Taken
		if at.IsZero() {
			at = p.CreatedAt
		}
		return a.Rule.Year != 0 && at.Year() != a.Rule.Year || len(a.Offers([]uint{p.ID})) == 0 || !d.Sees(p)
	})
	return found, nil
}

// MostTitle is the longest title of an album, and the longest caption in one, in characters.
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
	if err := d.placeable(d.Store, chosen); err != nil {
		return 0, err
	}
	a := store.Album{Section: section, Doc: album.Album{Version: album.Version, Title: title}.Add(chosen...), UpdatedAt: d.Now()}
	if err := d.checked(a.Doc); err != nil {
		return 0, err
	}
	return a.ID, d.Store.Tx(func(s store.Records) error {
		if err := s.AddAlbum(&a); err != nil {
			return err
		}
		if err := pages.Restation(s, a.Doc.Pictures()); err != nil {
			return err
		}
		return d.Trace(s, section, "Began the album %s with %s", title, access.Count(len(a.Doc.Entries), "picture"))
	})
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

// placeable refuses pictures that cannot be in an album.
func (d *Desk) placeable(s store.Records, ids []uint) error {
	found, err := s.PicturesIn(ids)
	if err != nil {
		return err
	}
	for _, id := range ids {
		p, ok := found[id]
		switch {
		case !ok || !d.Sees(p):
			return access.Refuse(access.Missing, "A picture that you chose is not there any more.", "Look again.")
		case p.Station == store.Bin:
			return access.Refuse(access.Bad, access.NameOr(p)+" is in the bin.", "Bring it back first.")
		case p.Station == store.Arrivals:
			return access.Refuse(access.Bad, access.NameOr(p)+" has only just arrived.", "Send it to the bench first.")
		}
	}
	return nil
}

// edit changes an album as one step, for those who work for its section. Whatever was changed
// by others meanwhile stays.
func (d *Desk) edit(id uint, text string, act func(album.Album) (album.Album, error)) error {
	return d.on(id, func(s store.Records, a *store.Album) error {
		doc, err := act(a.Doc)
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
	if err := d.MayLook(); err != nil {
		return err
	}
	if err := d.placeable(d.Store, chosen); err != nil {
		return err
	}
	return d.edit(id, "Added "+access.Count(len(chosen), "picture"), func(a album.Album) (album.Album, error) { return a.Add(chosen...), nil })
}

// TakeOut takes pictures out of an album. They stay on their shelves; one step back puts them
// in again.
func (d *Desk) TakeOut(id uint, chosen ...uint) error {
	return d.edit(id, "Took out "+access.Count(len(chosen), "picture"), func(a album.Album) (album.Album, error) { return a.TakeOut(chosen...), nil })
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
	return d.edit(id, text, func(a album.Album) (album.Album, error) {
		if a.Order == album.ByTaken || a.Order == album.ByName {
			known, err := d.Store.PicturesIn(a.Pictures())
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
	return d.edit(id, "Another order", func(a album.Album) (album.Album, error) {
		a.Order = order
		return a, nil
	})
}

// SetLead chooses the picture that stands for an album.
func (d *Desk) SetLead(id, picture uint) error {
	return d.edit(id, "Another lead picture", func(a album.Album) (album.Album, error) {
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
	return d.edit(id, "Another title", func(a album.Album) (album.Album, error) {
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
	return d.edit(id, "Another rule", func(a album.Album) (album.Album, error) {
		a.Rule = rule
		return a, nil
	})
}

// SetCaption gives a picture another caption in the album. was is the caption that whoever
// writes saw: where somebody else has written another meanwhile, theirs is kept.
func (d *Desk) SetCaption(id, picture uint, was, caption string) error {
	caption = words.VisibleLine(caption, mostCaption)
	return d.edit(id, "Another caption", func(a album.Album) (album.Album, error) {
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
