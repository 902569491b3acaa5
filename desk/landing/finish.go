// Package landing is the room where files come in by their kind, and where things are finished
// where they stand on a page: photos are
// described and named one after the other, come to stand together, and their captions, their
// descriptions and the title of the page are written, without a way over the bench.
package landing

import (
	"fmt"

	"mivlet/core/page"
	"mivlet/desk/access"
	"mivlet/desk/attachments"
	"mivlet/desk/pages"
	"mivlet/desk/pictures"
)

// Desk is where one person finishes photos.
type Desk struct {
	*access.Seat
	pictures    *pictures.Desk
	pages       *pages.Desk
	attachments *attachments.Desk
}

// New returns the desk of the house itself.
func New(s *access.Seat, p *pictures.Desk, pg *pages.Desk, a *attachments.Desk) *Desk {
	return &Desk{s, p, pg, a}
}

// At returns the same desk for another seat.
func (d *Desk) At(s *access.Seat) *Desk {
	return &Desk{s, d.pictures.At(s), d.pages.At(s), d.attachments.At(s)}
}

// Place is where a picture stands on a page: which of those of a block, counted from 0.
type Place struct {
	Block string
	Nth   int
}

// Writing names what is being written at the place, such as caption:7f3a:0.
func (p Place) Writing(what string) string { return fmt.Sprintf("%s:%s:%d", what, p.Block, p.Nth) }

// Finish describes and names the picture at a place, as whoever dropped it there does. Where name
// is empty, it is the one that the house proposes for the description. A name that breaks the
// convention is refused with a [*pictures.NameRefusal] after the description was kept. It
// returns the next place of the page whose picture something keeps from going live, in reading
// order; nil where there is none.
func (d *Desk) Finish(pageID uint, at Place, alt, name string) (next *Place, err error) {
	p, err := d.pages.OwnPage(pageID)
	if err != nil {
		return nil, err
	}
	if err := d.finish(p.Doc, at, alt, name); err != nil {
		return nil, err
	}
	return d.unfinished(p.Doc, at)
}

func (d *Desk) finish(p page.Doc, at Place, alt, name string) error {
	stands, err := placementAt(p, at)
	if err != nil {
		return err
	}
	id := stands.Picture
	item, err := d.pages.InTray(id)
	if err != nil {
		return err
	}
	words := pictures.WordsOf(item.Picture)
	words.Alt, words.Decorative = alt, false
	if err := d.pictures.SetWords(id, pictures.Newest, words); err != nil {
		return err
	}
	if name == "" && item.Name != "" {
		return nil
	}
	if name == "" {
		if item, err = d.pages.InTray(id); err != nil {
			return err
		}
		proposal, err := d.pictures.Propose(item.Picture, "")
		if err != nil {
			return err
		}
		name = proposal.Name
	}
	return d.pictures.SetName(id, name)
}

// unfinished finds the next place behind one, round to it again.
func (d *Desk) unfinished(p page.Doc, behind Place) (*Place, error) {
	all := p.Stands(d.Rules())
	from := 0
	for i, s := range all {
		if (Place{s.Block, s.Nth}) == behind {
			from = i + 1
		}
	}
	for i := range all {
		s := all[(from+i)%len(all)]
		if s.Waits() || s.Kind == page.Album {
			continue
		}
		item, err := d.pages.InTray(s.Picture)
		if err != nil {
			return nil, err
		}
		if len(item.Lacks) > 0 {
			return &Place{s.Block, s.Nth}, nil
		}
	}
	return nil, nil
}
