package desk

import (
	"crypto/rand"
	"errors"
	"fmt"
	"strings"

	"mivlet/core/audit"
	"mivlet/core/layout"
	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/store"
)

// PageEntry is a page in a list.
type PageEntry struct {
	store.Page
	Differs bool // visitors see something else than the draft would give
}

// Pages returns all pages by section.
func (d *Desk) Pages() ([]PageEntry, error) {
	if err := d.mayLook(); err != nil {
		return nil, err
	}
	ps, err := d.store.Pages()
	if err != nil {
		return nil, err
	}
	all := make([]PageEntry, len(ps))
	for i, p := range ps {
		all[i].Page = p
		if all[i].Differs, err = d.differs(p); err != nil {
			return nil, err
		}
	}
	return all, nil
}

// differs reports whether what the draft would give is something else than what
// visitors see: because the page, one of its pictures or the rules were changed.
func (d *Desk) differs(p store.Page) (bool, error) {
	if !p.Live() {
		return false, nil
	}
	now, err := d.print(p)
	return now != p.LivePrint, err
}

// print stands for all that a page gives visitors: its document, and of each
// picture its place, name, words and the key of its cuts.
func (d *Desk) print(p store.Page) (string, error) {
	r := d.Rules()
	parts := []any{p.Doc, p.Section, p.Slug}
	for _, at := range p.Doc.Placements() {
		pic, err := d.store.Picture(at.Picture)
		if err != nil {
			return "", err
		}
		slot, _ := r.Slot(at.Slot)
		parts = append(parts, pic.Section, pic.Work.Name, AltOf(at, pic), d.cutKey(pic, slot), r.Place(slot).Sizes())
	}
	return fingerprint(12, parts...), nil
}

// PageView is a page on its screen.
type PageView struct {
	PageEntry
	Blocks   []BlockView
	Tray     []Item
	Findings []PageFinding
	Report   *Report // of the last publishing
	Steps    []store.PageStep
}

// CanUndo reports whether there is a step to go back to.
func (v PageView) CanUndo() bool { return v.Step > 0 }

// CanRedo reports whether there is a step to go forward to.
func (v PageView) CanRedo() bool { return len(v.Steps) > 0 && v.Step < v.Steps[len(v.Steps)-1].Seq }

// BlockView is a block with what its picture has become.
type BlockView struct {
	page.Block
	Picture *store.Picture
	Slot    rules.Slot
	Cuts    []store.Cut // made; nil while they are not
}

// PageFinding is a finding with the block it is about.
type PageFinding struct {
	audit.Finding
	Block   string
	Picture store.Picture
}

// Page returns a page on its screen.
func (d *Desk) Page(id uint) (PageView, error) {
	if err := d.mayLook(); err != nil {
		return PageView{}, err
	}
	p, err := d.store.Page(id)
	if err != nil {
		return PageView{}, missing(err, "The page")
	}
	v := PageView{PageEntry: PageEntry{Page: p}}
	if v.Differs, err = d.differs(p); err != nil {
		return v, err
	}
	pictures := map[uint]store.Picture{}
	for _, id := range p.Doc.Pictures() {
		if pictures[id], err = d.store.Picture(id); err != nil {
			return v, err
		}
	}
	for i, b := range p.Doc.Blocks {
		view := BlockView{Block: b}
		if b.Placement != nil {
			pic := pictures[b.Placement.Picture]
			view.Picture = &pic
			view.Slot, _ = d.Rules().Slot(b.Placement.Slot)
			if view.Cuts, err = d.store.Cuts(pic.ID, d.cutKey(pic, view.Slot)); err != nil {
				return v, err
			}
			v.Findings = append(v.Findings, d.placementFindings(p.Doc, i, pictures, view.Slot)...)
		}
		v.Blocks = append(v.Blocks, view)
	}
	if v.Tray, err = d.tray(); err != nil {
		return v, err
	}
	if v.Steps, err = d.store.PageSteps(id); err != nil {
		return v, err
	}
	v.Report, err = readReport(p)
	return v, err
}

