package desk

import (
	"fmt"
	"image"
	"maps"
	"reflect"
	"slices"
	"strings"

	"mivlet/core/audit"
	"mivlet/core/fit"
	"mivlet/core/naming"
	"mivlet/core/rules"
	"mivlet/core/words"
	"mivlet/store"
)

// Bench is a picture on the bench with all that its screen shows.
type Bench struct {
	store.Picture
	Slot     *rules.Slot // nil until one is chosen
	Source   fit.Size
	Frame    image.Rectangle
	Figures  Figures
	Findings []audit.Finding
	Proposal naming.Proposal // the name the house would give it, where its own does not do
	Steps    []store.Step
	Strip    []Item
	Boxes    []BoxLook       // what the exact boxes of the house take of it
	More     []Figures       // of the further slots that it is cut for
	Stands   map[string]bool // the slots in which a picture that moves would stand still
	Today    string          // 2006-01-02
	Exposed  []Exposure      // live pages that show it otherwise than it may be shown now
}

// Item is a picture in the strip or in the tray.
type Item struct {
	store.Picture
	Lacks []audit.Finding // what keeps it from going live
}

// items returns the pictures at a station, newest first.
func (d *Desk) items(at store.Station) ([]Item, error) {
	ps, err := d.own(at)
	all := make([]Item, len(ps))
	for i, p := range ps {
		all[i] = d.item(p)
	}
	return all, err
}

// stopsOf is what keeps a picture from going live.
func stopsOf(d *Desk, p store.Picture) []audit.Finding { return audit.Stops(audit.Check(d.work(p))) }

// Ready reports whether nothing keeps the picture from going live.
func (b Bench) Ready() bool { return len(audit.Stops(b.Findings)) == 0 }

// Bench returns a picture as it lies on the bench.
func (d *Desk) Bench(id uint) (Bench, error) {
	p, err := d.mine(d.store, id)
	if err != nil {
		return Bench{}, err
	}
	b := Bench{Picture: p, Source: p.Facts.Upright()}
	b.Frame = p.Work.Recipe.Frame(b.Source)
	if slot, ok := d.Rules().Slot(p.Work.Slot); ok {
		b.Slot = &slot
	}
	b.Today = d.today()
	b.Findings = audit.Check(d.work(p))
	if p.Work.Name == "" || len(audit.At(b.Findings, audit.Name)) > 0 {
		if b.Proposal, err = d.Propose(p, p.Work.Name); err != nil {
			return b, err
		}
	}
	if b.Figures, err = d.figures(p); err != nil {
		return b, err
	}
	b.Boxes, b.Stands = d.boxes(p), d.standsIn(p)
	if b.Exposed, err = d.exposures(p); err != nil {
		return b, err
	}
	for _, also := range p.Work.Also {
		f, err := d.figuresFor(p, also)
		if err != nil {
			return b, err
		}
		b.More = append(b.More, f)
	}
	if b.Steps, err = d.store.Steps(id); err != nil {
		return b, err
	}
	b.Strip, err = d.OnBench()
	return b, err
}

// OnBench returns the batch, oldest first.
func (d *Desk) OnBench() ([]Item, error) {
	items, err := d.items(store.Bench)
	slices.Reverse(items)
	return items, err
}

func (d *Desk) work(p store.Picture) audit.Work { return workUnder(d.Rules(), d.today(), p) }

// workUnder is a picture as it is judged by some rules on a day.
func workUnder(house rules.Rules, today string, p store.Picture) audit.Work {
	w := p.Work
	out := audit.Work{Facts: p.Facts, Recipe: w.Recipe, Name: w.Name, Section: p.Section, Seen: p.Consents, Faces: p.Faces, Left: w.Left, Today: today, Credit: w.Credit, House: house,
		Said: words.Said{Alt: w.Alt, Decorative: w.Decorative, Reason: w.Reason, Hidden: strings.Split(w.Hidden, ",")}}
	if slot, ok := house.Slot(w.Slot); ok {
		out.Slot = &slot
	}
	return out
}

// SetSlot chooses where a picture will stand.
func (d *Desk) SetSlot(id uint, slot string) error {
	chosen, ok := d.Rules().Slot(slot)
	if !ok {
		return refuse(Bad, fmt.Sprintf("There is no slot %q.", slot), "Choose one of the house's slots.")
	}
	return d.change(id, func(p *store.Picture) (string, error) {
		p.Work.Slot = slot
		p.Work.Also = without(p.Work.Also, slot)
		return "Fitted for " + chosen.Title, nil
	})
}

