package lists

import (
	"bytes"
	"cmp"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"slices"
	"strings"

	"mivlet/core/page"
	"mivlet/store"
)

// Went keeps what lists show of a page that has just gone live with a document and files,
// and makes the lists anew that show it, or showed it, as well as its own. It returns the
// other live pages that have changed with it. Call it in the transaction.
func (d *Desk) Went(s store.Records, p store.Page, doc page.Doc, files []store.Published) ([]uint, error) {
	was, before, err := s.Card(p.ID)
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return nil, err
	}
	c := store.LiveCard{PageID: p.ID, Title: doc.Title, FromDay: doc.Details.From, Until: doc.Details.Until, Summary: doc.Details.Summary, FirstAt: was.FirstAt}
	if c.FirstAt.IsZero() {
		c.FirstAt = d.Now()
	}
	c.Cover, c.Files = coverAmong(files)
	return d.settle(s, p, doc, c, before)
}

// settle keeps the card of a live page with what it and its lists go by, and makes the lists
// anew that show it or showed it, and its own. before is what it was known by.
func (d *Desk) settle(s store.Records, p store.Page, live page.Doc, c store.LiveCard, before []string) ([]uint, error) {
	r := d.Rules()
	now := live.KnownBy(r, p.ID, p.Section, p.Slug)
	var lists []string
	for _, b := range live.Lists() {
		lists = append(lists, b.List.Keys(r)...)
	}
	if err := s.SetCard(c, now, lists); err != nil {
		return nil, err
	}
	return d.remake(s, append(before, now...), p.ID)
}

// coverAmong returns the picture that stands for a page among its files, and its files.
func coverAmong(files []store.Published) (cover uint, all []page.CardFile) {
	for _, f := range files {
		if strings.HasPrefix(f.For, coverPrefix) && f.PictureID != 0 {
			cover = f.PictureID
			all = append(all, page.CardFile{Slot: f.For, Address: Address(f), Path: f.Path, Hash: f.Hash, MediaType: f.MediaType, Width: f.Width, Height: f.Height})
		}
	}
	return cover, all
}

// coverPrefix begins the IDs of all shapes of covers.
const coverPrefix = "cover-"

// Address is where visitors get a file: its path tells its content, or a mark behind it.
func Address(f store.Published) string {
	if strings.Contains(f.Path, "-"+store.Mark(f.Hash)+".") {
		return f.Path
	}
	return f.Path + "?v=" + store.Mark(f.Hash)
}

// Gone makes the lists anew on which a page stood that is no longer live. keys are what it
// was known by: see [Desk.KnownBy]. It returns the live pages that have changed.
func (d *Desk) Gone(s store.Records, keys []string) ([]uint, error) { return d.remake(s, keys, 0) }

// KnownBy returns what lists go by that may show a live page; nothing where it is not live.
func (d *Desk) KnownBy(s store.Records, page uint) ([]string, error) {
	_, keys, err := s.Card(page)
	if errors.Is(err, store.ErrNotFound) {
		return nil, nil
	}
	return keys, err
}

// Moved makes the lists anew that show a page which has another address now, and its own.
// It returns the live pages that have changed.
func (d *Desk) Moved(s store.Records, p store.Page) ([]uint, error) {
	c, before, err := s.Card(p.ID)
	if errors.Is(err, store.ErrNotFound) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	_, live, err := liveDoc(s, p.ID)
	if err != nil {
		return nil, err
	}
	return d.settle(s, p, live, c, before)
}

// Uncovered takes a picture off all cards that it stands on, and makes the lists anew that
// show them. It returns the live pages that have changed.
func (d *Desk) Uncovered(s store.Records, picture uint) ([]uint, error) {
	shown, err := s.WithCover(picture)
	if err != nil || len(shown) == 0 {
		return nil, err
	}
	var keys []string
	for _, id := range shown {
		known, err := d.KnownBy(s, id)
		if err != nil {
			return nil, err
		}
		keys = append(keys, known...)
	}
	if err := s.Uncover(picture); err != nil {
		return nil, err
	}
	return d.remake(s, keys, 0)
}

