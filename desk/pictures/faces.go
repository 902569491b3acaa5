package pictures

import (
	"image"

	"mivlet/core/face"
	"mivlet/core/fit"
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
func (d *Desk) lookForFaces(p *store.Picture, s *raster.Source) {
	p.Faces, p.FacesBy = nil, 0
	if d.Rules().Hiding.LeaveFace {
		return
	}
	p.Faces, p.FacesBy = FindFaces(s), FacesBy
}

// FindFaces finds the faces of a decoded picture, in pixels of the upright original.
func FindFaces(s *raster.Source) []face.Face {
	whole := s.Upright()
	size := derive.Within(whole, face.Widest)
	up := fit.ScaleOf(size, whole)
	all := face.Find(s.Glance(size).Image())
	for i, f := range all {
		all[i].Bounds = up.Rect(f.Bounds).Intersect(whole.Rect())
	}
	return all
}

// FindFacesClosely finds the faces of a decoded picture at its own pixels: also those that
// one look at a large picture misses. It takes about five times as long.
func FindFacesClosely(s *raster.Source) []face.Face { return Closer(s, FindFaces(s)) }

// Closer adds the small faces of a picture to those that are known.
func Closer(s *raster.Source, known []face.Face) []face.Face {
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

// FacesNow looks for the faces of a picture that came when nothing did.
func (d *Desk) FacesNow(p store.Picture) (store.Picture, error) {
	found, err := derive.Once(d.derive, "faces "+p.OriginalHash, func() (store.Picture, error) {
		src, done, err := d.derive.Source(p)
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
	return p, d.Store.SetFaces(p)
}

// MissesSmall reports whether nobody has looked for the small faces of a picture.
func MissesSmall(p store.Picture) bool {
	whole := p.Facts.Upright()
	return p.FacesBy < FacesCloser && max(whole.W, whole.H) > face.Seen
}