// SetAlso says whether a picture is cut for a further slot, too.
func (d *Desk) SetAlso(id uint, slot string, also bool) error {
	chosen, ok := d.Rules().Slot(slot)
	if !ok {
		return refuse(Bad, fmt.Sprintf("There is no slot %q.", slot), "Choose one of the house's slots.")
	}
	return d.change(id, func(p *store.Picture) (string, error) {
		p.Work.Also = without(p.Work.Also, slot)
		if !also || p.Work.Slot == slot {
			return "No longer for " + chosen.Title, nil
		}
		p.Work.Also = append(p.Work.Also, slot)
		return "Also for " + chosen.Title, nil
	})
}

// without returns a list without one of its entries; nil where none is left.
func without(list []string, one string) []string {
	rest := slices.DeleteFunc(slices.Clone(list), func(s string) bool { return s == one })
	if len(rest) == 0 {
		return nil
	}
	return rest
}

// leastBudget is the least budget of a cut, in bytes.
const leastBudget = 2000

// SetBudget gives the cuts of a picture for a slot a byte budget of their own; 0
// is the slot's.
func (d *Desk) SetBudget(id uint, slot string, budget int64) error {
	chosen, ok := d.Rules().Slot(slot)
	if !ok {
		return refuse(Bad, fmt.Sprintf("There is no slot %q.", slot), "Choose one of the house's slots.")
	}
	if budget != 0 && budget < leastBudget {
		return refuse(Bad, "Not even a thumbnail is that light.", "Give it 2 kB at least.")
	}
	return d.change(id, func(p *store.Picture) (string, error) {
		budgets := maps.Clone(p.Work.Budgets)
		delete(budgets, slot)
		if budget == 0 || budget == chosen.Budget {
			if len(budgets) == 0 {
				budgets = nil
			}
			p.Work.Budgets = budgets
			return "The house's budget for " + chosen.Title, nil
		}
		if budgets == nil {
			budgets = map[string]int64{}
		}
		budgets[slot] = budget
		p.Work.Budgets = budgets
		return fmt.Sprintf("Budget for %s: %s", chosen.Title, fit.Weight(budget)), nil
	})
}

// SetStill chooses the frame of an animation that stands where it cannot move,
// counted from 0.
func (d *Desk) SetStill(id uint, frame int) error {
	return d.change(id, func(p *store.Picture) (string, error) {
		if frame < 0 || frame >= max(1, p.Facts.Frames) {
			return "", refuse(Bad, fmt.Sprintf("There is no frame %d.", frame+1), "Choose one from the strip of frames.")
		}
		p.Work.Still = frame
		return fmt.Sprintf("Stands still on frame %d where it cannot move", frame+1), nil
	})
}

// SetFrame crops a picture to a rectangle of its upright original.
func (d *Desk) SetFrame(id uint, frame image.Rectangle) error {
	return d.change(id, func(p *store.Picture) (string, error) {
		r, err := p.Work.Recipe.WithFrame(frame, p.Facts.Upright())
		if err != nil {
			return "", &Refusal{Bad, sentence(err), "The frame is as it was before.", err}
		}
		p.Work.Recipe = r
		if len(r.Edits) == 0 {
			return "Frame taken off: the whole picture", nil
		}
		return r.Edits[len(r.Edits)-1].Describe(), nil
	})
}

// change does one act on a picture as one step of its history. An act that
// changes nothing leaves no step.
func (d *Desk) change(id uint, act func(*store.Picture) (string, error)) error {
	return d.changeIn(id, func(_ *store.Store, p *store.Picture) (string, error) { return act(p) })
}

// changeIn is change for an act that reads other records of the same moment.
func (d *Desk) changeIn(id uint, act func(*store.Store, *store.Picture) (string, error)) error {
	return d.stirring(id, func(s *store.Store) error {
		p, err := d.mine(s, id)
		if err != nil {
			return err
		}
		before := p.Work
		text, err := act(s, &p)
		if err != nil {
			return err
		}
		if same(before, p.Work) {
			return nil
		}
		return d.keepStep(s, &p, text)
	})
}

// keepStep keeps a picture as a further step of its history.
func (d *Desk) keepStep(s *store.Store, p *store.Picture, text string) error {
	p.Soft = softness(d, *p) != ""
	if err := s.AddStep(p, text, d.who.Name, d.now()); err != nil {
		return err
	}
	return d.tracePicture(s, *p, "%s: %s", nameOr(*p), text)
}

// stirring does an act on a picture as one transaction, and then tells those who
// have it open.
func (d *Desk) stirring(id uint, act func(*store.Store) error) error {
	err := d.store.Tx(act)
	if err == nil {
		d.stir(pictureRoom(id))
	}
	return err
}

func same(a, b store.Work) bool { return reflect.DeepEqual(a, b) }

func sentence(err error) string {
	text := err.Error()
	return strings.ToUpper(text[:1]) + text[1:] + "."
}
