package desk

import (
	"errors"
	"math"
	"reflect"
	"slices"

	"mivlet/core/audit"
	"mivlet/core/layout"
	"mivlet/core/page"
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

// print stands for all that a page gives visitors: its document, the measures and
// sections of the house, and of each picture its place, name, words and the keys of
// its cuts.
func (d *Desk) print(p store.Page) (string, error) {
	r := d.Rules()
	parts := []any{p.Doc, p.Section, p.Slug, r.Sections, r.Placing}
	for _, at := range p.Doc.Stands(r) {
		if at.Waits() {
			continue
		}
		pic, err := d.store.Picture(at.Picture)
		if err != nil {
			return "", err
		}
		parts = append(parts, pic.Section, pic.Work.Name, AltOf(at.Placement, pic), d.cutKey(pic, at.Slot), at.Place.Sizes())
	}
	return fingerprint(12, parts...), nil
}

// PageView is a page on its screen.
type PageView struct {
	PageEntry
	Blocks   []BlockView
	Findings []PageFinding
	Report   *Report // of the last publishing
	Steps    []store.PageStep
}

// Undo is the step that the shown one was made from; -1 where there is none.
func (v PageView) Undo() int {
	for _, s := range v.Steps {
		if s.Seq == v.Step {
			return s.Parent
		}
	}
	return -1
}

// Redo is the newest step that was made from the shown one; -1 where there is
// none.
func (v PageView) Redo() int {
	for _, s := range slices.Backward(v.Steps) {
		if s.Parent == v.Step {
			return s.Seq
		}
	}
	return -1
}

// BlockView is a block with what its pictures have become.
type BlockView struct {
	page.Block
	Shown    []StandView
	Findings []PageFinding
}

// StandView is a picture where it stands, or a place that waits for one.
type StandView struct {
	page.Stand
	Shows *store.Picture // nil while it waits
	Cuts  []store.Cut    // made; nil while they are not
}

// Wide is how wide it stands on a desktop, in CSS px; 0 where its height rules.
func (v StandView) Wide() int {
	if v.Kind == page.Strip {
		return 0
	}
	return int(math.Round(v.Place.Width(layout.Desktop.Viewport())))
}

// Alt is what the picture is described with here.
func (v StandView) Alt() string { return AltOf(v.Placement, *v.Shows) }

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
	if v.Blocks, v.Findings, err = d.blocks(p); err != nil {
		return v, err
	}
	if v.Steps, err = d.store.PageSteps(id); err != nil {
		return v, err
	}
	v.Report, err = readReport(p)
	return v, err
}

// blocks returns the blocks of a page with their pictures and findings.
func (d *Desk) blocks(p store.Page) ([]BlockView, []PageFinding, error) {
	pictures, err := d.picturesOf(p.Doc)
	if err != nil {
		return nil, nil, err
	}
	r := d.Rules()
	shown := map[string][]StandView{}
	weights := map[string]int64{}
	for _, at := range p.Doc.Stands(r) {
		v := StandView{Stand: at}
		if pic, ok := pictures[at.Picture]; ok {
			v.Shows = &pic
			if v.Cuts, err = d.store.Cuts(pic.ID, d.cutKey(pic, at.Slot)); err != nil {
				return nil, nil, err
			}
			for _, c := range v.Cuts {
				weights[audit.WeightOf(at.Block, at.Nth)] = max(weights[audit.WeightOf(at.Block, at.Nth)], c.Bytes)
			}
		}
		shown[at.Block] = append(shown[at.Block], v)
	}
	all := d.findings(p.Doc, pictures, weights)
	views := make([]BlockView, len(p.Doc.Blocks))
	for i, b := range p.Doc.Blocks {
		views[i] = BlockView{Block: b, Shown: shown[b.ID]}
		for _, f := range all {
			if f.Block == b.ID {
				views[i].Findings = append(views[i].Findings, f)
			}
		}
	}
	return views, all, nil
}

// picturesOf returns the pictures of a page by their numbers.
func (d *Desk) picturesOf(doc page.Doc) (map[uint]store.Picture, error) {
	all := map[uint]store.Picture{}
	for _, id := range doc.Pictures() {
		pic, err := d.store.Picture(id)
		if err != nil {
			return nil, err
		}
		all[id] = pic
	}
	return all, nil
}

// mayWorkOn refuses those who do not work for the section of a page.
func (d *Desk) mayWorkOn(id uint) error {
	_, err := d.ownPage(id)
	return err
}

// edit makes a change to a page's draft as one step.
func (d *Desk) edit(id uint, version int, text string, act func(page.Doc) (page.Doc, error)) error {
	return d.onDraft(id, version, func(s *store.Store, p *store.Page) error {
		doc, err := act(p.Doc)
		if err != nil || reflect.DeepEqual(doc, p.Doc) {
			return err
		}
		p.Doc = doc
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
	err := stale(d.store.Tx(func(s *store.Store) error {
		p, err := s.Page(id)
		if err != nil {
			return missing(err, "The page")
		}
		if err := d.mayWork(p.Section); err != nil {
			return err
		}
		if version != newest && p.Version != version {
			return store.ErrStale
		}
		before := p.Doc.Pictures()
		if err := do(s, &p); err != nil {
			return err
		}
		return restation(s, inOne(before, p.Doc.Pictures()))
	}))
	if err == nil {
		d.stir(pageRoom(id))
	}
	return err
}

// newest stands for the draft as it is, whatever an editor saw: for acts on one
// block, which others' acts on other blocks do not touch.
const newest = -1 << 31

// inOne returns what is in one of two lists and not in the other.
func inOne(a, b []uint) []uint {
	var all []uint
	for _, list := range [2][2][]uint{{a, b}, {b, a}} {
		for _, id := range list[0] {
			if !slices.Contains(list[1], id) {
				all = append(all, id)
			}
		}
	}
	return all
}

// restation moves pictures to the shelf while a page has them, and back to the
// bench when none does.
func restation(s *store.Store, pictures []uint) error {
	if len(pictures) == 0 {
		return nil
	}
	pages, err := s.Pages()
	if err != nil {
		return err
	}
	for _, id := range pictures {
		pic, err := s.Picture(id)
		if errors.Is(err, store.ErrNotFound) {
			return refuse(Missing, "A picture that stood there was thrown away for good.", "Nothing was changed; place another one.")
		}
		if err != nil {
			return err
		}
		want := store.Bench
		if len(pagesWith(pages, id)) > 0 && pic.Work.Name != "" { // who has no name is still worked on
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
