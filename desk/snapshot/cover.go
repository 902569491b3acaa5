package snapshot

import (
	"fmt"
	"path"
	"slices"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/desk/address"
	"mivlet/desk/pictures"
	"mivlet/store"
)

// Cover returns the picture that stands for the page, as it is shown there, and why.
func (n *Snapshot) Cover() (store.Picture, page.CoverBy) {
	id, by := n.Doc.CoverFor(func(id uint) fit.Size {
		pic, ok := n.Pictures[id]
		if !ok {
			return fit.Size{}
		}
		return fit.SizeOf(pic.Work.Recipe.View(pic.Facts.Upright()).Seen())
	})
	pic, there := n.Pictures[id]
	if !there {
		return store.Picture{}, page.NoCover
	}
	if by == page.CoverOwn {
		pic = Covering(pic, *n.Doc.Cover)
	}
	return pic, by
}

// Covering is a picture as it stands for a page, with a frame and a focus of the cover's
// own.
func Covering(pic store.Picture, c page.Cover) store.Picture {
	pic.Work.Recipe = c.Over(pic.Work.Recipe, pic.Facts.Upright())
	return pic
}

// CoverFiles makes the files of what stands for a page elsewhere, in all of its shapes.
func (d *Desk) CoverFiles(n *Snapshot, at address.Places) ([]store.Published, error) {
	pic, by := n.Cover()
	if by == page.NoCover {
		return nil, nil
	}
	slots := page.CoverSlots
	if n.Doc.Shared == nil && !n.carded() && Linkable(pic) { // it is shared, too: see LinkFile
		slots = append(slices.Clone(slots), page.LinkShape)
	}
	made, err := d.cuts.CutsOfStill(n.House.Rules, pic, slots)
	if err != nil {
		return nil, fmt.Errorf("the cover: %w", err)
	}
	var files []store.Published
	for i, slot := range page.CoverSlots { // what readers of shared links fetch stays JPEG: not all of them know more
		lighter, err := d.lighter(n, pic, slot, made[i])
		if err != nil {
			return nil, fmt.Errorf("the cover: %w", err)
		}
		for _, c := range slices.Concat(append(lighter, made[i])...) {
			p, _ := at.Addressed(n.House.Rules, coverPath(pic, c, slot), address.Filed{Hash: c.Hash, Picture: pic.ID})
			files = append(files, published(pic, c, p, slot.ID))
		}
	}
	return files, nil
}

// published is a cut of a picture at a path, made for something beside the page itself.
func published(pic store.Picture, c store.Cut, at, purpose string) store.Published {
	return store.Published{Path: at, Hash: c.Hash, MediaType: c.MediaType, PictureID: pic.ID, PictureVersion: pic.Version,
		CutKey: c.Key, Original: pic.OriginalHash, Veils: pictures.Hiding(pic), For: purpose, Width: c.Width, Height: c.Height}
}

// coverPath is where visitors find a file of a cover: beside the picture's other files.
func coverPath(pic store.Picture, c store.Cut, slot rules.Slot) string {
	return path.Join("/", pic.Section, fmt.Sprintf("%s-%s-%d%s", address.NameOf(pic), slot.ID, c.Width, facts.Extension(c.MediaType)))
}