// Regrouped makes everything anew after the house has changed its sections or categories.
// Pages of a category that was joined to another are known by that one.
func (d *Desk) Regrouped(s store.Records) ([]uint, error) {
	r := d.Rules()
	keys := []string{page.Key(page.OfSections, ""), page.Key(page.OfCategories, "")}
	for _, c := range r.Categories {
		for _, was := range c.Was {
			joined, _, err := s.Cards(store.CardQuery{Key: page.Key(page.OfCategory, was)})
			if err != nil {
				return nil, err
			}
			for _, one := range joined {
				p, err := s.Page(one.PageID)
				if err != nil {
					return nil, err
				}
				if _, err := d.Moved(s, p); err != nil {
					return nil, err
				}
			}
			keys = append(keys, page.Key(page.OfCategory, was), page.Key(page.OfCategory, c.Code))
		}
	}
	return d.remake(s, keys, 0)
}

// liveDoc returns the newest live version of a page, and its document.
func liveDoc(s store.Records, id uint) (live store.LiveVersion, doc page.Doc, err error) {
	if live, err = s.NewestLive(id); err != nil {
		return live, doc, err
	}
	if doc, err = page.Parse([]byte(live.Doc)); err != nil {
		return live, doc, fmt.Errorf("the live version of page %d: %w", id, err)
	}
	return live, doc, nil
}

// Own are the files of a page without those of its lists, which are made anew.
func Own(files []store.Published) []store.Published {
	return slices.DeleteFunc(slices.Clone(files), store.Published.OfList)
}

// remake makes the lists anew that go by some keys, and those of a page besides. It returns
// the live pages that have changed, but for that one.
func (d *Desk) remake(s store.Records, keys []string, own uint) ([]uint, error) {
	slices.Sort(keys)
	ids, err := s.Listing(slices.Compact(keys))
	if err != nil {
		return nil, err
	}
	if own != 0 && !slices.Contains(ids, own) {
		ids = append(ids, own)
	}
	var changed []uint
	all := wholes{}
	for _, id := range ids {
		did, err := d.remakeOn(s, id, all)
		if err != nil {
			return nil, fmt.Errorf("the lists of page %d: %w", id, err)
		}
		if did && id != own {
			changed = append(changed, id)
		}
	}
	return changed, nil
}

// remakeOn makes all lists of a live page anew, and reports whether that changed anything.
func (d *Desk) remakeOn(s store.Records, id uint, all wholes) (bool, error) {
	live, doc, err := liveDoc(s, id)
	if errors.Is(err, store.ErrNotFound) || err == nil && len(doc.Lists()) == 0 {
		return false, nil
	}
	if err != nil {
		return false, err
	}
	begins, err := ReadLeaf(live)
	if err != nil {
		return false, err
	}
	p, err := s.Page(id)
	if err != nil || !p.Live() {
		return false, err
	}
	before, err := s.FilesOf(id)
	if err != nil {
		return false, err
	}
	m := maker{Desk: d, records: s, page: p, doc: doc, begins: begins, wholes: all, had: map[string]bool{}, tiles: map[string]store.Published{}, noted: map[string]bool{}, leaves: map[string]bool{}}
	for _, f := range before {
		m.had[f.Hash] = true
		if f.For == store.ForList {
			m.tiles[f.Path+f.Hash] = f
		}
	}
	var html store.Published
	for _, f := range Own(before) {
		if f.Path == p.Path() {
			html = f
		} else {
			m.files = append(m.files, f)
			m.noted[f.Path+f.Hash] = true
		}
	}
	if m.html, err = store.Content(d.Store.Files, html.Hash); err != nil {
		return false, err
	}
	for _, b := range doc.Lists() {
		if err := m.list(b); err != nil {
			return false, err
		}
	}
	if html.Hash, err = m.keep(m.html, html.MediaType); err != nil {
		return false, err
	}
	after := append([]store.Published{html}, m.files...)
	if sameFiles(before, after) {
		return false, nil
	}
	stays := map[string]bool{}
	for _, f := range after {
		stays[f.Hash] = true
	}
	d.noteStale(slices.DeleteFunc(slices.Clone(before), func(f store.Published) bool { return stays[f.Hash] }))
	return true, s.Relist(id, before, after, d.Now())
}

func sameFiles(a, b []store.Published) bool {
	by := func(x, y store.Published) int {
		return cmp.Or(strings.Compare(x.Path, y.Path), strings.Compare(x.Hash, y.Hash))
	}
	same := func(x, y store.Published) bool { return by(x, y) == 0 }
	a, b = slices.Clone(a), slices.Clone(b)
	slices.SortFunc(a, by)
	slices.SortFunc(b, by)
	return slices.EqualFunc(a, b, same)
}

