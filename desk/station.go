package desk

import (
	"errors"
	"fmt"
	"strings"

	"mivlet/core/naming"
	"mivlet/core/page"
	"mivlet/core/words"
	"mivlet/store"
)

// PageLine is a page in the list of the station.
type PageLine struct {
	store.Page
	By string // who changed it last; "" where nobody has
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
	if err := d.mayLook(); err != nil {
		return nil, err
	}
	if err := d.settle(true); err != nil {
		return nil, err
	}
	pages, err := d.store.Pages()
	if err != nil {
		return nil, err
	}
	last, err := d.store.LastHands()
	if err != nil {
		return nil, err
	}
	lines := make([]PageLine, len(pages))
	for i, p := range pages {
		lines[i] = PageLine{p, last[p.ID]}
	}
	return lines, nil
}

// NewPage begins a page for a section from one of the arrangements.
func (d *Desk) NewPage(section, title, arrangement string) (uint, error) {
	if err := d.mayWork(section); err != nil {
		return 0, err
	}
	blocks, ok := page.Arranged(arrangement, newBlock)
	if !ok {
		return 0, refuse(Bad, fmt.Sprintf("There is no arrangement %q.", arrangement), "Choose one from the list.")
	}
	return d.beginPage(section, title, blocks)
}

// DuplicatePage begins a page of the same section with what another one holds.
func (d *Desk) DuplicatePage(id uint) (uint, error) {
	p, err := d.ownPage(id)
	if err != nil {
		return 0, err
	}
	title := p.Doc.Title + ", again"
	for n := 2; ; n++ {
		new, err := d.beginPage(p.Section, title, p.Doc.Blocks)
		if r, ok := err.(*Refusal); !ok || r.Kind != Clash || n > 50 {
			return new, err
		}
		title = fmt.Sprintf("%s, again %d", p.Doc.Title, n)
	}
}

func (d *Desk) beginPage(section, title string, blocks []page.Block) (uint, error) {
	title, slug, err := address(title, "")
	if err != nil {
		return 0, err
	}
	p := store.Page{Section: section, Slug: slug, Version: 1, UpdatedAt: d.now(), Doc: page.Doc{Version: page.Version, Title: title, Blocks: blocks}}
	err = d.store.Tx(func(s *store.Store) error {
		if err := d.freeAddress(s, section, slug, 0); err != nil {
			return err
		}
		if err := s.AddPage(&p); err != nil {
			return err
		}
		if err := restation(s, p.Doc.Pictures()); err != nil {
			return err
		}
		return d.trace(s, section, "Began the page %s", title)
	})
	return p.ID, err
}

// address makes title and slug fit for an address.
func address(title, slug string) (string, string, error) {
	title = strings.Join(strings.Fields(words.Visible(title)), " ")
	if title == "" || len([]rune(title)) > 120 {
		return "", "", refuse(Bad, "A page has a title of 1 to 120 characters.", "Say in a few words what it is about.")
	}
	if strings.TrimSpace(slug) == "" {
		slug = title
	}
	if slug = folderName(slug); slug == "" {
		return "", "", refuse(Bad, "No address can be made of that.", "Use letters or digits.")
	}
	if naming.Reserved(slug) {
		slug += "-page" // no file of the bare name could be kept on some systems
	}
	return title, slug, nil
}

// freeAddress refuses an address that another page has.
func (d *Desk) freeAddress(s *store.Store, section, slug string, but uint) error {
	other, err := s.PageAt(section, slug)
	switch {
	case errors.Is(err, store.ErrNotFound):
		return nil
	case err != nil:
		return err
	case other.ID == but:
		return nil
	}
	return refuse(Clash, fmt.Sprintf("%s has that address already.", other.Doc.Title), "Give it another title, or another address.")
}

// RenamePage gives a page another title and address. Visitors who have the old
// address are led to the new one.
func (d *Desk) RenamePage(id uint, title, slug string) error {
	title, slug, err := address(title, slug)
	if err != nil {
		return err
	}
	return d.onDraft(id, newest, func(s *store.Store, p *store.Page) error {
		if p.Live() && p.Slug != slug {
			if err := d.mayPublish(p.Section); err != nil {
				return err
			}
		}
		if err := d.freeAddress(s, p.Section, slug, p.ID); err != nil {
			return err
		}
		if p.Doc.Title != title {
			p.Doc.Title = title
			if err := s.AddPageStep(p, "Called "+title, d.who.Name, d.now()); err != nil {
				return err
			}
		}
		if p.Slug != slug {
			if err := s.MovePage(p, p.Section, slug, d.now()); err != nil {
				return err
			}
		}
		return d.trace(s, p.Section, "Page %s is at %s", title, p.Path())
	})
}

// HandOver gives a page to another section, by somebody who works for both.
func (d *Desk) HandOver(id uint, section string) error {
	if _, ok := d.Rules().Section(section); !ok {
		return refuse(Bad, "There is no such section.", "Choose one from the list.")
	}
	return d.onDraft(id, newest, func(s *store.Store, p *store.Page) error {
		if err := d.mayWork(section); err != nil {
			return err
		}
		if p.Live() {
			if err := d.mayPublish(p.Section); err != nil {
				return err
			}
		}
		if err := d.freeAddress(s, section, p.Slug, p.ID); err != nil {
			return err
		}
		from := p.Section
		if err := s.MovePage(p, section, p.Slug, d.now()); err != nil {
			return err
		}
		return d.trace(s, section, "Page %s came from %s", p.Doc.Title, d.sectionTitle(from))
	})
}
