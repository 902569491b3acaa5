// Package backgrounds puts pictures behind the bands of a page, and tells how well the text
// over them can be read.
package backgrounds

import (
	"fmt"

	"mivlet/core/audit"
	"mivlet/core/layout"
	"mivlet/core/page"
	"mivlet/desk/access"
	"mivlet/desk/derive"
	"mivlet/desk/pages"
	"mivlet/desk/snapshot"
	"mivlet/store"
)

// Rooms are the rooms below that the work is done with.
type Rooms struct {
	Derive   *derive.Desk
	Snapshot *snapshot.Desk
	Pages    *pages.Desk
}

// Desk is where pictures come to stand behind bands.
type Desk struct {
	*access.Seat
	derive   *derive.Desk
	snapshot *snapshot.Desk
	pages    *pages.Desk
}

// New returns the desk of a seat.
func New(s *access.Seat, r Rooms) *Desk { return &Desk{s, r.Derive, r.Snapshot, r.Pages} }

// At returns the same desk for another seat.
func (d *Desk) At(s *access.Seat) *Desk {
	return &Desk{s, d.derive.At(s), d.snapshot.At(s), d.pages.At(s)}
}

// Set puts a picture behind a band of a page, or changes how it stands there, as one step;
// nil takes it away. mark is that of the band's block as whoever asks saw it.
func (d *Desk) Set(id uint, block, mark string, b *page.Background) error {
	if err := d.pages.MayWorkOn(id); err != nil {
		return err
	}
	text := "Removed the picture behind a band"
	if b != nil {
		if _, err := d.Visible(b.Picture); err != nil {
			return err
		}
		text = "Changed the picture behind a band"
	}
	return d.pages.Edit(id, pages.Newest, text, func(doc page.Doc) (page.Doc, error) {
		at, ok := doc.Block(block)
		if !ok || at.Kind != page.Band {
			return doc, access.Refuse(access.Missing, "The band is not on the page any more.", "Look again.")
		}
		if at.Mark() != mark {
			return doc, access.Refuse(access.Clash, "Somebody else has changed this band in the meantime.", "Look at it as it is now; what you chose was not kept.")
		}
		band := *at.Band
		band.Background, at.Band = b, &band
		changed, err := doc.Replace(at)
		if err == nil {
			err = changed.Check()
		}
		if err != nil {
			return doc, access.Because(access.Bad, "The picture cannot stand there like this.", fmt.Sprintf("Enter heights from %d to %d px, and 0 to 100 percent.", page.LeastHeight, page.MostHeight), err)
		}
		return changed, nil
	})
}

// View is the picture behind a band, in the panel.
type View struct {
	page.Background
	Shows     store.Picture // as it is by itself
	Contrasts []audit.Contrast
	// Dark and Lit are the percent of black, and of white, by which all text can be read.
	Dark, Lit int
}

// Of returns what stands behind a band; nil where nothing does.
func (d *Desk) Of(id uint, block string) (*View, error) {
	if err := d.pages.MayWorkOn(id); err != nil {
		return nil, err
	}
	n, err := d.snapshot.Snap(id)
	if err != nil {
		return nil, err
	}
	b, ok := n.Doc.Block(block)
	if !ok || b.Band == nil || b.Band.Background == nil {
		return nil, nil
	}
	v := &View{Background: *b.Band.Background, Shows: n.Pictures[b.Band.Background.Picture]}
	all, err := d.snapshot.Contrasts(n)
	if v.Contrasts = all[block]; len(v.Contrasts) > 0 {
		v.Dark, v.Lit = v.Contrasts[0].Dark, v.Contrasts[0].Lit // the same on all screens
	}
	return v, err
}

// Look opens what a picture looks like behind a band of a draft on a device.
func (d *Desk) Look(id uint, block string, on layout.Device) (derive.File, error) {
	if err := d.MayLook(); err != nil {
		return derive.File{}, err
	}
	p, err := d.Store.Page(id)
	if err != nil {
		return derive.File{}, access.NotFound(err, "The page")
	}
	b, ok := p.Doc.Block(block)
	if !ok || b.Band == nil || b.Band.Background == nil {
		return derive.File{}, access.Refuse(access.Missing, "There is no picture behind this band any more.", "Look again.")
	}
	return d.derive.BoxLook(b.Band.Background.Cover, page.BandRoom(d.Rules(), b.Band).At(on))
}
