package pages

import (
	"cmp"
	"errors"
	"fmt"
	"slices"
	"strings"

	"mivlet/core/naming"
	"mivlet/core/page"
	"mivlet/core/words"
	"mivlet/desk/access"
	"mivlet/desk/lists"
	"mivlet/desk/pictures"
	"mivlet/desk/presence"
	"mivlet/store"
)

// Counts returns what waits at each station: arrivals and the bench of the sections
// that whoever is at the desk works for, the rest of the house.
func (d *Desk) Counts() (store.Counts, error) {
	if err := d.MayLook(); err != nil {
		return store.Counts{}, err
	}
	if err := d.snapshot.Settle(false); err != nil {
		return store.Counts{}, err
	}
	return d.Store.Counts(d.pictures.OwnSections())
}

// PageLine is a page in the list of the station.
type PageLine struct {
	store.Page
	By    string         // who changed it last; "" where nobody has
	Here  []string       // who has it open now
	First *store.Picture // that stands for it, or stands on it first; nil where there is none
}

// State is draft, live or changed.
func (l PageLine) State() string {
	switch {
	case !l.Live():
		return "draft"
	case l.Differs:
		return "changed"
	}
	return "live"
}

// PageLines returns all pages with how much their sign-offs find.
func (d *Desk) PageLines() ([]PageLine, error) {
	if err := d.MayLook(); err != nil {
		return nil, err
	}
	if err := d.snapshot.Settle(true); err != nil {
		return nil, err
	}
	pages, err := d.Store.Pages()
	if err != nil {
		return nil, err
	}
	last, err := d.Store.LastHands()
	if err != nil {
		return nil, err
	}
	first := make([]uint, len(pages))
	for i, p := range pages {
		for _, id := range slices.Concat(coverOf(p.Doc), p.Doc.Pictures()) {
			first[i] = cmp.Or(first[i], id)
		}
	}
	known, err := d.Store.PicturesIn(first)
	if err != nil {
		return nil, err
	}
	lines := make([]PageLine, len(pages))
	for i, p := range pages {
		lines[i] = PageLine{Page: p, By: last[p.ID], Here: d.Rooms.In(presence.Page(p.ID))}
		if pic, ok := known[first[i]]; ok && d.Sees(pic) {
			lines[i].First = &pic
		}
	}
	return lines, nil
}

// coverOf is the picture that was chosen to stand for a page; none where that follows from a
// rule.
func coverOf(doc page.Doc) []uint {
	if doc.Cover == nil {
		return nil
	}
	return []uint{doc.Cover.Picture}
}

// NewPage begins a page for a section from one of the arrangements.
func (d *Desk) NewPage(section, title, arrangement string) (uint, error) {
	if err := d.MayWork(section); err != nil {
		return 0, err
	}
	blocks, ok := page.Arranged(arrangement, access.NewBlock)
	if !ok {
		return 0, access.Refuse(access.Bad, fmt.Sprintf("There is no arrangement %q.", arrangement), "Choose one from the list.")
	}
	return d.beginPage(section, "", page.Doc{Title: title, Blocks: blocks})
}

// DuplicatePage begins a page of the same section with what another one holds.
func (d *Desk) DuplicatePage(id uint) (uint, error) {
	p, err := d.OwnPage(id)
	if err != nil {
		return 0, err
	}
	title := p.Doc.Title + ", again"
	for n := 2; ; n++ {
		copied := p.Doc
		copied.Title = title
		new, err := d.beginPage(p.Section, "", copied)
		if r, ok := err.(*access.Refusal); !ok || r.Kind != access.Clash || n > 50 {
			return new, err
		}
		title = fmt.Sprintf("%s, again %d", p.Doc.Title, n)
	}
}

// beginPage begins a page with a document. Its address follows from its title where no slug
// is given.
func (d *Desk) beginPage(section, slug string, doc page.Doc) (uint, error) {
	title, usual, err := address(doc.Title, "")
	if err != nil {
		return 0, err
	}
	doc.Version, doc.Title = page.Version, title
	return d.Add(store.Page{Section: section, Slug: cmp.Or(slug, usual), Doc: doc})
}

