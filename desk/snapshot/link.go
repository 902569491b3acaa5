package snapshot

import (
	"errors"
	"fmt"
	"path"

	"mivlet/core/facts"
	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/store"
)

// LinkBy tells why a picture is shown where a page is shared.
type LinkBy string

// Why a picture is shown where a page is shared.
const (
	LinkOwn     LinkBy = "own"     // it was chosen
	LinkCover   LinkBy = "cover"   // it stands for the page
	LinkSection LinkBy = "section" // it stands for the front page of its section
	LinkHouse   LinkBy = "house"   // it stands for the front page of the house
	NoLink      LinkBy = "none"
)

// LinkPicture returns the picture that is shown where the page is shared, and why: its
// own, else its cover, else its first large picture, else the cover of its section, else the house's.
func (d *Desk) LinkPicture(s store.Records, n *Snapshot) (store.Picture, LinkBy, error) {
	if own := n.Doc.Shared; own != nil {
		if pic, there := n.Pictures[own.Picture]; there {
			return Covering(pic, *own), LinkOwn, nil
		}
	}
	if pic, by := n.Cover(); by != page.NoCover {
		return pic, LinkCover, nil
	}
	for _, above := range []struct {
		section string
		by      LinkBy
	}{{n.Section, LinkSection}, {"", LinkHouse}} {
		front, err := s.PageAt(above.section, "")
		if errors.Is(err, store.ErrNotFound) || err == nil && (front.ID == n.ID || !front.Live()) {
			continue
		}
		if err != nil {
			return store.Picture{}, NoLink, err
		}
		all, err := d.bare(s, []store.Page{front}, n.House, nil)
		if err != nil {
			return store.Picture{}, NoLink, err
		}
		if pic, by := all[0].Cover(); by != page.NoCover {
			return pic, above.by, nil
		}
	}
	return store.Picture{}, NoLink, nil
}

var linkSlots = []rules.Slot{page.LinkShape}

// Link is a link picture that was made.
type Link struct {
	File store.Published
	Head page.HeadImage
}

// LinkFile makes the link picture of a page; nil where no picture fits. It comes from the
// original, not from what stands on the page.
func (d *Desk) LinkFile(n *Snapshot, at Places) (*Link, error) {
	pic, by, err := d.LinkPicture(d.Store, n)
	if err != nil || by == NoLink {
		return nil, err
	}
	if !Linkable(pic) {
		return nil, nil // readers would not show it, or only small
	}
	made, err := d.cuts.CutsOfStill(n.House.Rules, pic, linkSlots)
	if err != nil {
		return nil, fmt.Errorf("the link picture: %w", err)
	}
	c := made[0][0]
	p, address := at.Addressed(n.House.Rules, path.Join("/", n.Section, linkName(n.Page)+"-link"+facts.Extension(c.MediaType)), Filed{Hash: c.Hash, Picture: pic.ID})
	alt := pic.Work.Alt
	if alt == "" {
		alt = n.Doc.Title
	}
	return &Link{published(pic, c, p, page.LinkShape.ID), page.HeadImage{Address: d.Site + address, Width: c.Width, Height: c.Height, Alt: alt, MediaType: c.MediaType}}, nil
}

// Linkable reports whether a picture has the pixels that readers of shared links want.
func Linkable(pic store.Picture) bool {
	seen := pic.Work.Recipe.View(pic.Facts.Upright()).Seen()
	return seen.Dx() >= page.LeastLink.W && seen.Dy() >= page.LeastLink.H
}

// linkName is what a link picture is called: as the page, so that its words stand in it.
func linkName(p store.Page) string {
	switch {
	case p.Slug != "":
		return p.Slug
	case p.Section != "":
		return p.Section
	}
	return "front"
}
