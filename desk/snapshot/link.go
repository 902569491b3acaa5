package snapshot

import (
	"cmp"
	"errors"
	"fmt"
	"path"

	"mivlet/core/facts"
	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/desk/address"
	"mivlet/desk/cuts"
	"mivlet/store"
)

// LinkBy tells why a picture is shown where a page is shared.
type LinkBy string

// Why a picture is shown where a page is shared.
const (
	LinkCard    LinkBy = "card"    // it is a title card
	LinkOwn     LinkBy = "own"     // it was chosen
	LinkCover   LinkBy = "cover"   // it stands for the page
	LinkSection LinkBy = "section" // it stands for the front page of its section
	LinkHouse   LinkBy = "house"   // it stands for the front page of the house
	NoLink      LinkBy = "none"
)

// LinkPicture returns the picture that is shown where the page is shared, and why: its
// title card, which may have no picture behind it, else its
// own, else its cover, else its first large picture, else the cover of its section, else the house's.
func (d *Desk) LinkPicture(s store.Records, n *Snapshot) (store.Picture, LinkBy, error) {
	if n.carded() {
		behind := n.Doc.Card.Behind
		if behind == nil {
			return store.Picture{}, LinkCard, nil
		}
		return Covering(n.Pictures[behind.Picture], *behind), LinkCard, nil
	}
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
func (d *Desk) LinkFile(n *Snapshot, at address.Places) (*Link, error) {
	pic, by, err := d.LinkPicture(d.Store, n)
	if err != nil || by == NoLink {
		return nil, err
	}
	alt := cmp.Or(pic.Work.Alt, n.Doc.Title)
	var file store.Published
	if by == LinkCard {
		if file, err = d.cardFile(n, pic); err != nil {
			return nil, fmt.Errorf("the title card: %w", err)
		}
		alt = n.Doc.Title + " (" + n.House.House + ")"
	} else {
		if !Linkable(pic) {
			return nil, nil // readers would not show it, or only small
		}
		made, err := d.cuts.CutsOfStill(n.House.Rules, pic, linkSlots)
		if err != nil {
			return nil, fmt.Errorf("the link picture: %w", err)
		}
		file = published(pic, made[0][0], "", page.LinkShape.ID)
	}
	var found string
	file.Path, found = at.Addressed(n.House.Rules, path.Join("/", n.Section, linkName(n.Page)+"-link"+facts.Extension(file.MediaType)), address.Filed{Hash: file.Hash, Picture: file.PictureID})
	return &Link{file, page.HeadImage{Address: d.Site + found, Width: file.Width, Height: file.Height, Alt: alt, MediaType: file.MediaType}}, nil
}

// LinkKey stands for the link picture as it would be made; "" where none fits. pic and by
// are those of [Desk.LinkPicture].
func (n *Snapshot) LinkKey(pic store.Picture, by LinkBy) string {
	switch {
	case by == NoLink:
		return ""
	case by == LinkCard:
		return n.cardKey(pic)
	case !Linkable(pic):
		return ""
	}
	return cuts.CutKey(n.House.Rules, pic, page.LinkShape)
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
