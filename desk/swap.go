package desk

import (
	"fmt"
	"image"
	"io"
	"math"

	"mivlet/core/fit"
	"mivlet/core/recipe"
	"mivlet/store"
)

// Swap tells what became of a recipe when a better original took the place of
// the old one.
type Swap struct {
	Picture store.Picture
	Notes   []string // what wants to be looked at
}

// SwapFile gives a picture a better original; every placement follows. Frames
// and veils are carried over where the new one has the same proportions;
// otherwise they are taken off or kept where they were, and told for review.
func (d *Desk) SwapFile(id uint, name string, r io.Reader) (Swap, error) {
	p, err := d.mine(d.store, id)
	if err != nil {
		return Swap{}, err
	}
	fresh, err := d.takeIn(name, r, p.Section)
	if err != nil {
		return Swap{}, err
	}
	var notes []string
	err = d.stirring(id, func(s *store.Store) error {
		now, err := d.mine(s, id)
		if err != nil {
			return err
		}
		// What was edited while the file came in is carried over, too.
		now.Work.Recipe, notes = carry(now.Work.Recipe, now.Facts.Upright(), fresh.Facts.Upright())
		now.OriginalHash, now.OriginalName, now.Facts = fresh.OriginalHash, fresh.OriginalName, fresh.Facts
		now.Faces, now.FacesBy, now.Work.Left = fresh.Faces, fresh.FacesBy, nil
		now.PreviewHash, now.TwinA, now.TwinB, now.TwinC = fresh.PreviewHash, fresh.TwinA, fresh.TwinB, fresh.TwinC
		now.Converted, now.ArrivedHash = fresh.Converted, fresh.ArrivedHash
		now.Soft = softness(d, now) != ""
		if err := s.AddStep(&now, "Another file: "+fresh.OriginalName, d.who.Name, d.now()); err != nil {
			return err
		}
		// Steps before it belong to the old file and cannot be gone back to.
		if err := s.ForgetSteps(id, now.Step); err != nil {
			return err
		}
		p = now
		return d.tracePicture(s, p, "%s: another file, %s", nameOr(p), fresh.OriginalName)
	})
	return Swap{p, notes}, err
}

// carry carries a recipe over to an original of another size.
func carry(r recipe.Recipe, from, to fit.Size) (recipe.Recipe, []string) {
	scale := fit.ScaleOf(from, to)
	same := math.Abs(scale.X/scale.Y-1) < 0.02
	var notes []string
	var out recipe.Recipe
	for _, e := range r.Edits {
		switch e.Op {
		case recipe.OpFrame:
			if !same {
				notes = addOnce(notes, "The frame was taken off: the new file has other proportions.")
				continue
			}
			f := scale.Rect(image.Rect(e.X, e.Y, e.X+e.Width, e.Y+e.Height)).Intersect(to.Rect())
			e.X, e.Y, e.Width, e.Height = f.Min.X, f.Min.Y, f.Dx(), f.Dy()
			notes = addOnce(notes, "Look at the frame: it was carried over.")
		case recipe.OpVeil:
			v := e.Veil.Scaled(scale)
			v.Told = nil // what it told was of the old file
			e.Veil = &v
			notes = addOnce(notes, "Look at the veils: they stand where they stood in the old file.")
		}
		if with, err := out.With(e, to); err == nil {
			out = with
		} else {
			notes = addOnce(notes, fmt.Sprintf("Left out: %s.", e.Describe()))
		}
	}
	return out, notes
}
