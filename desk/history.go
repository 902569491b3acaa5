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

// First is the step that the history begins with: as the picture arrived, or as its file
// was swapped.
func (b Bench) First() int {
	if len(b.Steps) == 0 {
		return 0
	}
	return b.Steps[0].Seq
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
		if err := s.SavePicture(&p); err != nil {
			return err
		}
		return d.tracePicture(s, p, "%s: went to the step “%s”", nameOr(p), step.Text)
	})
}

// asSeen returns a veil of a picture, unless somebody else has changed it since, or taken
// it off. seen is the step that the screen of whoever asks showed, or [Newest]. Call it
// in the transaction that changes the veil.
func (d *Desk) asSeen(s *store.Store, p store.Picture, seen int, id string) (veil.Veil, error) {
	now, ok := p.Work.Recipe.Veil(id)
	if !ok {
		return now, refuse(Clash, "Somebody else has taken this veil off already.", "Look at the veils as they are now.")
	}
	if seen == Newest || seen == p.Step {
		return now, nil
	}
	since, err := s.StepsSince(p.ID, seen)
	if err != nil {
		return now, err
	}
	byNumber := map[int]store.Step{}
	for _, step := range since {
		byNumber[step.Seq] = step
	}
	if was, ok := byNumber[seen].Work.Recipe.Veil(id); ok && sameVeil(was, now) {
		return now, nil
	}
	for _, step := range since {
		was, known := byNumber[step.Parent]
		if step.Seq == seen || known && !changesVeil(was, step, id) {
			continue
		}
		if step.Person != d.who.Name { // whoever is quick is ahead of the answers to their own acts
			return now, refuse(Clash, "Somebody else has changed this veil meanwhile.", "Look at it as it is now, then try again.")
		}
	}
	return now, nil
}

// changesVeil reports whether a veil is another one after a step than before it.
func changesVeil(before, after store.Step, id string) bool {
	a, there := before.Work.Recipe.Veil(id)
	b, still := after.Work.Recipe.Veil(id)
	return there != still || !sameVeil(a, b)
}

func sameVeil(a, b veil.Veil) bool { return fingerprint(8, a) == fingerprint(8, b) }
