package bench

import (
	"fmt"
	"slices"

	"mivlet/core/audit"
	"mivlet/core/face"
	"mivlet/core/recipe"
	"mivlet/core/veil"
	"mivlet/desk/access"
	"mivlet/desk/derive"
	"mivlet/desk/pictures"
	"mivlet/store"
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

// OpenAmong are the names of those faces that can be seen and that nobody has allowed.
func OpenAmong(all []FoundFace) (open []string) {
	for _, f := range all {
		if f.State == FaceOpen {
			open = append(open, f.ID())
		}
	}
	return open
}

// Faces are the faces of a picture, from left to right, with what has become of each.
type Faces struct {
	Picture store.Picture // with what was found
	All     []FoundFace
	Closer  bool // a closer look may find faces that one look at all of it misses
}

// Faces finds the faces of a picture. Where nothing has looked for them yet, it is done
// now.
func (d *Desk) Faces(id uint) (Faces, error) {
	p, err := d.Mine(d.Store, id)
	if err != nil {
		return Faces{}, err
	}
	return d.facesOf(p)
}

func (d *Desk) facesOf(p store.Picture) (found Faces, err error) {
	if d.Rules().Hiding.LeaveFace {
		return found, access.Refuse(access.Bad, "The house does not look for faces.", "Look for them yourself, and draw an oval over each that may not be seen.")
	}
	if p.FacesBy < pictures.FacesBy {
		if p, err = d.pictures.FacesNow(p); err != nil {
			return found, err
		}
	}
	open := audit.OpenFaces(d.pictures.Work(p))
	found.Picture, found.Closer = p, pictures.MissesSmall(p)
	for _, f := range p.Faces {
		state := FaceCovered
		switch {
		case slices.ContainsFunc(open, func(o face.Face) bool { return o.ID() == f.ID() }):
			state = FaceOpen
		case slices.Contains(p.Work.Left, f.ID()):
			state = FaceLeft
		}
		found.All = append(found.All, FoundFace{f, state})
	}
	return found, nil
}

// LookCloser looks for small faces at a picture's own pixels, and returns how many more
// were found. What was said of the others stays.
func (d *Desk) LookCloser(id uint) (more int, err error) {
	known, err := d.Faces(id)
	if err != nil || !known.Closer {
		return 0, err
	}
	p := known.Picture
	found, err := derive.Once(d.derive, "faces closely "+p.OriginalHash, func() ([]face.Face, error) {
		src, done, err := d.derive.Source(p)
		if err != nil {
			return nil, err
		}
		defer done()
		return derive.Closer(src, p.Faces), nil
	})
	if err != nil {
		return 0, err
	}
	p.Faces, p.FacesBy = found, pictures.FacesCloser
	return len(found) - len(known.All), d.Store.SetFaces(p)
}

// HideFaces hides faces of a picture, in one step: with a cover, or softly with a figure
// that says that somebody stands there.
func (d *Desk) HideFaces(id uint, faces []string, style veil.Style) error {
	if style != veil.Cover && style != veil.Figure {
		return access.Refuse(access.Bad, "Choose whether to cover or to soften the face.", "Nothing was changed.")
	}
	drawn, err := d.overFaces(id, faces, style)
	if err != nil {
		return err
	}
	return d.recipe(id, "Hidden: "+access.Count(len(faces), "face"), func(p store.Picture) (recipe.Recipe, error) {
		return p.Work.Recipe.WithVeils(drawn.of(p), p.Facts.Upright())
	})
}

// overFaces are veils over faces of a picture.
func (d *Desk) overFaces(id uint, faces []string, style veil.Style) (ready, error) {
	found, err := d.Faces(id)
	if err != nil {
		return ready{}, err
	}
	var veils []veil.Veil
	for _, key := range faces {
		i := slices.IndexFunc(found.All, func(f FoundFace) bool { return f.ID() == key })
		if i < 0 {
			return ready{}, access.Refuse(access.Missing, "That face is not in this picture.", "Look for faces again.")
		}
		if found.All[i].State != FaceCovered {
			veils = append(veils, veil.Veil{Shape: veil.Ellipse, Bounds: found.All[i].Round(), Style: style, Reason: veil.Face})
		}
	}
	if len(veils) == 0 {
		return ready{}, access.Refuse(access.Bad, "All of these faces are hidden already.", "Nothing was changed.")
	}
	return d.readyVeils(id, namedAll(veils))
}

// AllowFaces says that faces of a picture may be seen, or no longer.
func (d *Desk) AllowFaces(id uint, faces []string, may bool) error {
	text := access.Count(len(faces), "face") + " may be seen"
	if !may {
		text = access.Count(len(faces), "face") + " no longer said to be allowed"
	}
	return d.pictures.Change(id, func(p *store.Picture) (string, error) {
		left := slices.DeleteFunc(slices.Clone(p.Work.Left), func(k string) bool { return slices.Contains(faces, k) })
		for _, key := range faces {
			if !slices.ContainsFunc(p.Faces, func(f face.Face) bool { return f.ID() == key }) {
				return "", access.Refuse(access.Missing, "That face is not in this picture.", "Look for faces again.")
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
	return d.pictures.ChangeIn(id, func(_ store.Records, p *store.Picture) (string, error) {
		i, err := pictures.ConsentAt(*p, entry, mark)
		if err != nil {
			return "", err
		}
		veils := drawn.of(*p)
		r, err := p.Work.Recipe.WithVeils(veils, p.Facts.Upright())
		if err != nil {
			return "", access.Because(access.Bad, access.Sentence(err), "The picture is as it was before.", err)
		}
		p.Work.Recipe = r
		p.Consents = slices.Clone(p.Consents)
		p.Consents[i].Veils = append(slices.Clone(p.Consents[i].Veils), veils[0].ID)
		return fmt.Sprintf("Covered the face of %s", p.Consents[i].Whom), nil
	})
}
