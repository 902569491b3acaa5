package desk

import (
	"fmt"
	"image"
	"slices"

	"mivlet/core/audit"
	"mivlet/core/face"
	"mivlet/core/fit"
	"mivlet/core/raster"
	"mivlet/core/recipe"
	"mivlet/core/veil"
	"mivlet/store"
)

// What has looked for the faces of a picture.
const (
	facesBy     = 1 // one look at all of it
	facesCloser = 2 // a closer look, at its own pixels
)

// FaceState is what has become of a face.
type FaceState string

// The states of a face.
const (
	FaceOpen    FaceState = "open"    // it can be seen, and nobody has said that it may
	FaceCovered FaceState = "covered" // a veil lies over it
	FaceLeft    FaceState = "left"    // somebody has said that it may be seen
)

// FoundFace is a face of a picture.
type FoundFace struct {
	face.Face
	State FaceState
}

// lookForFaces finds the faces of a picture that is decoded, unless the house leaves
// them alone. Nothing leaves the machine, and finding covers nothing.
func (d *Desk) lookForFaces(p *store.Picture, s *raster.Source) {
	p.Faces, p.FacesBy = nil, 0
	if d.Rules().Hiding.LeaveFace {
		return
	}
	p.Faces, p.FacesBy = FindFaces(s), facesBy
}

// FindFaces finds the faces of a decoded picture, in pixels of the upright original.
func FindFaces(s *raster.Source) []face.Face {
	whole := s.Upright()
	size := within(whole, face.Widest)
	up := fit.ScaleOf(size, whole)
	all := face.Find(s.Glance(size).Image())
	for i, f := range all {
		all[i].Bounds = up.Rect(f.Bounds).Intersect(whole.Rect())
	}
	return all
}

// FindFacesClosely finds the faces of a decoded picture at its own pixels: also those that
// one look at a large picture misses. It takes about five times as long.
func FindFacesClosely(s *raster.Source) []face.Face { return closer(s, FindFaces(s)) }

// closer adds the small faces of a picture to those that are known.
func closer(s *raster.Source, known []face.Face) []face.Face {
	whole := s.Upright()
	return face.Together(known, face.Closer(whole.Rect().Max, func(part image.Rectangle, size image.Point) image.Image {
		return s.Cut(part, fit.Size{W: size.X, H: size.Y})
	}))
}

// focusOnFaces lets every crop of a fresh picture keep its faces.
func focusOnFaces(p *store.Picture) {
	x, y, ok := face.Middle(p.Faces, p.Facts.Upright().Rect().Max)
	if !ok {
		return
	}
	if with, err := p.Work.Recipe.With(recipe.Edit{Op: recipe.OpFocus, FocusX: x, FocusY: y}, p.Facts.Upright()); err == nil {
		p.Work.Recipe = with
	}
}

// Faces are the faces of a picture, from left to right, with what has become of each.
// Where nothing has looked for them yet, it is done now.
func (d *Desk) Faces(id uint) ([]FoundFace, error) {
	p, err := d.mine(d.store, id)
	if err != nil {
		return nil, err
	}
	if d.Rules().Hiding.LeaveFace {
		return nil, refuse(Bad, "The house does not look for faces.", "Look for them yourself, and draw an oval over each that may not be seen.")
	}
	if p.FacesBy < facesBy {
		if p, err = d.facesNow(p); err != nil {
			return nil, err
		}
	}
	open := audit.OpenFaces(d.work(p))
	var all []FoundFace
	for _, f := range p.Faces {
		state := FaceCovered
		switch {
		case slices.ContainsFunc(open, func(o face.Face) bool { return o.ID() == f.ID() }):
			state = FaceOpen
		case slices.Contains(p.Work.Left, f.ID()):
			state = FaceLeft
		}
		all = append(all, FoundFace{f, state})
	}
	return all, nil
}

// facesNow looks for the faces of a picture that came when nothing did.
func (d *Desk) facesNow(p store.Picture) (store.Picture, error) {
	found, err := shared(d, "faces "+p.OriginalHash, func() (store.Picture, error) {
		src, done, err := d.source(p)
		if err != nil {
			return p, err
		}
		defer done()
		d.lookForFaces(&p, src)
		return p, nil
	})
	if err != nil {
		return p, err
	}
	p.Faces, p.FacesBy = found.Faces, found.FacesBy
	return p, d.store.SetFaces(p)
}

// CanLookCloser reports whether a closer look may find faces of a picture that one look
// at all of it misses.
func (d *Desk) CanLookCloser(id uint) bool {
	p, err := d.mine(d.store, id)
	return err == nil && missesSmall(p)
}

