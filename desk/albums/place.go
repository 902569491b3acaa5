package albums

import (
	"fmt"

	"mivlet/core/album"
	"mivlet/core/page"
	"mivlet/desk/access"
	"mivlet/desk/pages"
	"mivlet/store"
)

// Place puts an album into a gap of a page, as an even grid of square thumbnails. It
// returns the new block.
func (d *Desk) Place(id uint, at page.Gap, number uint) (block string, err error) {
	if err := d.pages.MayWorkOn(id); err != nil {
		return "", err
	}
	title, err := d.albumTitle(number)
	if err != nil {
		return "", err
	}
	b := page.Block{ID: access.NewBlock(), Kind: page.Album, Album: &page.AlbumShow{Album: number, Look: page.Grid, Most: usualThumbs}}
	return b.ID, d.pages.Edit(id, pages.Newest, "Added the album "+title, func(doc page.Doc) (page.Doc, error) { return doc.InsertAt(at, b) })
}

// usualThumbs is how many thumbnails a new album block shows.
const usualThumbs = 24

// albumTitle is the title of an album that can stand on a page.
func (d *Desk) albumTitle(id uint) (string, error) {
	if err := d.MayLook(); err != nil {
		return "", err
	}
	a, err := d.Store.Album(id)
	if err != nil {
		return "", access.NotFound(err, "The album")
	}
	if a.Dropped() {
		return "", access.Refuse(access.Bad, "The album was deleted.", "Bring it back first, on Albums.")
	}
	return a.Doc.Title, nil
}

// SetShown changes what a page shows of an album. mark is that of the block as whoever asks saw
// it.
func (d *Desk) SetShown(id uint, block, mark string, show page.AlbumShow) error {
	if err := d.pages.MayWorkOn(id); err != nil {
		return err
	}
	if _, err := d.albumTitle(show.Album); err != nil {
		return err
	}
	show.Title, show.Shuffled = "", false
	return d.pages.Edit(id, pages.Newest, "Changed what is shown of an album", func(doc page.Doc) (page.Doc, error) {
		b, ok := doc.Block(block)
		switch {
		case !ok || b.Kind != page.Album:
			return doc, access.Refuse(access.Missing, "The album is not on the page any more.", "Look again.")
		case b.Mark() != mark:
			return doc, access.Refuse(access.Clash, "Somebody else has changed what is shown of this album.", "Look at it as it is now; what you chose was not kept.")
		case show.Most < 0 || show.Most > mostThumbs:
			return doc, access.Refuse(access.Bad, fmt.Sprintf("%d thumbnails cannot be shown.", show.Most), fmt.Sprintf("Enter a number up to %d, or leave it blank for all.", mostThumbs))
		}
		b.Album = &show
		doc, err := doc.Replace(b)
		if err == nil {
			err = pages.Valid(doc)
		}
		return doc, err
	})
}

// mostThumbs is the most thumbnails that a page shows of an album.
const mostThumbs = 500

// Placeable are the albums that can be put on a page.
func (d *Desk) Placeable() ([]store.Album, error) {
	if err := d.MayLook(); err != nil {
		return nil, err
	}
	return d.Store.Albums(false)
}

// Gather makes an album of the pictures that stand one below the other around a block of a page,
// with their captions, and puts it in their place. Both happen, or neither. It returns the block.
func (d *Desk) Gather(pageID uint, block string) (made string, err error) {
	if err := d.pages.MayWorkOn(pageID); err != nil {
		return "", err
	}
	made = access.NewBlock()
	return made, d.pages.OnDraft(pageID, pages.Newest, func(s store.Records, p *store.Page) error {
		run := p.Doc.Run(block)
		if len(run) < 2 {
			return access.Refuse(access.Missing, "Fewer than two pictures stand one below the other here now.", "Look again: somebody has moved them.")
		}
		var chosen []uint
		a := album.Album{Version: album.Version, Title: p.Doc.Title}
		for _, one := range run {
			chosen = append(chosen, one.Placement.Picture)
			a = a.Add(one.Placement.Picture).Captioned(one.Placement.Picture, page.CaptionText(one.Placement.Caption))
		}
		section := p.Section
		if section == "" { // a page of the house itself
			section = d.Rules().Sections[0].Code
		}
		number, err := d.begin(s, section, a, chosen)
		if err != nil {
			return err
		}
		b := page.Block{ID: made, Kind: page.Album, Album: &page.AlbumShow{Album: number, Look: page.Grid, Most: usualThumbs}}
		if p.Doc, err = p.Doc.InsteadOf(run, b); err != nil {
			return err
		}
		return s.AddPageStep(p, "Made an album of "+access.Count(len(run), "picture"), d.Person.Name, d.Now())
	})
}