// maker makes the lists of one live page.
type maker struct {
	*Desk
	records store.Records
	page    store.Page
	doc     page.Doc
	begins  *Leaf // how leaves begin; nil for as usual
	html    []byte
	files   []store.Published
	leaves  map[string]bool // addresses of all of something that are made already
	wholes  wholes
	had     map[string]bool            // hashes of the files that the page has
	tiles   map[string]store.Published // covers of others that it has, by path and hash
	noted   map[string]bool            // what is among files, by path and hash
}

// wholes are all cards of some lists: several pages may list all of the same.
type wholes map[string][]page.Card

// of returns all cards that a query asks for.
func (w wholes) of(s store.Records, q store.CardQuery) ([]page.Card, error) {
	key := fmt.Sprint(q.Key, q.Order, q.But)
	if all, ok := w[key]; ok {
		return all, nil
	}
	found, _, err := s.Cards(q)
	if err != nil {
		return nil, err
	}
	w[key] = cardsOf(found)
	return w[key], nil
}

// keep keeps what was written, unless the page has it already, and returns its hash.
func (m *maker) keep(data []byte, mediaType string) (string, error) {
	sum := sha256.Sum256(data)
	if hash := hex.EncodeToString(sum[:]); m.had[hash] {
		return hash, nil
	}
	return m.Store.Files.Put(bytes.NewReader(data), mediaType)
}

// list makes one list anew, and the pages that list all of it.
func (m *maker) list(b page.Block) error {
	r := m.Rules()
	v, err := m.View(m.records, r, m.page, b)
	if err != nil {
		return err
	}
	if err := m.note(v.Cards, b.List.Look); err != nil {
		return err
	}
	if m.html, err = page.Relist(m.html, b.ID, page.WriteCards(m.doc, r, b, v)); err != nil {
		return err
	}
	if v.All == "" || v.Total <= len(v.Cards) || m.leaves[v.All] {
		return nil
	}
	m.leaves[v.All] = true
	q := query(r, m.page, *b.List)
	if !slices.Contains(m.doc.KnownBy(r, m.page.ID, m.page.Section, m.page.Slug), q.Key) {
		q.But = 0 // it would not be among them anyway
	}
	all, err := m.wholes.of(m.records, q)
	if err != nil {
		return err
	}
	leaves := page.Leaves(len(all))
	for i, leaf := range leaves {
		cards := all[leaf.From:leaf.To]
		if err := m.leaf(leaf.Path(v.All), string(page.WriteLeaf(m.doc, r, b, v.All, leaves, i, cards))); err != nil {
			return err
		}
		if err := m.note(cards, b.List.Look.OnLeaf()); err != nil {
			return err
		}
	}
	return nil
}

// leaf keeps one page that lists a dozen of all.
func (m *maker) leaf(at, main string) error {
	title := m.doc.Title + ": all of them"
	var b bytes.Buffer
	write := m.layout.Load()
	var err error
	if write == nil {
		err = page.Document{Language: m.Rules().Words.Language, Title: title, Main: main}.Write(&b)
	} else {
		p := SitePage{Title: title, Section: m.page.Section, Main: main}
		if m.begins != nil {
			p.Top, p.Style = &m.begins.Top, m.begins.Style
		}
		err = (*write)(&b, p)
	}
	if err != nil {
		return err
	}
	hash, err := m.keep(b.Bytes(), store.PageType)
	m.files = append(m.files, store.Published{Path: at, Hash: hash, MediaType: store.PageType, For: store.ForLeaf})
	return err
}

// note notes the covers of some cards among the files of the page: it shows them.
func (m *maker) note(cards []page.Card, look page.Look) error {
	slot, pictured := look.Slot()
	if !pictured {
		return nil
	}
	for _, c := range cards {
		for _, f := range c.Files {
			if f.Slot != slot.ID || m.noted[f.Path+f.Hash] {
				continue
			}
			m.noted[f.Path+f.Hash] = true
			if tile, ok := m.tiles[f.Path+f.Hash]; ok {
				m.files = append(m.files, tile)
				continue
			}
			made, err := m.records.PublishedAt(f.Path, store.Mark(f.Hash))
			if errors.Is(err, store.ErrNotFound) {
				continue // not shown by its own page any more
			}
			if err != nil {
				return err
			}
			made.For = store.ForList
			m.files = append(m.files, made)
		}
	}
	return nil
}
