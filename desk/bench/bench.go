package bench

import (
	"fmt"
	"image"
	"maps"
	"slices"

	"mivlet/core/audit"
	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/naming"
	"mivlet/core/recipe"
	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/desk/cuts"
	"mivlet/desk/derive"
	"mivlet/desk/pictures"
	"mivlet/desk/presence"
	"mivlet/store"
)

// View is a picture on the bench with all that its screen shows.
type View struct {
	store.Picture
	Slot     *rules.Slot // nil until one is chosen
	Source   fit.Size
	Frame    image.Rectangle
	Figures  cuts.Figures
	Findings []audit.Finding
	Proposal naming.Proposal // the name the house would give it, where its own does not do
	Steps    []store.Step
	Strip    []pictures.Item
	Boxes    []BoxLook       // what the exact boxes of the house take of it
	More     []cuts.Figures  // of the further slots that it is cut for
	Stands   map[string]bool // the slots in which a picture that moves would stand still
	Today    string          // 2006-01-02
	Exposed  []Exposure      // live pages that show it otherwise than it may be shown now
}

// Ready reports whether nothing keeps the picture from going live.
func (b View) Ready() bool { return len(audit.Stops(b.Findings)) == 0 }

// View returns a picture as it lies on the bench.
func (d *Desk) View(id uint) (View, error) {
	p, err := d.Mine(d.Store, id)
	if err != nil {
		return View{}, err
	}
	b := View{Picture: p, Source: p.Facts.Upright()}
	b.Frame = p.Work.Recipe.Frame(b.Source)
	if slot, ok := d.Rules().Slot(p.Work.Slot); ok {
		b.Slot = &slot
	}
	b.Today = d.Today()
	b.Findings = audit.Check(d.pictures.Work(p))
	if p.Work.Name == "" || len(audit.At(b.Findings, audit.Name)) > 0 {
		if b.Proposal, err = d.pictures.Propose(p, p.Work.Name); err != nil {
			return b, err
		}
	}
	if b.Figures, err = d.cuts.Figures(p); err != nil {
		return b, err
	}
	b.Boxes, b.Stands = d.boxes(p), d.derive.StandsIn(p)
	if b.Exposed, err = d.exposures(p); err != nil {
		return b, err
	}
	for _, also := range p.Work.Also {
		f, err := d.cuts.FiguresFor(p, also)
		if err != nil {
			return b, err
		}
		b.More = append(b.More, f)
	}
	if b.Steps, err = d.Store.Steps(id); err != nil {
		return b, err
	}
	b.Strip, err = d.OnBench()
	return b, err
}

// OnBench returns the batch, oldest first.
func (d *Desk) OnBench() ([]pictures.Item, error) {
	items, err := d.pictures.Items(store.Bench)
	slices.Reverse(items)
	return items, err
}

// SetSlot chooses where a picture will stand.
func (d *Desk) SetSlot(id uint, slot string) error {
	chosen, ok := d.Rules().Slot(slot)
	if !ok {
		return access.Refuse(access.Bad, fmt.Sprintf("There is no slot %q.", slot), "Choose one of the house's slots.")
	}
	return d.pictures.Change(id, func(p *store.Picture) (string, error) {
		p.Work.Slot = slot
		p.Work.Also = without(p.Work.Also, slot)
		return "Fitted for " + chosen.Title, nil
	})
}