// Add keeps a new page, for those who have asked already whether they may.
func (d *Desk) Add(p store.Page) (uint, error) {
	p.Version, p.UpdatedAt = 1, d.Now()
	section, slug, title := p.Section, p.Slug, p.Doc.Title
	err := d.Store.Tx(func(s store.Records) error {
		if err := d.FreeAddress(s, section, slug, 0); err != nil {
			return err
		}
		if err := s.AddPage(&p); err != nil {
			return err
		}
		if err := Restation(s, p.Doc.Pictures()); err != nil {
			return err
		}
		return d.Trace(s, section, "Began the page %s", title)
	})
	return p.ID, err
}

// address makes title and slug fit for an address.
func address(title, slug string) (string, string, error) {
	title = strings.Join(strings.Fields(words.Visible(title)), " ")
	if title == "" || len([]rune(title)) > 120 {
		return "", "", access.Refuse(access.Bad, "A title has 1 to 120 characters.", "Say in a few words what the page is about.")
	}
	if strings.TrimSpace(slug) == "" {
		slug = title
	}
	if slug = pictures.FolderName(slug); slug == "" {
		return "", "", access.Refuse(access.Bad, "That cannot become an address.", "Use letters or digits.")
	}
	if naming.Reserved(slug) {
		slug += "-page" // no file of the bare name could be kept on some systems
	}
	if lists.Reserved(slug) {
		slug = "page-" + slug
	}
	return title, slug, nil
}

// FreeAddress refuses an address that another page has.
func (d *Desk) FreeAddress(s store.Records, section, slug string, but uint) error {
	other, err := s.PageAt(section, slug)
	switch {
	case errors.Is(err, store.ErrNotFound):
		return nil
	case err != nil:
		return err
	case other.ID == but:
		return nil
	}
	return access.Refuse(access.Clash, fmt.Sprintf("%s has that address already.", other.Doc.Title), "Give it another title, or another address.")
}

// RenamePage gives a page another title and address. Visitors who have the old
// address are led to the new one.
func (d *Desk) RenamePage(id uint, title, slug string) error {
	title, slug, err := address(title, slug)
	if err != nil {
		return err
	}
	var others []uint
	err = d.OnDraft(id, Newest, func(s store.Records, p *store.Page) error {
		if p.Front() {
			slug = p.Slug // a front page stays where it is
		}
		if p.Live() && p.Slug != slug {
			if err := d.MayPublish(p.Section); err != nil {
				return err
			}
		}
		if err := d.FreeAddress(s, p.Section, slug, p.ID); err != nil {
			return err
		}
		if p.Doc.Title != title {
			p.Doc.Title = title
			if err := s.AddPageStep(p, "Called "+title, d.Person.Name, d.Now()); err != nil {
				return err
			}
		}
		if p.Slug != slug {
			if err := s.MovePage(p, p.Section, slug, d.Now()); err != nil {
				return err
			}
			if others, err = d.lists.Moved(s, *p); err != nil {
				return err
			}
		}
		return d.Trace(s, p.Section, "Page %s is at %s", title, p.Path())
	})
	d.tell(others)
	return err
}

// tell lets those know who look at pages whose lists have changed.
func (d *Desk) tell(others []uint) {
	for _, id := range others {
		d.Rooms.Notify(presence.Page(id))
	}
}

// HandOver gives a page to another section, by somebody who works for both.
func (d *Desk) HandOver(id uint, section string) error {
	if _, ok := d.Rules().Section(section); !ok {
		return access.Refuse(access.Bad, "There is no such section.", "Choose one from the list.")
	}
	var others []uint
	err := d.OnDraft(id, Newest, func(s store.Records, p *store.Page) (err error) {
		if p.Front() {
			return access.Refuse(access.Bad, "A front page belongs to its section.", "Duplicate it, and hand over the copy.")
		}
		if err := d.MayWork(section); err != nil {
			return err
		}
		if p.Live() {
			if err := d.MayPublish(p.Section); err != nil {
				return err
			}
		}
		if err := d.FreeAddress(s, section, p.Slug, p.ID); err != nil {
			return err
		}
		from := p.Section
		if err := s.MovePage(p, section, p.Slug, d.Now()); err != nil {
			return err
		}
		if others, err = d.lists.Moved(s, *p); err != nil {
			return err
		}
		return d.Trace(s, section, "Page %s came from %s", p.Doc.Title, d.SectionTitle(from))
	})
	d.tell(others)
	return err
}
