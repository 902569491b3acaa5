package pages

import (
	"errors"
	"math"
	"reflect"
	"slices"

	"mivlet/core/fit"
	"mivlet/core/layout"
	"mivlet/core/page"
	"mivlet/core/steps"
	"mivlet/desk/access"
	"mivlet/desk/derive"
	"mivlet/desk/presence"
	"mivlet/desk/snapshot"
	"mivlet/desk/visit"
	"mivlet/store"
)

// OwnPage is a page that whoever is at the desk may work on.
func (d *Desk) OwnPage(id uint) (store.Page, error) {
	if err := d.MayLook(); err != nil {
		return store.Page{}, err
	}
	p, err := d.Store.Page(id)
	if err != nil {
		return p, access.NotFound(err, "The page")
	}
	return p, d.MayWork(p.Section)
}

// Pages returns all pages by section, with what is kept of their state up to date.
func (d *Desk) Pages() ([]store.Page, error) {
	if err := d.MayLook(); err != nil {
		return nil, err
	}
	if err := d.snapshot.Settle(false); err != nil {
		return nil, err
	}
	return d.Store.Pages()
}

// AveragedPages returns the live pages on which what is hidden can be guessed back, as
// they went live when veils were averages. They want publishing before all else.
func (d *Desk) AveragedPages() ([]store.PageTitle, error) {
	if err := d.MayLook(); err != nil {
		return nil, err
	}
	return d.Store.AveragedPages()
}

// PageTitles returns all pages by their titles, and whether they show a picture.
func (d *Desk) PageTitles(picture uint) ([]store.PageTitle, error) {
	if err := d.MayLook(); err != nil {
		return nil, err
	}
	if err := d.snapshot.Settle(false); err != nil {
		return nil, err
	}
	return d.Store.PageTitles(picture)
}

// PageView is a page on its screen.
type PageView struct {
	store.Page
	Seen     snapshot.Seen         // what whoever looks at it would sign
	Changes  []snapshot.Difference // what publishing it would change for visitors
	Blocks   []BlockView
	Findings []snapshot.PageFinding
	Report   *visit.Report // of the last publishing
	Steps    []store.PageStep
	StandsBy page.CoverBy // why a picture stands for it in lists
	Shared   string       // the name of the picture that is shown where it is shared; "" for none
	SharedBy snapshot.LinkBy
}

// history is the tree of the page's steps.
func (v PageView) history() steps.History[store.PageStep] {
	return steps.History[store.PageStep]{Steps: v.Steps, Shown: v.Step}
}

// Undo is the step that the shown one was made from; -1 where there is none.
func (v PageView) Undo() int { return v.history().Undo() }

// Redo is the newest step that was made from the shown one; -1 where there is none.
func (v PageView) Redo() int { return v.history().Redo() }

