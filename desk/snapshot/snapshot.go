package snapshot

import (
	"maps"
	"slices"

	"mivlet/core/layout"
	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/desk/cuts"
	"mivlet/desk/derive"
	"mivlet/store"
)

// Snapshot is a page with all that it is made from, as it was at one moment. What is
// found about a page, what is made of it, what stands for it and what is kept of it
// once it is live all come from one snapshot.
type Snapshot struct {
	store.Page
	House    access.Version
	Pictures map[uint]store.Picture // all that stand on it
	cuts     map[uint][]store.Cut   // made of them already
	site     store.LiveSite
	albums   map[uint]int // the versions of those on the page
	over     tops
	today    string // 2006-01-02
	later    []cuts.Later
}

// Snap takes the snapshot of one page.
func (d *Desk) Snap(id uint) (*Snapshot, error) {
	var taken *Snapshot
	err := d.Store.View(func(s store.Records) error {
		p, err := s.Page(id)
		if err != nil {
			return access.NotFound(err, "The page")
		}
		all, err := d.Snapshots(s, []store.Page{p})
		if err == nil {
			taken = all[0]
		}
		return err
	})
	return taken, err
}

// Snapshots takes those of several pages that were read in the same transaction. It
// asks the records as often for many pages as for one.
func (d *Desk) Snapshots(s store.Records, pages []store.Page) ([]*Snapshot, error) {
	house, err := d.houseIn(s)
	if err != nil {
		return nil, err
	}
	site, err := s.LiveSite()
	if err != nil {
		return nil, err
	}
	over, err := topsOf(site.Fronts)
	if err != nil {
		return nil, err
	}
	all, err := d.bare(s, pages, house, over)
	if err != nil || len(all) == 0 {
		return nil, err
	}
	var ids []uint
	for _, n := range all {
		ids = append(ids, slices.Collect(maps.Keys(n.Pictures))...)
	}
	slices.Sort(ids)
	cuts, err := s.CutsIn(slices.Compact(ids))
	if err != nil {
		return nil, err
	}
	for _, n := range all {
		n.cuts, n.site = cuts, site
	}
	return all, nil
}

// bare takes snapshots with no more than it takes to tell what stands for a page, and what
// stands at its top.
func (d *Desk) bare(s store.Records, pages []store.Page, house access.Version, over tops) ([]*Snapshot, error) {
	pages, known, versions, err := filled(s, pages)
	if err != nil {
		return nil, err
	}
	var ids []uint
	shown := make([][]uint, len(pages))
	seen := map[uint]bool{}
	for i, p := range pages {
		shown[i] = p.Doc.Pictures()
		if top := over.given(p); top != nil && !slices.Contains(shown[i], top.Picture) {
			shown[i] = append(shown[i], top.Picture)
		}
		for _, id := range shown[i] {
			if !seen[id] {
				seen[id] = true
				ids = append(ids, id)
			}
		}
	}
	pictures, err := s.PicturesIn(ids)
	if err != nil {
		return nil, err
	}
	sort(pages, known, pictures)
	all := make([]*Snapshot, len(pages))
	for i, p := range pages {
		all[i] = &Snapshot{Page: p, House: house, Pictures: map[uint]store.Picture{}, albums: versions, over: over, today: d.Today()}
		for _, id := range shown[i] {
			pic, ok := pictures[id]
			if !ok {
				return nil, access.NotFound(store.ErrNotFound, "A picture of the page")
			}
			all[i].Pictures[id] = pic
		}
	}
	return all, nil
}

// houseIn returns the rules that hold in a transaction.
func (d *Desk) houseIn(s store.Records) (access.Version, error) {
	number, err := s.RulesNumber()
	if err != nil {
		return access.Version{}, err
	}
	if known := d.Held(); known.Number == number {
		return known, nil
	}
	r, number, err := s.Rules()
	return *d.Version(r, number), err
}

// stands are the places of the page that have a picture.
func (n *Snapshot) stands() []page.Stand {
	return slices.DeleteFunc(n.Doc.Stands(n.House.Rules), page.Stand.Waits)
}

// MadeFor returns the cuts that are made of a picture for a slot, as it is now.
func (n *Snapshot) MadeFor(pic store.Picture, slot rules.Slot) []store.Cut {
	key := cuts.CutKey(n.House.Rules, pic, slot)
	return slices.DeleteFunc(slices.Clone(n.cuts[pic.ID]), func(c store.Cut) bool { return c.Key != key })
}

// printedAs is the version that a page document has in its print: which form it is kept in
// says nothing to visitors, and a new form must not make every page seem changed.
const printedAs = 3

// Print stands for all that a page gives visitors: its document, what the house says
// of measures and of the frame around it, and of each picture its place, name, words
// and the keys of its cuts.
func (n *Snapshot) Print() string {
	r := n.House.Rules
	doc := n.Doc
	doc.Version = printedAs
	parts := []any{doc, n.Section, n.Slug, r.House, r.Words.Language, r.Sections, r.Placing}
	for _, at := range n.stands() {
		pic := n.Pictures[at.Picture]
		parts = append(parts, pic.ID, pic.Section, pic.Work.Name, AltOf(at.Placement, pic), cuts.CutKey(r, pic, at.Slot), at.Sizes())
		if derive.Moves(pic, at.Slot) {
			parts = append(parts, cuts.CutKey(r, pic, at.Slot.Still()))
		}
	}
	for _, b := range n.backed() {
		parts = append(parts, b.ID, n.backKey(*b.Band.Background, page.BandRoom(r, b.Band)))
	}
	if top := n.Top(); top != nil {
		parts = append(parts, *top, n.backKey(*top, page.TopRoom(r, *top)))
	}
	if leaf := n.Leaf(); leaf != nil {
		parts = append(parts, "leaf", *leaf, n.backKey(*leaf, page.TopRoom(r, *leaf)))
	}
	if n.carded() {
		var behind store.Picture
		if c := n.Doc.Card.Behind; c != nil {
			behind = Covering(n.Pictures[c.Picture], *c)
		}
		parts = append(parts, n.cardKey(behind))
	} else if own := n.Doc.Shared; own != nil {
		parts = append(parts, cuts.CutKey(r, Covering(n.Pictures[own.Picture], *own), page.LinkShape))
	}
	if n.Doc.Cover != nil {
		if pic, by := n.Cover(); by == page.CoverOwn {
			parts = append(parts, cuts.CutKey(r, pic, page.Tile))
		}
	}
	return derive.Fingerprint(12, parts...)
}

// backKey stands for the files of a background.
func (n *Snapshot) backKey(b page.Background, room page.Room) string {
	return cuts.CutKey(n.House.Rules, Covering(n.Pictures[b.Picture], b.Cover), room.Slot(layout.Desktop))
}

// Differs reports whether what the draft would give is something else than what
// visitors see: because the page, one of its pictures or the rules were changed.
func (n *Snapshot) Differs() bool { return n.Live() && n.Print() != n.LivePrint }
