package desk

import (
	"errors"
	"fmt"
	"image"
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
	Proposal naming.Proposal // the name the house would give it
	Steps    []store.Step
	Strip    []Item
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

// CanUndo reports whether there is a step to go back to.
func (b Bench) CanUndo() bool { return b.Step > 0 }

// CanRedo reports whether there is a step to go forward to.
func (b Bench) CanRedo() bool { return len(b.Steps) > 0 && b.Step < b.Steps[len(b.Steps)-1].Seq }

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
	b.Findings = audit.Check(d.work(p))
	if b.Proposal, err = d.Propose(p, p.Work.Name); err != nil {
		return b, err
	}
	if b.Figures, err = d.figures(p); err != nil {
		return b, err
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

func (d *Desk) work(p store.Picture) audit.Work {
	w := p.Work
	out := audit.Work{Facts: p.Facts, Recipe: w.Recipe, Name: w.Name, Section: p.Section, Consent: w.Consent, Until: w.ConsentUntil,
		Today: d.now().Format("2006-01-02"), Credit: w.Credit, House: d.Rules(),
		Said: words.Said{Alt: w.Alt, Decorative: w.Decorative, Reason: w.Reason, Hidden: strings.Split(w.Hidden, ",")}}
	if slot, ok := d.Rules().Slot(w.Slot); ok {
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
		return "Fitted for " + chosen.Title, nil
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

// SetAlt describes a picture in words.
func (d *Desk) SetAlt(id uint, alt string) error {
	return d.change(id, func(p *store.Picture) (string, error) {
		before := WordsOf(*p)
		p.Work.Alt = strings.TrimSpace(alt)
		return wordsStep(before, WordsOf(*p)), nil
	})
}

// change does one act on a picture as one step of its history. An act that
// changes nothing leaves no step.
func (d *Desk) change(id uint, act func(*store.Picture) (string, error)) error {
	return d.store.Tx(func(s *store.Store) error {
		p, err := d.mine(s, id)
		if err != nil {
			return err
		}
		before := p.Work
		text, err := act(&p)
		if err != nil {
			return err
		}
		if same(before, p.Work) {
			return nil
		}
		p.Soft = softness(d, p) != ""
		if err := s.AddStep(&p, text, d.who.Name, d.now()); err != nil {
			return err
		}
		return d.trace(s, p.Section, "%s: %s", nameOr(p), text)
	})
}

func same(a, b store.Work) bool { return reflect.DeepEqual(a, b) }

// GoTo shows a step of a picture's history: undo, redo, and any further back.
// Nothing is lost until a new step is made.
func (d *Desk) GoTo(id uint, seq int) error {
	d.naming.Lock()
	defer d.naming.Unlock()
	return d.store.Tx(func(s *store.Store) error {
		p, err := d.mine(s, id)
		if err != nil {
			return err
		}
		step, err := s.Step(id, seq)
		if errors.Is(err, store.ErrNotFound) {
			return refuse(Missing, "There is no such step.", "The history may have changed: look again.")
		}
		if err != nil {
			return err
		}
		if name := step.Work.Name; name != "" {
			taken, err := s.NameTaken(p.Section, name, id)
			if err != nil {
				return err
			}
			if taken {
				return refuse(Clash, fmt.Sprintf("The name %s belongs to another picture by now.", name), "Rename that one first.")
			}
		}
		p.Step, p.Work, p.UpdatedAt = seq, step.Work, d.now()
		p.Soft = softness(d, p) != ""
		return s.SavePicture(&p)
	})
}

func sentence(err error) string {
	text := err.Error()
	return strings.ToUpper(text[:1]) + text[1:] + "."
}
