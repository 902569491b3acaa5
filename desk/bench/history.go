package bench

import (
	"errors"
	"fmt"

	"mivlet/core/steps"
	"mivlet/core/veil"
	"mivlet/desk/access"
	"mivlet/desk/derive"
	"mivlet/desk/pictures"
	"mivlet/store"
)

// history is the tree of the picture's steps.
func (b View) history() steps.History[store.Step] {
	return steps.History[store.Step]{Steps: b.Steps, Shown: b.Step}
}

// Undo is the step that the shown one was made from; -1 where there is none.
func (b View) Undo() int { return b.history().Undo() }

// Redo is the newest step that was made from the shown one; -1 where there is none.
func (b View) Redo() int { return b.history().Redo() }

// Aside reports whether a step lies on a branch that was left. It can be gone to all the
// same.
func (b View) Aside(seq int) bool { return b.history().Aside(seq) }

// First is the step that the history begins with: as the picture arrived, or as its file
// was swapped.
func (b View) First() int { return b.history().First() }

// GoTo shows a step of a picture's history: undo, redo, and any further back.
// Nothing is lost until a new step is made.
func (d *Desk) GoTo(id uint, seq int) error {
	defer d.pictures.TakeNames()()
	return d.pictures.Stirring(id, func(s store.Records) error {
		p, err := d.Mine(s, id)
		if err != nil {
			return err
		}
		step, err := s.Step(id, seq)
		if errors.Is(err, store.ErrNotFound) {
			return access.Refuse(access.Missing, "There is no such step.", "The history may have changed: look again.")
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
				return access.Refuse(access.Clash, fmt.Sprintf("The name %s belongs to another picture by now.", name), "Rename that one first.")
			}
		}
		p.Step, p.Work, p.UpdatedAt = seq, step.Work, d.Now()
		p.Soft = pictures.Softness(d.pictures, p) != ""
		if err := s.SavePicture(&p); err != nil {
			return err
		}
		return d.TracePicture(s, p, "%s: went to the step “%s”", access.NameOr(p), step.Text)
	})
}

// asSeen returns a veil of a picture, unless somebody else has changed it since, or taken
// it off. seen is the step that the screen of whoever asks showed, or [Newest]. Call it
// in the transaction that changes the veil.
func (d *Desk) asSeen(s store.Records, p store.Picture, seen int, id string) (veil.Veil, error) {
	now, ok := p.Work.Recipe.Veil(id)
	if !ok {
		return now, access.Refuse(access.Clash, "Somebody else has taken this veil off already.", "Look at the veils as they are now.")
	}
	if seen == pictures.Newest || seen == p.Step {
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
		if step.Person != d.Person.Name { // whoever is quick is ahead of the answers to their own acts
			return now, access.Refuse(access.Clash, "Somebody else has changed this veil in the meantime.", "Look at it as it is now, then try again.")
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

func sameVeil(a, b veil.Veil) bool { return derive.Fingerprint(8, a) == derive.Fingerprint(8, b) }
