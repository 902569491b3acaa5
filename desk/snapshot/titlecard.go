package snapshot

import (
	"bytes"
	"image"

	"mivlet/core/fit"
	"mivlet/core/page"
	"mivlet/core/raster"
	"mivlet/core/titlecard"
	"mivlet/desk/derive"
	"mivlet/desk/pictures"
	"mivlet/store"
)

// carded reports whether a title card is shown where the page is shared. Where its letters
// lack one of the title by now, the page has none.
func (n *Snapshot) carded() bool {
	return n.Doc.Card != nil && len(titlecard.Missing(n.Doc.Title+n.House.House)) == 0
}

// cardKey stands for all that a title card is drawn from; pic is the picture behind it.
func (n *Snapshot) cardKey(pic store.Picture) string {
	look := ""
	if pic.ID != 0 {
		look = derive.LookKey(pic)
	}
	return derive.Fingerprint(12, "card", titlecard.Version, n.Doc.Title, n.House.House, n.Doc.Card.Ground, pic.OriginalHash, look)
}

// card draws a title card; box makes the picture behind it.
func (n *Snapshot) card(pic store.Picture, box func(store.Picture, fit.Size) (image.Image, error)) (image.Image, error) {
	c := titlecard.Card{Title: n.Doc.Title, House: n.House.House}
	c.Ground, c.Text = n.Doc.Card.Ground.Colours()
	if pic.ID != 0 {
		var err error
		if c.Behind, err = box(pic, fit.Size{W: titlecard.Width, H: titlecard.Height}); err != nil {
			return nil, err
		}
	}
	return titlecard.Draw(c)
}

// cardFile makes the file of a title card. The picture behind it comes from the original.
func (d *Desk) cardFile(n *Snapshot, pic store.Picture) (store.Published, error) {
	m, err := n.card(pic, d.derive.BoxedWhole)
	if err != nil {
		return store.Published{}, err
	}
	e, err := raster.Encode(m, raster.Options{Format: raster.JPEG, MaxBytes: page.LinkShape.Budget})
	if err != nil {
		return store.Published{}, err
	}
	hash, err := d.Store.Files.Put(bytes.NewReader(e.Data), e.MediaType)
	f := store.Published{Hash: hash, MediaType: e.MediaType, CutKey: n.cardKey(pic), For: page.LinkShape.ID, Width: m.Bounds().Dx(), Height: m.Bounds().Dy()}
	if pic.ID != 0 {
		f.PictureID, f.PictureVersion, f.Original, f.Veils = pic.ID, pic.Version, pic.OriginalHash, pictures.Hiding(pic)
	}
	return f, err
}

// CardLook draws the title card of a draft, with a copy of the picture behind it, as a file
// for the screen.
func (d *Desk) CardLook(n *Snapshot, pic store.Picture) ([]byte, error) {
	m, err := n.card(pic, d.derive.Boxed)
	if err != nil {
		return nil, err
	}
	return raster.EncodeForScreen(m)
}
