package desk

import (
	"errors"
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"

	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/store"
)

// snapshot is a page with all that it is made from, as it was at one moment. What is
// found about a page, what is made of it, what stands for it and what is kept of it
// once it is live all come from one snapshot.
type snapshot struct {
	store.Page
	house    version
	pictures map[uint]store.Picture // all that stand on it
	cuts     map[uint][]store.Cut   // made of them already
	site     siteMap
	today    string // 2006-01-02
}

// siteMap is what is live at which path, and where old addresses lead.
type siteMap struct {
	live  map[string]bool
	moved map[string]string
}

// snap takes the snapshot of one page.
func (d *Desk) snap(id uint) (*snapshot, error) {
	var taken *snapshot
	err := d.store.View(func(s *store.Store) error {
		p, err := s.Page(id)
		if err != nil {
			return missing(err, "The page")
		}
		all, err := d.snapshots(s, []store.Page{p})
		if err == nil {
			taken = all[0]
		}
		return err
	})
	return taken, err
}

// snapshots takes those of several pages that were read in the same transaction. It
// asks the records as often for many pages as for one.
func (d *Desk) snapshots(s *store.Store, pages []store.Page) ([]*snapshot, error) {
	house, err := d.houseIn(s)
	if err != nil {
		return nil, err
	}
	all, err := d.bare(s, pages, house)
	if err != nil || len(all) == 0 {
		return nil, err
	}
	var ids []uint
	for _, n := range all {
		ids = append(ids, slices.Collect(maps.Keys(n.pictures))...)
	}
	slices.Sort(ids)
	cuts, err := s.CutsIn(slices.Compact(ids))
	if err != nil {
		return nil, err
	}
	var site siteMap
	if site.live, site.moved, err = s.LivePaths(); err != nil {
		return nil, err
	}
	for _, n := range all {
		n.cuts, n.site = cuts, site
	}
	return all, nil
}