// SetAlso says whether a picture is cut for a further slot, too.
func (d *Desk) SetAlso(id uint, slot string, also bool) error {
	chosen, ok := d.Rules().Slot(slot)
	if !ok {
		return access.Refuse(access.Bad, fmt.Sprintf("There is no slot %q.", slot), "Choose one of the house's slots.")
	}
	return d.pictures.Change(id, func(p *store.Picture) (string, error) {
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
		return access.Refuse(access.Bad, fmt.Sprintf("There is no slot %q.", slot), "Choose one of the house's slots.")
	}
	if budget != 0 && budget < leastBudget {
		return access.Refuse(access.Bad, "That is too little for any picture.", "Enter at least 2 kB.")
	}
	return d.pictures.Change(id, func(p *store.Picture) (string, error) {
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

// SetStill chooses the frame of an animation that is shown where animations do not play,
// counted from 0.
func (d *Desk) SetStill(id uint, frame int) error {
	return d.pictures.Change(id, func(p *store.Picture) (string, error) {
		if frame < 0 || frame >= max(1, p.Facts.Frames) {
			return "", access.Refuse(access.Bad, fmt.Sprintf("There is no frame %d.", frame+1), "Choose one from the strip of frames.")
		}
		p.Work.Still = frame
		return fmt.Sprintf("Shows frame %d where animations do not play", frame+1), nil
	})
}

// SetFrame crops a picture to a rectangle of what is seen of it when it is turned by turn;
// [facts.Upright] for one of its upright original.
func (d *Desk) SetFrame(id uint, frame image.Rectangle, turn facts.Orientation) error {
	return d.pictures.Change(id, func(p *store.Picture) (string, error) {
		source, r := p.Facts.Upright(), p.Work.Recipe
		err := recipe.FrameIn(frame, turn.Turned(source))
		if err == nil {
			r, err = r.WithFrame(turn.RectToStored(frame, source), source)
		}
		if err != nil {
			return "", access.Because(access.Bad, access.Sentence(err), "The frame is as it was before.", err)
		}
		p.Work.Recipe = r
		if len(r.Edits) == 0 {
			return "Frame removed: the whole picture", nil
		}
		return r.Edits[len(r.Edits)-1].Describe(), nil
	})
}

// EnterBench enters the room of a picture on the bench.
func (d *Desk) EnterBench(id uint) (*presence.Visit, error) {
	if _, err := d.Mine(d.Store, id); err != nil {
		return nil, err
	}
	return d.Rooms.Enter(presence.Picture(id), d.Visitor()), nil
}

// Shown returns the step of a picture's history that is shown.
func (d *Desk) Shown(id uint) (int, error) {
	p, err := d.Mine(d.Store, id)
	return p.Step, err
}

// CutAll makes the files of a picture for all slots that it is for, and returns it
// with its figures.
func (d *Desk) CutAll(id uint) (View, error) {
	p, err := d.Mine(d.Store, id)
	if err != nil {
		return View{}, err
	}
	b := View{Picture: p, Source: p.Facts.Upright()}
	for _, slot := range append([]string{p.Work.Slot}, p.Work.Also...) {
		if _, err := d.cuts.MakeCuts(id, slot); err != nil {
			return b, err
		}
		f, err := d.cuts.FiguresFor(p, slot)
		if err != nil {
			return b, err
		}
		if slot == p.Work.Slot {
			b.Figures = f
		} else {
			b.More = append(b.More, f)
		}
	}
	return b, nil
}

// Measured is a picture with the figures for a frame and a slot that are not
// chosen yet: what would be, while the hand moves. An empty frame means the one
// that is chosen, an empty slot likewise.
func (d *Desk) Measured(id uint, frame image.Rectangle, slot string) (View, error) {
	p, err := d.Mine(d.Store, id)
	if err != nil {
		return View{}, err
	}
	if !frame.Empty() {
		if p.Work.Recipe, err = p.Work.Recipe.WithFrame(frame, p.Facts.Upright()); err != nil {
			return View{}, access.Because(access.Bad, access.Sentence(err), "The frame is as it was before.", err)
		}
	}
	if slot != "" {
		p.Work.Slot = slot
	}
	b := View{Picture: p, Source: p.Facts.Upright()}
	b.Figures, err = d.cuts.Figures(p)
	return b, err
}

// Frames lists the frames of an animation that its strip shows, counted from 0:
// all of them, or some of many, evenly.
func (b View) Frames() []int { return derive.FramesShown(b.Facts) }
