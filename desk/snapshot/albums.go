package snapshot

import (
	"maps"
	"slices"

	"mivlet/core/album"
	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/desk/derive"
	"mivlet/store"
)

// Filled are pages with what their albums hold.
func Filled(s store.Records, pages []store.Page) ([]store.Page, error) {
	pages, _, _, err := filled(s, pages)
	return pages, err
}

// filled are pages with what their albums hold, in the order that was made by hand, and those
// albums with their versions.
func filled(s store.Records, pages []store.Page) (all []store.Page, known map[uint]album.Album, versions map[uint]int, err error) {
	known, versions = map[uint]album.Album{}, map[uint]int{}
	for _, p := range pages {
		for _, id := range p.Doc.Albums() {
			known[id] = album.Album{}
		}
	}
	if len(known) == 0 {
		return pages, nil, nil, nil
	}
	there, err := s.AlbumsIn(slices.Collect(maps.Keys(known)))
	if err != nil {
		return nil, nil, nil, err
	}
	for id := range known {
		known[id], versions[id] = there[id].Doc, there[id].Version
	}
	pages = slices.Clone(pages)
	for i := range pages {
		pages[i].Doc = pages[i].Doc.Filled(known)
	}
	return pages, known, versions, nil
}

// sort puts the albums on pages into the order that they are shown in, once their pictures
// are known.
func sort(pages []store.Page, known map[uint]album.Album, pictures map[uint]store.Picture) {
	sorted := map[uint]album.Album{}
	for id, a := range known {
		sorted[id] = Sorted(a, pictures)
	}
	for i := range pages {
		pages[i].Doc = pages[i].Doc.Filled(sorted)
	}
}

// Sorted is an album in the order that it is shown in, with its pictures.
func Sorted(a album.Album, pictures map[uint]store.Picture) album.Album {
	return a.Sorted(func(id uint) album.Known {
		return album.Known{Name: access.NameOr(pictures[id]), Taken: pictures[id].Moment()}
	})
}

// albumImage is the image of a thumbnail in an album, and of what it enlarges to. A picture
// that stands still is decoded once for both.
func (d *Desk) albumImage(n *Snapshot, pic store.Picture, s page.Stand, at func(store.Cut) string) (page.Image, error) {
	alt := AltOf(s.Placement, pic)
	if s.Beyond {
		large, err := d.image(n, pic, page.EnlargedSlot(n.House.Rules), "100vw", alt, at)
		large.Large = &large
		return large, err
	}
	// Both are decoded for at once, where they are not made yet.
	if _, err := d.cuts.CutsForAll(n.House.Rules, pic, []rules.Slot{page.EnlargedSlot(n.House.Rules), derive.ThumbSlot(pic, s.Slot)}); err != nil {
		return page.Image{}, err
	}
	m, err := d.image(n, pic, derive.ThumbSlot(pic, s.Slot), s.Sizes(), alt, at)
	if err != nil {
		return m, err
	}
	large, err := d.image(n, pic, page.EnlargedSlot(n.House.Rules), "100vw", alt, at)
	m.Large = &large
	return m, err
}
