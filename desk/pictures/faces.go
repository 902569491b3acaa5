package pictures

import (
	"mivlet/core/face"
	"mivlet/core/raster"
	"mivlet/core/recipe"
	"mivlet/desk/derive"
	"mivlet/store"
)

// What has looked for the faces of a picture.
const (
	FacesBy     = 1 // one look at all of it
	FacesCloser = 2 // a closer look, at its own pixels
)

// lookForFaces finds the faces of a picture that is decoded, unless the house leaves
// them alone. Nothing leaves the machine, and finding covers nothing.
func (d *Desk) lookForFaces(p *store.Picture, copied *raster.Source) {
	p.Faces, p.FacesBy = nil, 0
	if d.Rules().Hiding.LeaveFace {
		return
	}
	p.Faces, p.FacesBy = derive.FindFaces(copied, p.Facts.Upright()), FacesBy
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

// FacesNow looks for the faces of a picture that came when nothing did.
func (d *Desk) FacesNow(p store.Picture) (store.Picture, error) {
	found, err := derive.Once(d.derive, "faces "+p.OriginalHash, func() (store.Picture, error) {
		src, done, err := d.derive.SourceFor(p, derive.ForCopies(p.Facts.Upright())) // as when a picture arrives
		if err != nil {
			return p, err
		}
		defer done()
		d.lookForFaces(&p, src.Glance(derive.CopySize(p.Facts.Upright())))
		return p, nil
	})
	if err != nil {
		return p, err
	}
	p.Faces, p.FacesBy = found.Faces, found.FacesBy
	return p, d.Store.SetFaces(p)
}

// MissesSmall reports whether nobody has looked for the small faces of a picture.
func MissesSmall(p store.Picture) bool {
	whole := p.Facts.Upright()
	return p.FacesBy < FacesCloser && max(whole.W, whole.H) > face.Seen
}
