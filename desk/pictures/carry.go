package pictures

import (
	"fmt"
	"image"
	"math"

	"mivlet/core/fit"
	"mivlet/core/recipe"
	"mivlet/desk/access"
)

// Carry carries a recipe over to an original of another size.
func Carry(r recipe.Recipe, from, to fit.Size) (recipe.Recipe, []string) {
	scale := fit.ScaleOf(from, to)
	same := math.Abs(scale.X/scale.Y-1) < 0.02
	var notes []string
	var out recipe.Recipe
	for _, e := range r.Edits {
		switch e.Op {
		case recipe.OpFrame:
			if !same {
				notes = access.AddOnce(notes, "The frame was taken off: the new file has other proportions.")
				continue
			}
			f := scale.Rect(image.Rect(e.X, e.Y, e.X+e.Width, e.Y+e.Height)).Intersect(to.Rect())
			e.X, e.Y, e.Width, e.Height = f.Min.X, f.Min.Y, f.Dx(), f.Dy()
			notes = access.AddOnce(notes, "Check the frame: it was kept from the old file.")
		case recipe.OpVeil:
			v := e.Veil.Scaled(scale)
			v.Told = nil // what it told was of the old file
			e.Veil = &v
			notes = access.AddOnce(notes, "Check the veils: they are where they were in the old file.")
		}
		if with, err := out.With(e, to); err == nil {
			out = with
		} else {
			notes = access.AddOnce(notes, fmt.Sprintf("Left out: %s.", e.Describe()))
		}
	}
	return out, notes
}