// missesSmall reports whether nobody has looked for the small faces of a picture.
func missesSmall(p store.Picture) bool {
	whole := p.Facts.Upright()
	return p.FacesBy < facesCloser && max(whole.W, whole.H) > face.Seen
}

// LookCloser looks for small faces at a picture's own pixels, and returns how many more
// were found. What was said of the others stays.
func (d *Desk) LookCloser(id uint) (more int, err error) {
	known, err := d.Faces(id)
	if err != nil {
		return 0, err
	}
	p, err := d.mine(d.store, id)
	if err != nil || !missesSmall(p) {
		return 0, err
	}
	found, err := shared(d, "faces closely "+p.OriginalHash, func() ([]face.Face, error) {
		src, done, err := d.source(p)
		if err != nil {
			return nil, err
		}
		defer done()
		return closer(src, p.Faces), nil
	})
	if err != nil {
		return 0, err
	}
	p.Faces, p.FacesBy = found, facesCloser
	return len(found) - len(known), d.store.SetFaces(p)
}

// HideFaces hides faces of a picture, in one step: with a cover, or softly with a figure
// that says that somebody stands there.
func (d *Desk) HideFaces(id uint, faces []string, style veil.Style) error {
	if style != veil.Cover && style != veil.Figure {
		return refuse(Bad, "A face is covered or softened.", "Nothing was changed.")
	}
	drawn, err := d.overFaces(id, faces, style)
	if err != nil {
		return err
	}
	return d.recipe(id, "Hidden: "+count(len(faces), "face"), func(p store.Picture) (recipe.Recipe, error) {
		return p.Work.Recipe.WithVeils(drawn.of(p), p.Facts.Upright())
	})
}

// overFaces are veils over faces of a picture.
func (d *Desk) overFaces(id uint, faces []string, style veil.Style) (ready, error) {
	all, err := d.Faces(id)
	if err != nil {
		return ready{}, err
	}
	var veils []veil.Veil
	for _, key := range faces {
		i := slices.IndexFunc(all, func(f FoundFace) bool { return f.ID() == key })
		if i < 0 {
			return ready{}, refuse(Missing, "That face is not in this picture.", "Look for faces again.")
		}
		if all[i].State != FaceCovered {
			veils = append(veils, veil.Veil{Shape: veil.Ellipse, Bounds: all[i].Round(), Style: style, Reason: veil.Face})
		}
	}
	if len(veils) == 0 {
		return ready{}, refuse(Bad, "There is no face to hide: all of these are hidden.", "Nothing was changed.")
	}
	return d.readyVeils(id, namedAll(veils))
}

// AllowFaces says that faces of a picture may be seen, or no longer.
func (d *Desk) AllowFaces(id uint, faces []string, may bool) error {
	text := count(len(faces), "face") + " may be seen"
	if !may {
		text = count(len(faces), "face") + " no longer said to be allowed"
	}
	return d.change(id, func(p *store.Picture) (string, error) {
		left := slices.DeleteFunc(slices.Clone(p.Work.Left), func(k string) bool { return slices.Contains(faces, k) })
		for _, key := range faces {
			if !slices.ContainsFunc(p.Faces, func(f face.Face) bool { return f.ID() == key }) {
				return "", refuse(Missing, "That face is not in this picture.", "Look for faces again.")
			}
			if may {
				left = append(left, key)
			}
		}
		p.Work.Left = left
		return text, nil
	})
}

// CoverPerson covers the face of somebody who is noted to be seen on a picture, and notes
// that the veil covers them: what is asked for of somebody who said no. mark is that of
// the entry as it was seen.
func (d *Desk) CoverPerson(id uint, entry, mark, key string) error {
	drawn, err := d.overFaces(id, []string{key}, veil.Cover)
	if err != nil {
		return err
	}
	return d.changeIn(id, func(_ *store.Store, p *store.Picture) (string, error) {
		i, err := consentAt(*p, entry, mark)
		if err != nil {
			return "", err
		}
		veils := drawn.of(*p)
		r, err := p.Work.Recipe.WithVeils(veils, p.Facts.Upright())
		if err != nil {
			return "", &Refusal{Bad, sentence(err), "The picture is as it was before.", err}
		}
		p.Work.Recipe = r
		p.Consents = slices.Clone(p.Consents)
		p.Consents[i].Veils = append(slices.Clone(p.Consents[i].Veils), veils[0].ID)
		return fmt.Sprintf("Covered the face of %s", p.Consents[i].Whom), nil
	})
}
