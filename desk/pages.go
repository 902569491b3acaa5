package desk

import (
	"errors"
	"math"
	"reflect"
	"slices"

	"mivlet/core/layout"
	"mivlet/core/page"
	"mivlet/store"
)

// Pages returns all pages by section, with what is kept of their state up to date.
func (d *Desk) Pages() ([]store.Page, error) {
	if err := d.mayLook(); err != nil {
		return nil, err
	}
	if err := d.settle(false); err != nil {
		return nil, err
	}
	return d.store.Pages()
}

// AveragedPages returns the live pages on which what is hidden can be guessed back, as
// they went live when veils were averages. They want publishing before all else.
func (d *Desk) AveragedPages() ([]store.PageTitle, error) {
	if err := d.mayLook(); err != nil {
		return nil, err
	}
	return d.store.AveragedPages()
}

// PageTitles returns all pages by their titles, and whether they show a picture.
func (d *Desk) PageTitles(picture uint) ([]store.PageTitle, error) {
	if err := d.mayLook(); err != nil {
		return nil, err
	}
	if err := d.settle(false); err != nil {
		return nil, err
	}
	return d.store.PageTitles(picture)
}

// PageView is a page on its screen.
type PageView struct {
	store.Page
	Seen     Seen     // what whoever looks at it would sign
	Changes  []Change // what publishing it would change for visitors
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
	n, err := d.snap(id)
	if err != nil {
		return PageView{}, err
	}
	v := PageView{Page: n.Page, Seen: n.seen()}
	v.Differs = n.differs()
	v.Blocks, v.Findings = d.blocks(n)
	if v.Changes, err = d.changes(n); err != nil {
		return v, err
	}
	if v.Steps, err = d.store.PageSteps(id); err != nil {
		return v, err
	}
	v.Report, err = readReport(n.Page)
	return v, err
}

// blocks returns the blocks of a page with their pictures and findings.
func (d *Desk) blocks(n *snapshot) ([]BlockView, []PageFinding) {
	shown := map[string][]StandView{}
	for _, at := range n.Doc.Stands(n.house.Rules) {
		v := StandView{Stand: at}
		if pic, ok := n.pictures[at.Picture]; ok {
			v.Shows = &pic
			v.Cuts = n.madeFor(pic, at.Slot)
		}
		shown[at.Block] = append(shown[at.Block], v)
	}
	all := d.findings(n)
	views := make([]BlockView, len(n.Doc.Blocks))
	for i, b := range n.Doc.Blocks {
		views[i] = BlockView{Block: b, Shown: shown[b.ID]}
		for _, f := range all {
			if f.Block == b.ID {
				views[i].Findings = append(views[i].Findings, f)
			}
		}
	}
	return views, all
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
func restation(s *store.Store, ids []uint) error {
	if len(ids) == 0 {
		return nil
	}
	standing, err := s.StandingOf(ids)
	if err != nil {
		return err
	}
	for _, id := range ids {
		now, there := standing[id]
		if !there || now.Station == store.Bin {
			placed, err := s.IsPlaced(id)
			if err != nil {
				return err
			}
			if placed {
				return refuse(Missing, "A picture that stood there was thrown away.", "Nothing was changed; place another one.")
			}
			continue
		}
		want := store.Bench
		if now.Placed && now.Name != "" { // who has no name is still worked on
			want = store.Shelf
		}
		if now.Station != want {
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