// bare takes snapshots with no more than it takes to tell what stands for a page.
func (d *Desk) bare(s *store.Store, pages []store.Page, house version) ([]*snapshot, error) {
	var ids []uint
	seen := map[uint]bool{}
	for _, p := range pages {
		for _, id := range p.Doc.Pictures() {
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
	all := make([]*snapshot, len(pages))
	for i, p := range pages {
		all[i] = &snapshot{Page: p, house: house, pictures: map[uint]store.Picture{}, today: d.today()}
		for _, id := range p.Doc.Pictures() {
			pic, ok := pictures[id]
			if !ok {
				return nil, missing(store.ErrNotFound, "A picture of the page")
			}
			all[i].pictures[id] = pic
		}
	}
	return all, nil
}

// houseIn returns the rules that hold in a transaction.
func (d *Desk) houseIn(s *store.Store) (version, error) {
	number, err := s.RulesNumber()
	if err != nil {
		return version{}, err
	}
	if known := d.rules.Load(); known.number == number {
		return *known, nil
	}
	r, number, err := s.Rules()
	return version{r, number}, err
}

// today is the day, as 2006-01-02.
func (d *Desk) today() string { return d.now().Format("2006-01-02") }

// stands are the places of the page that have a picture.
func (n *snapshot) stands() []page.Stand {
	return slices.DeleteFunc(n.Doc.Stands(n.house.Rules), page.Stand.Waits)
}

// madeFor returns the cuts that are made of a picture for a slot, as it is now.
func (n *snapshot) madeFor(pic store.Picture, slot rules.Slot) []store.Cut {
	key := cutKey(n.house.Rules, pic, slot)
	return slices.DeleteFunc(slices.Clone(n.cuts[pic.ID]), func(c store.Cut) bool { return c.Key != key })
}

// print stands for all that a page gives visitors: its document, what the house says
// of measures and of the frame around it, and of each picture its place, name, words
// and the keys of its cuts.
func (n *snapshot) print() string {
	r := n.house.Rules
	parts := []any{n.Doc, n.Section, n.Slug, r.House, r.Words.Language, r.Sections, r.Placing}
	for _, at := range n.stands() {
		pic := n.pictures[at.Picture]
		parts = append(parts, pic.ID, pic.Section, pic.Work.Name, AltOf(at.Placement, pic), cutKey(r, pic, at.Slot), at.Place.Sizes())
	}
	return fingerprint(12, parts...)
}

// differs reports whether what the draft would give is something else than what
// visitors see: because the page, one of its pictures or the rules were changed.
func (n *snapshot) differs() bool { return n.Live() && n.print() != n.LivePrint }

// Seen is what somebody saw of a page when they signed it: the version of its draft,
// of the house rules and of every picture on it.
type Seen struct {
	Page     int
	Rules    uint
	Pictures map[uint]int
}

func (n *snapshot) seen() Seen {
	v := Seen{n.Version, n.house.number, map[uint]int{}}
	for id, pic := range n.pictures {
		v.Pictures[id] = pic.Version
	}
	return v
}

// String writes it as a form carries it: 12.3.5-7.6-2 is version 12 of the page under
// version 3 of the rules, with picture 5 in its version 7 and picture 6 in its second.
func (v Seen) String() string {
	parts := []string{strconv.Itoa(v.Page), strconv.FormatUint(uint64(v.Rules), 10)}
	for _, id := range slices.Sorted(maps.Keys(v.Pictures)) {
		parts = append(parts, fmt.Sprintf("%d-%d", id, v.Pictures[id]))
	}
	return strings.Join(parts, ".")
}

// ParseSeen reads what [Seen.String] wrote. What is none gives the zero value, which
// nobody has seen.
func ParseSeen(text string) Seen {
	parts := strings.Split(text, ".")
	if len(parts) < 2 {
		return Seen{}
	}
	v := Seen{Pictures: map[uint]int{}}
	var err error
	read := func(s string) uint64 {
		n, bad := strconv.ParseUint(s, 10, 31)
		err = errors.Join(err, bad)
		return n
	}
	v.Page, v.Rules = int(read(parts[0])), uint(read(parts[1]))
	for _, part := range parts[2:] {
		id, n, _ := strings.Cut(part, "-")
		v.Pictures[uint(read(id))] = int(read(n))
	}
	if err != nil {
		return Seen{}
	}
	return v
}

// errNotSeen refuses to publish what nobody says to have looked at.
func errNotSeen() error {
	return refuse(Bad, "It is not said which state of the page you looked at.", "Open the page again, then publish it.")
}

// changedSince refuses to go on where a page, one of its pictures or the rules are not
// as they were seen. It names what has changed, and who changed it.
func (d *Desk) changedSince(s *store.Store, id uint, seen Seen) error {
	p, err := s.Page(id)
	if err != nil {
		return missing(err, "The page")
	}
	number, err := s.RulesNumber()
	if err != nil {
		return err
	}
	var changes []string
	if number != seen.Rules {
		changes = append(changes, "the house rules have changed")
	}
	if p.Version != seen.Page {
		changes = append(changes, "the page itself has changed")
	}
	ids := slices.Sorted(maps.Keys(seen.Pictures))
	now, err := s.VersionsOf(ids)
	if err != nil {
		return err
	}
	for _, picture := range ids {
		if now[picture] == seen.Pictures[picture] {
			continue
		}
		last, err := s.LastTrace(picture)
		if err != nil && !errors.Is(err, store.ErrNotFound) {
			return err
		}
		switch {
		case now[picture] == 0:
			changes = append(changes, "a picture on it is gone")
		case err != nil:
			changes = append(changes, "a picture on it has changed")
		default:
			changes = append(changes, fmt.Sprintf("%s (%s)", last.What, last.Person))
		}
	}
	if len(changes) == 0 {
		return nil
	}
	return &Refusal{Clash, "Something has changed since you looked: " + strings.Join(changes, "; ") + ".", "Nothing was published. Look at the page as it is now, then publish it.", store.ErrStale}
}
