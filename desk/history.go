package desk

import (
	"errors"
	"fmt"
	"slices"

	"mivlet/core/veil"
	"mivlet/store"
)

// Undo is the step that the shown one was made from; -1 where there is none.
func (b Bench) Undo() int {
	if s := b.step(b.Step); s != nil {
		return s.Parent
	}
	return -1
}

// Redo is the newest step that was made from the shown one; -1 where there is
// none.
func (b Bench) Redo() int { return next(b.Steps, b.Step) }

func next(steps []store.Step, seq int) int {
	for _, s := range slices.Backward(steps) {
		if s.Parent == seq {
			return s.Seq
		}
	}
	return -1
}

func (b Bench) step(seq int) *store.Step {
	for i := range b.Steps {
		if b.Steps[i].Seq == seq {
			return &b.Steps[i]
		}
	}
	return nil
}

// Aside reports whether a step lies on a branch that was left: neither on the way
// to the shown step nor ahead of it. It can be gone to all the same.
func (b Bench) Aside(seq int) bool {
	for at := b.step(b.Step); at != nil; at = b.step(at.Parent) {
		if at.Seq == seq {
			return false
		}
	}
	for at := b.Redo(); at >= 0; at = next(b.Steps, at) {
		if at == seq {
			return false
		}
	}
	return true
}

// GoTo shows a step of a picture's history: undo, redo, and any further back.
// Nothing is lost until a new step is made.
func (d *Desk) GoTo(id uint, seq int) error {
	d.naming.Lock()
	defer d.naming.Unlock()
	return d.stirring(id, func(s *store.Store) error {
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

// asSeen refuses to change a veil that is not where whoever asks saw it, as
// somebody else has changed the veils since. seen is the step that their screen
// showed; below 0 nothing was seen and nothing is refused.
func (d *Desk) asSeen(id uint, seen int) error {
	p, err := d.mine(d.store, id)
	if err != nil || seen < 0 || seen == p.Step {
		return err
	}
	step, err := d.store.Step(id, seen)
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return err
	}
	if err == nil && slices.EqualFunc(step.Work.Recipe.Veils(), p.Work.Recipe.Veils(), sameVeil) {
		return nil
	}
	return refuse(Clash, "Somebody else has changed the veils meanwhile.", "Look at them as they are now, then try again.")
}

func sameVeil(a, b veil.Veil) bool { return fingerprint(8, a) == fingerprint(8, b) }