// BlockView is a block with what its pictures have become.
type BlockView struct {
	page.Block
	Shown    []StandView
	Findings []snapshot.PageFinding
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

// Seen is how large its frame is, in pixels of the original as it is turned: a browser keeps
// room of that shape for it.
func (v StandView) Seen() fit.Size {
	return fit.SizeOf(v.Shows.Work.Recipe.View(v.Shows.Facts.Upright()).Seen())
}

// Moves reports whether what is shown here moves.
func (v StandView) Moves() bool { return derive.Moves(*v.Shows, v.Slot) }

// Alt is what the picture is described with here.
func (v StandView) Alt() string { return snapshot.AltOf(v.Placement, *v.Shows) }

// Page returns a page on its screen.
func (d *Desk) Page(id uint) (PageView, error) {
	if err := d.MayLook(); err != nil {
		return PageView{}, err
	}
	n, err := d.snapshot.Snap(id)
	if err != nil {
		return PageView{}, err
	}
	v := PageView{Page: n.Page, Seen: n.Seen()}
	v.Differs = n.Differs()
	_, v.StandsBy = n.Cover()
	link, by, err := d.snapshot.LinkPicture(d.Store, n)
	if err != nil {
		return PageView{}, err
	}
	if v.SharedBy = by; link.ID != 0 {
		v.Shared = access.NameOr(link)
	}
	if v.Blocks, v.Findings, err = d.blocks(n); err != nil {
		return v, err
	}
	if v.Changes, err = d.snapshot.Changes(n); err != nil {
		return v, err
	}
	if v.Steps, err = d.Store.PageSteps(id); err != nil {
		return v, err
	}
	v.Report, err = visit.ReadReport(n.Page)
	return v, err
}

// blocks returns the blocks of a page with their pictures and findings.
func (d *Desk) blocks(n *snapshot.Snapshot) ([]BlockView, []snapshot.PageFinding, error) {
	shown := map[string][]StandView{}
	for _, at := range n.Doc.Stands(n.House.Rules) {
		v := StandView{Stand: at}
		if pic, ok := n.Pictures[at.Picture]; ok {
			v.Shows = &pic
			v.Cuts = n.MadeFor(pic, at.Slot)
		}
		shown[at.Block] = append(shown[at.Block], v)
	}
	all, err := d.snapshot.Findings(n)
	views := make([]BlockView, len(n.Doc.Blocks))
	for i, b := range n.Doc.Blocks {
		views[i] = BlockView{Block: b, Shown: shown[b.ID]}
		for _, f := range all {
			if f.Block == b.ID {
				views[i].Findings = append(views[i].Findings, f)
			}
		}
	}
	return views, all, err
}

// MayWorkOn refuses those who do not work for the section of a page.
func (d *Desk) MayWorkOn(id uint) error {
	_, err := d.OwnPage(id)
	return err
}

// Edit makes a change to a page's draft as one step, for those who may work on it.
func (d *Desk) Edit(id uint, version int, text string, act func(page.Doc) (page.Doc, error)) error {
	return d.OnDraft(id, version, func(s store.Records, p *store.Page) error {
		doc, err := act(p.Doc)
		if err != nil || reflect.DeepEqual(doc, p.Doc) {
			return err
		}
		p.Doc = doc
		if err := s.AddPageStep(p, text, d.Person.Name, d.Now()); err != nil {
			return err
		}
		return d.Trace(s, p.Section, "Page %s: %s", p.Doc.Title, text)
	})
}

// PageStep shows a step of a page's history: undo and redo.
func (d *Desk) PageStep(id uint, version, seq int) error {
	return d.OnDraft(id, version, func(s store.Records, p *store.Page) error {
		return access.NotFound(s.ShowPageStep(p, seq, d.Now()), "That step")
	})
}

// OnDraft does something to the version of a draft that the editor saw, and
// keeps the pictures' stations true.
func (d *Desk) OnDraft(id uint, version int, do func(store.Records, *store.Page) error) error {
	err := stale(d.Store.Tx(func(s store.Records) error {
		p, err := s.Page(id)
		if err != nil {
			return access.NotFound(err, "The page")
		}
		if err := d.MayWork(p.Section); err != nil {
			return err
		}
		if version != Newest && p.Version != version {
			return store.ErrStale
		}
		before := p.Doc.Pictures()
		if err := do(s, &p); err != nil {
			return err
		}
		return Restation(s, InOne(before, p.Doc.Pictures()))
	}))
	if err == nil {
		d.Rooms.Notify(presence.Page(id))
	}
	return err
}

// Newest stands for the draft as it is, whatever an editor saw: for acts on one
// block, which others' acts on other blocks do not touch.
const Newest = -1 << 31

// InOne returns what is in one of two lists and not in the other.
func InOne(a, b []uint) []uint {
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

// Restation moves pictures to the shelf while a page has them, and back to the
// bench when none does.
func Restation(s store.Records, ids []uint) error {
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
				return access.Refuse(access.Missing, "A picture that stood there was thrown away.", "Nothing was changed; place another one.")
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
		return access.Because(access.Clash, "Somebody else changed the page in the meantime.", "Look at the page as it is now, and do it again if you still want to.", err)
	}
	return err
}

// EnterPage enters the room of a page.
func (d *Desk) EnterPage(id uint) (*presence.Visit, error) {
	if err := d.MayLook(); err != nil {
		return nil, err
	}
	if _, err := d.Store.Page(id); err != nil {
		return nil, access.NotFound(err, "The page")
	}
	return d.Rooms.Enter(presence.Page(id), d.Visitor()), nil
}

// BeAt notes where on a page whoever is at the desk is at work, such as at a block;
// "" for nowhere. Others who have the page open are shown it.
func (d *Desk) BeAt(id uint, place string) error {
	p, err := d.OwnPage(id)
	if err != nil {
		return err
	}
	if _, there := p.Doc.Block(place); place != "" && !there {
		return access.Refuse(access.Missing, "There is no such place on the page.", "Look at the page as it is now.")
	}
	d.Rooms.BeAt(presence.Page(id), d.Person.ID, place)
	return nil
}

// PageVersion returns the version that a page's draft is at.
func (d *Desk) PageVersion(id uint) (int, error) {
	if err := d.MayLook(); err != nil {
		return 0, err
	}
	p, err := d.Store.Page(id)
	return p.Version, access.NotFound(err, "The page")
}