// placementFindings checks the picture of a block as it stands on a page: for
// the slot it has there, with its caption, the text beside it and the other
// pictures of the page.
func (d *Desk) placementFindings(doc page.Doc, at int, pictures map[uint]store.Picture, slot rules.Slot) []PageFinding {
	b := doc.Blocks[at]
	pic := pictures[b.Placement.Picture]
	w := d.work(pic)
	w.Slot = &slot
	w.Said.Caption, w.Said.Alt = b.Placement.Caption, AltOf(*b.Placement, pic)
	if b.Placement.Decorative {
		w.Said.Decorative, w.Said.Reason = true, "said of this place"
	} else if b.Placement.Alt != "" {
		w.Said.Decorative = false
	}
	for i, o := range doc.Blocks {
		switch {
		case o.Kind == page.Text && (i == at-1 || i == at+1):
			w.Said.Beside = append(w.Said.Beside, o.Text)
		case o.Placement != nil && i != at && o.Placement.Picture != pic.ID:
			w.Said.Others = append(w.Said.Others, AltOf(*o.Placement, pictures[o.Placement.Picture]))
		}
	}
	var fs []PageFinding
	for _, f := range audit.Check(w) {
		fs = append(fs, PageFinding{f, b.ID, pic})
	}
	return fs
}

// tray returns the pictures that can be placed: the batch on the bench, then
// those that stand on pages.
func (d *Desk) tray() ([]Item, error) {
	bench, err := d.items(store.Bench)
	if err != nil {
		return nil, err
	}
	shelf, err := d.items(store.Shelf)
	return append(bench, shelf...), err
}

// Sides returns the sides a slot can take in the page's column: text flows
// only beside a picture that leaves room for it.
func (d *Desk) Sides(slot rules.Slot) []page.Side {
	r := d.Rules()
	if at := (layout.Place{Section: r.Text(), Rule: layout.Rule{Fixed: slot.Width}}); at.Beside(layout.Widest) {
		return page.Sides
	}
	return []page.Side{page.None, page.Centre}
}

// Insert places a picture in the gap before the block at position gap. version
// is the draft it was decided on.
func (d *Desk) Insert(pageID uint, version, gap int, p page.Placement) (block string, err error) {
	if err := d.mayWorkOn(pageID); err != nil {
		return "", err
	}
	if err := d.checkPlacement(&p); err != nil {
		return "", err
	}
	pic, err := d.store.Picture(p.Picture)
	if err != nil {
		return "", missing(err, "The picture")
	}
	if lacks := audit.Stops(audit.Check(d.work(pic))); len(lacks) > 0 {
		return "", refuse(Bad, "The picture is not ready: "+lacks[0].Text, "Finish it on the bench; the page waits.")
	}
	block = strings.ToLower(rand.Text()[:10])
	b := page.Block{ID: block, Kind: page.Picture, Placement: &p}
	err = d.edit(pageID, version, "Placed "+pic.Name, func(doc page.Doc) (page.Doc, error) { return doc.Insert(gap, b) })
	return block, err
}

// SetPlacement changes how a placed picture stands: its slot, side and caption.
func (d *Desk) SetPlacement(pageID uint, version int, block string, p page.Placement) error {
	if err := d.mayWorkOn(pageID); err != nil {
		return err
	}
	if err := d.checkPlacement(&p); err != nil {
		return err
	}
	return d.edit(pageID, version, "Changed a placement", func(doc page.Doc) (page.Doc, error) {
		b, err := placed(doc, block)
		if err != nil {
			return doc, err
		}
		p.Picture = b.Placement.Picture
		b.Placement = &p
		return doc.Replace(b)
	})
}

// mayWorkOn refuses those who do not work for the section of a page.
func (d *Desk) mayWorkOn(id uint) error {
	if err := d.mayLook(); err != nil {
		return err
	}
	p, err := d.store.Page(id)
	if err != nil {
		return missing(err, "The page")
	}
	return d.mayWork(p.Section)
}

