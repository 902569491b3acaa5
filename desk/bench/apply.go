package bench

import (
	"errors"
	"fmt"
	"slices"

	"mivlet/core/fit"
	"mivlet/core/recipe"
	"mivlet/desk/access"
	"mivlet/desk/cuts"
	"mivlet/desk/derive"
	"mivlet/desk/jobs"
	"mivlet/desk/pictures"
	"mivlet/desk/presence"
	"mivlet/store"
)

// ApplyStep does to other pictures what a step of a picture's history did to it:
// all of them, or none. Frames and veils are carried over to other sizes. A name
// and a description belong to one picture alone. It returns how many changed.
func (d *Desk) ApplyStep(id uint, seq int, to []uint) (int, error) {
	p, err := d.Mine(d.Store, id)
	if err != nil {
		return 0, err
	}
	if len(to) == 0 {
		return 0, access.Refuse(access.Bad, "No picture is chosen.", "Choose some in the strip of the batch.")
	}
	step, err := d.Store.Step(id, seq)
	if errors.Is(err, store.ErrNotFound) || err == nil && step.Parent < 0 {
		return 0, access.Refuse(access.Missing, "There is no such step.", "The history may have changed: look again.")
	}
	if err != nil {
		return 0, err
	}
	before, err := d.Store.Step(id, step.Parent)
	if err != nil {
		return 0, err
	}
	done := difference(before.Work, step.Work)
	if done.empty() {
		return 0, access.Refuse(access.Bad, "That step cannot be copied to other pictures.", "Only frames, turns, veils, slots and credits can.")
	}
	n := 0
	err = d.Store.Tx(func(s store.Records) error {
		for _, other := range to {
			if other == id {
				continue
			}
			q, err := d.Mine(s, other)
			if err != nil {
				return err
			}
			was := q.Work
			if err := done.to(&q, p.Facts.Upright()); err != nil {
				return access.Because(access.Bad, fmt.Sprintf("%s: %s", access.NameOr(q), access.Sentence(err)), "No picture was changed.", err)
			}
			if pictures.Same(was, q.Work) {
				continue
			}
			n++
			if err := d.pictures.KeepStep(s, &q, step.Text+", as "+access.NameOr(p)); err != nil {
				return err
			}
		}
		return nil
	})
	for _, other := range to {
		d.Rooms.Notify(presence.Picture(other))
	}
	return n, err
}

// act is what a step changed.
type act struct {
	edits   []recipe.Edit
	slot    string
	also    []string
	budgets map[string]int64
	credit  string
}

func (a act) empty() bool {
	return len(a.edits) == 0 && a.slot == "" && a.also == nil && a.budgets == nil && a.credit == ""
}

func difference(from, to store.Work) act {
	var a act
	old := map[string]int{}
	for _, e := range from.Recipe.Edits {
		old[derive.Fingerprint(8, e)]++
	}
	for _, e := range to.Recipe.Edits {
		if key := derive.Fingerprint(8, e); old[key] > 0 {
			old[key]--
			continue
		}
		a.edits = append(a.edits, e)
	}
	if from.Slot != to.Slot {
		a.slot = to.Slot
	}
	if !slices.Equal(from.Also, to.Also) {
		a.also = to.Also
	}
	if derive.Fingerprint(8, from.Budgets) != derive.Fingerprint(8, to.Budgets) {
		a.budgets = to.Budgets
	}
	if from.Credit != to.Credit {
		a.credit = to.Credit
	}
	return a
}

// to does the act to a picture; from is the size that its edits were made for.
func (a act) to(p *store.Picture, from fit.Size) error {
	edits, _ := pictures.Carry(recipe.Recipe{Edits: a.edits}, from, p.Facts.Upright())
	r := p.Work.Recipe
	for _, e := range edits.Edits {
		if e.Op == recipe.OpVeil {
			e.Veil = named(*e.Veil)
		}
		var err error
		if r, err = r.With(e, p.Facts.Upright()); err != nil {
			return err
		}
	}
	p.Work.Recipe = r
	w := &p.Work
	if a.slot != "" {
		w.Slot = a.slot
	}
	if a.also != nil {
		w.Also = without(a.also, w.Slot)
	}
	if a.budgets != nil {
		w.Budgets = a.budgets
	}
	if a.credit != "" {
		w.Credit = a.credit
	}
	return nil
}

// CarryOver gives a picture that is next in the batch what the one before had, as
// far as it has none of its own: slot, section and credit, and a frame of the
// ratio that the hand was held to, w to h; 0 for a free one. It is one step.
func (d *Desk) CarryOver(from, to uint, w, h int) error {
	before, err := d.Mine(d.Store, from)
	if err != nil {
		return err
	}
	return d.pictures.Change(to, func(p *store.Picture) (string, error) {
		if p.Section == "" {
			p.Section = before.Section
		}
		if p.Work.Slot == "" {
			p.Work.Slot = before.Work.Slot
		}
		if p.Work.Credit == "" && p.Facts.Credit == "" {
			p.Work.Credit = before.Work.Credit
		}
		source := p.Facts.Upright()
		if w > 0 && h > 0 && w <= 100_000 && h <= 100_000 && p.Work.Recipe.Frame(source) == source.Rect() && len(p.Work.Recipe.Edits) == 0 {
			frame := fit.BoxFrame(source.Rect(), fit.Size{W: w, H: h}, fit.Centre)
			var err error
			if p.Work.Recipe, err = p.Work.Recipe.WithFrame(frame, source); err != nil {
				return "", err
			}
		}
		return "As " + access.NameOr(before), nil
	})
}

// CutBatch makes all cuts of the pictures on the bench beside the screens, as a
// job that can be stopped: of their slot, and of those that they are also for.
func (d *Desk) CutBatch() (*jobs.Job, error) {
	batch, err := d.pictures.Own(store.Bench)
	if err != nil {
		return nil, err
	}
	var tasks []jobs.Of[cuts.ToCut]
	for _, p := range batch {
		for _, id := range append([]string{p.Work.Slot}, p.Work.Also...) {
			slot, ok := d.Rules().Slot(id)
			if !ok {
				continue
			}
			made, err := d.Store.Cuts(p.ID, d.cuts.CutKey(p, slot))
			if err != nil {
				return nil, err
			}
			if len(made) > 0 {
				continue
			}
			tasks = append(tasks, jobs.Of[cuts.ToCut]{Steps: 1, Of: cuts.CutOf(p.ID, slot)})
		}
	}
	if len(tasks) == 0 {
		return nil, access.Refuse(access.Bad, "All files of this batch are ready.", "They are made again when a frame or a slot changes.")
	}
	return d.cuts.Later("Cuts of the batch", tasks)
}
