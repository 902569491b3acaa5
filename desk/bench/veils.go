package bench

import (
	"cmp"
	"fmt"
	"image"
	"slices"

	"mivlet/core/recipe"
	"mivlet/core/veil"
	"mivlet/desk/access"
	"mivlet/store"
)

// AddVeils draws several veils on a picture, as one step.
func (d *Desk) AddVeils(id uint, veils []veil.Veil) error {
	drawn, err := d.readyVeils(id, namedAll(veils))
	if err != nil {
		return err
	}
	return d.recipe(id, "Hidden: "+access.Count(len(veils), "line"), func(p store.Picture) (recipe.Recipe, error) {
		return p.Work.Recipe.WithVeils(drawn.of(p), p.Facts.Upright())
	})
}

// ready are veils as they will be kept, made ready for one original.
type ready struct {
	veils    []veil.Veil
	original string // hash of the file that coarse colours were sampled from
}

// of are the veils for a picture as it is now: where another file has been swapped in,
// coarse colours of the old one would stand on it, and none are told.
func (r ready) of(p store.Picture) []veil.Veil {
	if p.OriginalHash == r.original {
		return r.veils
	}
	all := slices.Clone(r.veils)
	for i := range all {
		all[i].Told = nil
	}
	return all
}

// readyVeils gives veils what the house and the picture add to them: the colour of the
// house, and the coarse colours of a figure that is to keep some. These are sampled from
// the original once, here: no cut ever looks at what is hidden.
func (d *Desk) readyVeils(id uint, veils []veil.Veil) (ready, error) {
	p, err := d.Mine(d.Store, id)
	if err != nil {
		return ready{}, err
	}
	all := slices.Clone(veils)
	sampled := false
	for i, v := range all {
		v.Told = nil
		if v.Style == veil.Colour {
			v.Fill = cmp.Or(v.Fill, d.Rules().Hiding.Colour)
		} else {
			v.Fill = ""
		}
		if v.Style != veil.Figure {
			v.Cells = 0
		}
		if err := v.Check(); err != nil {
			return ready{}, access.Because(access.Bad, access.Sentence(err), "The picture is as it was before.", err)
		}
		all[i], sampled = v, sampled || v.Cells > 0
	}
	if !sampled {
		return ready{all, p.OriginalHash}, nil
	}
	src, done, err := d.derive.Source(p)
	if err != nil {
		return ready{}, err
	}
	defer done()
	for i, v := range all {
		all[i].Told = src.Told(v, []byte(p.Secret))
	}
	return ready{all, p.OriginalHash}, nil
}

// keeping is a veil as somebody has changed it, with what no form says of it: how high its
// letters are, and where it stands in later frames.
func keeping(now, was veil.Veil) veil.Veil {
	if now.Letters == 0 && now.Reason.OfText() {
		now.Letters = was.Letters
	}
	if len(now.Path) == 0 && len(was.Path) > 0 {
		now.Path = was.Path
		return now.Placed(0, now.Box())
	}
	return now
}

// FollowVeil says where the veil of a name stands from a frame of an animation on, counted
// from 0. Between two places that were said it moves evenly. seen is the step that the
// screen showed, or [Newest].
func (d *Desk) FollowVeil(id uint, seen int, name string, frame int, at image.Rectangle) error {
	return d.veil(id, seen, name, fmt.Sprintf("follows, frame %d", frame+1), func(p store.Picture) (recipe.Recipe, error) {
		if !p.Facts.KeepsMotion() {
			return p.Work.Recipe, fmt.Errorf("a veil follows only in a picture that moves")
		}
		if frame < 0 || frame >= p.Facts.Frames {
			return p.Work.Recipe, fmt.Errorf("this picture has the frames 1 to %d, not %d", p.Facts.Frames, frame+1)
		}
		v, _ := p.Work.Recipe.Veil(name)
		v = v.Placed(frame, at)
		if frame == 0 && v.Shape != veil.Polygon {
			v.Bounds = at
		}
		return p.Work.Recipe.SetVeil(v)
	})
}

// StandVeil makes a veil that follows stand still again, where it is in the first frame.
func (d *Desk) StandVeil(id uint, seen int, name string) error {
	return d.veil(id, seen, name, "stands still", func(p store.Picture) (recipe.Recipe, error) {
		v, _ := p.Work.Recipe.Veil(name)
		v.Path = nil
		return p.Work.Recipe.SetVeil(v)
	})
}