// TakeOff takes a picture off a page. Undo puts it back; the picture stays.
func (d *Desk) TakeOff(pageID uint, version int, block string) error {
	return d.edit(pageID, version, "Took a picture off", func(doc page.Doc) (page.Doc, error) {
		if _, err := placed(doc, block); err != nil {
			return doc, err
		}
		return doc.Remove(block)
	})
}

// placed returns a block that holds a picture.
func placed(doc page.Doc, block string) (page.Block, error) {
	b, ok := doc.Block(block)
	if !ok || b.Placement == nil {
		return b, refuse(Missing, "The picture is not on the page any more.", "Look again.")
	}
	return b, nil
}

// checkPlacement refuses what does not go together, with its reason.
func (d *Desk) checkPlacement(p *page.Placement) error {
	slot, ok := d.Rules().Slot(p.Slot)
	if !ok {
		return refuse(Bad, "No slot is chosen.", "Say how wide the picture will stand.")
	}
	if p.Side == "" {
		p.Side = page.None
	}
	for _, side := range d.Sides(slot) {
		if side == p.Side {
			p.Caption, p.Alt = strings.TrimSpace(p.Caption), strings.TrimSpace(p.Alt)
			return nil
		}
	}
	return refuse(Bad, fmt.Sprintf("%s is as wide as the column: no text has room beside it.", slot.Title), "Choose a narrower slot, or centre.")
}

// edit makes a change to a page's draft as one step.
func (d *Desk) edit(id uint, version int, text string, act func(page.Doc) (page.Doc, error)) error {
	return d.onDraft(id, version, func(s *store.Store, p *store.Page) (err error) {
		if p.Doc, err = act(p.Doc); err != nil {
			return err
		}
		if err := s.AddPageStep(p, text, d.who.Name, d.now()); err != nil {
			return err
		}
		return d.trace(s, p.Section, "Page %s: %s", p.Doc.Title, text)
	})
}

// PageStep shows a step of a page's history: undo and redo.
func (d *Desk) PageStep(id uint, version, seq int) error {
	return d.onDraft(id, version, func(s *store.Store, p *store.Page) error {
		return missing(s.ShowPageStep(p, seq, d.now()), "That step")
	})
}

// onDraft does something to the version of a draft that the editor saw, and
// keeps the pictures' stations true.
func (d *Desk) onDraft(id uint, version int, do func(*store.Store, *store.Page) error) error {
	return stale(d.store.Tx(func(s *store.Store) error {
		p, err := s.Page(id)
		if err != nil {
			return missing(err, "The page")
		}
		if err := d.mayWork(p.Section); err != nil {
			return err
		}
		if p.Version != version {
			return store.ErrStale
		}
		before := p.Doc.Pictures()
		if err := do(s, &p); err != nil {
			return err
		}
		return restation(s, append(before, p.Doc.Pictures()...))
	}))
}

// restation moves pictures to the shelf while a page has them, and back to the
// bench when none does.
func restation(s *store.Store, pictures []uint) error {
	pages, err := s.Pages()
	if err != nil {
		return err
	}
	for _, id := range pictures {
		pic, err := s.Picture(id)
		if err != nil {
			return err
		}
		want := store.Bench
		if len(pagesWith(pages, id)) > 0 {
			want = store.Shelf
		}
		if pic.Station != want {
			if err := s.SetStation(id, want); err != nil {
				return err
			}
		}
	}
	return nil
}

func stale(err error) error {
	if errors.Is(err, store.ErrStale) {
		return &Refusal{Clash, "Somebody else changed the page in the meantime.", "This is how it is now; do it again if it is still right.", err}
	}
	return err
}

// pagesWith returns the titles of the pages that show a picture.
func pagesWith(pages []store.Page, picture uint) []string {
	var on []string
	for _, p := range pages {
		for _, id := range p.Doc.Pictures() {
			if id == picture {
				on = append(on, p.Doc.Title)
			}
		}
	}
	return on
}
