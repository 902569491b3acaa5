package derive

import (
	"image"

	"mivlet/core/face"
	"mivlet/core/fit"
	"mivlet/core/raster"
)

// FindFaces finds the faces of a picture in its working copy, in pixels of the upright original, which has a size.
func FindFaces(copied *raster.Source, whole fit.Size) []face.Face {
	size := within(whole, face.Widest)
	up := fit.ScaleOf(size, whole)
	all := face.FindAt(copied.Image(), size.Rect().Max)
	for i, f := range all {
		all[i].Bounds = up.Rect(f.Bounds).Intersect(whole.Rect())
	}
	return all
}

// FindFacesClosely finds the faces of a decoded picture at its own pixels: also those that
// one look at a large picture misses. It takes about five times as long.
func FindFacesClosely(s *raster.Source) []face.Face {
	whole := s.Upright()
	return Closer(s, FindFaces(s.Glance(CopySize(whole)), whole))
}

// Closer adds the small faces of a picture to those that are known.
func Closer(s *raster.Source, known []face.Face) []face.Face {
	whole := s.Upright()
	return face.Together(known, face.Closer(whole.Rect().Max, func(part image.Rectangle, size image.Point) image.Image {
		return s.Cut(part, fit.Size{W: size.X, H: size.Y})
	}))
}
