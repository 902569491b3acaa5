package bench

import (
	"image"

	"mivlet/core/fit"
	"mivlet/core/recipe"
	"mivlet/desk/access"
	"mivlet/store"
)

// Boxes is a picture with what each exact box of the house takes of it: what a
// focus comes to, and nothing else, as it is asked for while the hand moves.
func (d *Desk) Boxes(id uint, focus *fit.Focus) (View, error) {
	p, err := d.Mine(d.Store, id)
	if err != nil {
		return View{}, err
	}
	if focus != nil {
		e := recipe.Edit{Op: recipe.OpFocus, FocusX: focus.X, FocusY: focus.Y}
		if p.Work.Recipe, err = p.Work.Recipe.With(e, p.Facts.Upright()); err != nil {
			return View{}, access.Because(access.Bad, access.Sentence(err), "The focus is as it was before.", err)
		}
	}
	return View{Picture: p, Source: p.Facts.Upright(), Boxes: d.boxes(p)}, nil
}

// BoxLook is what an exact box takes of a picture.
type BoxLook struct {
	Title string
	Box   fit.Size        // CSS px
	Part  image.Rectangle // of the upright original
}

func (d *Desk) boxes(p store.Picture) []BoxLook {
	var all []BoxLook
	view := p.Work.Recipe.View(p.Facts.Upright())
	for _, slot := range d.Rules().Slots {
		if w, _ := slot.Ratio(); w == 0 {
			continue
		}
		want := slot.Want()
		cut := view.Plan(want, []float64{1})[0]
		all = append(all, BoxLook{slot.Title, fit.Size{W: want.Width, H: want.Height}, cut.Source})
	}
	return all
}
