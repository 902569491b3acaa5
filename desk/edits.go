package desk

import (
	"fmt"

	"mivlet/core/fit"
	"mivlet/core/raster"
	"mivlet/core/recipe"
	"mivlet/core/veil"
	"mivlet/store"
)

// Edit does one edit to a picture: a turn, a flip, a straightening, a focus, a
// frame or a veil.
func (d *Desk) Edit(id uint, e recipe.Edit) error {
	return d.recipe(id, e.Describe(), func(p store.Picture) (recipe.Recipe, error) {
		return p.Work.Recipe.With(e, p.Facts.Upright())
	})
}

// recipe changes the recipe of a picture, as one step.
func (d *Desk) recipe(id uint, text string, act func(store.Picture) (recipe.Recipe, error)) error {
	return d.change(id, func(p *store.Picture) (string, error) {
		r, err := act(*p)
		if err != nil {
			return "", &Refusal{Bad, sentence(err), "The picture is as it was before.", err}
		}
		p.Work.Recipe = r
		return text, nil
	})
}

// SetVeil changes a veil of a picture, counted from 0: its place, style,
// strength or reason. seen is the step that the screen showed; -1 for none.
func (d *Desk) SetVeil(id uint, seen, i int, v veil.Veil) error {
	if err := d.asSeen(id, seen); err != nil {
		return err
	}
	text := fmt.Sprintf("Veil %d: %s, %s", i+1, v.Style, veil.Left(v.Style, v.Cells))
	return d.recipe(id, text, func(p store.Picture) (recipe.Recipe, error) { return p.Work.Recipe.SetVeil(i, v) })
}

// DropVeil takes a veil off a picture, counted from 0. seen is the step that the
// screen showed; -1 for none.
func (d *Desk) DropVeil(id uint, seen, i int) error {
	if err := d.asSeen(id, seen); err != nil {
		return err
	}
	return d.recipe(id, fmt.Sprintf("Veil %d taken off", i+1), func(p store.Picture) (recipe.Recipe, error) { return p.Work.Recipe.DropVeil(i) })
}

// RepeatVeils draws the veils of a picture on all others of the batch that are
// of the same size, and have none yet: screenshots one after the other. It
// returns how many they are.
func (d *Desk) RepeatVeils(id uint) (int, error) {
	from, err := d.mine(d.store, id)
	if err != nil {
		return 0, err
	}
	veils := from.Work.Recipe.Veils()
	if len(veils) == 0 {
		return 0, refuse(Bad, "There is no veil to repeat.", "Draw one first.")
	}
	batch, err := d.own(store.Bench)
	if err != nil {
		return 0, err
	}
	n := 0
	for _, p := range batch {
		if p.ID == id || p.Facts.Upright() != from.Facts.Upright() || len(p.Work.Recipe.Veils()) > 0 {
			continue
		}
		err := d.recipe(p.ID, fmt.Sprintf("The veils of %s repeated", nameOr(from)), func(p store.Picture) (recipe.Recipe, error) {
			return p.Work.Recipe.WithVeils(veils, p.Facts.Upright())
		})
		if err != nil {
			return n, err
		}
		n++
	}
	return n, nil
}

// TrimBorder frames what is not plain border.
func (d *Desk) TrimBorder(id uint) error {
	p, err := d.mine(d.store, id)
	if err != nil {
		return err
	}
	src, err := d.preview(p)
	if err != nil {
		return err
	}
	small, whole := src.Upright(), p.Facts.Upright()
	part := raster.Trim(src.Image())
	if part == small.Rect() {
		return refuse(Bad, "There is no plain border.", "The frame is as it was.")
	}
	frame := fit.ScaleOf(small, whole).Outward(part)
	return d.SetFrame(id, frame.Intersect(whole.Rect()))
}

// NextLacking returns the picture of the batch after this one that still lacks
// something, round to the beginning; 0 where none does.
func (d *Desk) NextLacking(id uint) (uint, error) {
	batch, err := d.OnBench()
	if err != nil {
		return 0, err
	}
	here := 0
	for i, item := range batch {
		if item.ID == id {
			here = i
		}
	}
	for i := range batch {
		if item := batch[(here+1+i)%len(batch)]; len(item.Lacks) > 0 && item.ID != id {
			return item.ID, nil
		}
	}
	return 0, nil
}
