package recipe

import (
	"image"
	"math"
	"slices"

	"mivlet/core/fit"
)

// Scaled carries a view of a source of one size over to a copy of it of another
// size. A frame keeps at least a pixel.
func (v View) Scaled(from, to fit.Size) View {
	sx, sy := float64(to.W)/float64(from.W), float64(to.H)/float64(from.H)
	rect := func(r image.Rectangle) image.Rectangle {
		s := image.Rect(int(math.Round(float64(r.Min.X)*sx)), int(math.Round(float64(r.Min.Y)*sy)), int(math.Round(float64(r.Max.X)*sx)), int(math.Round(float64(r.Max.Y)*sy)))
		s.Max.X, s.Max.Y = max(s.Max.X, s.Min.X+1), max(s.Max.Y, s.Min.Y+1)
		return s
	}
	v.Frame = rect(v.Frame).Intersect(to.Rect())
	if v.Frame.Empty() {
		v.Frame = to.Rect()
	}
	v.Veils = slices.Clone(v.Veils)
	for i := range v.Veils {
		w := &v.Veils[i]
		if !w.Bounds.Empty() {
			// Outwards: a smaller copy must not show the rim of what is hidden.
			w.Bounds = image.Rect(int(math.Floor(float64(w.Bounds.Min.X)*sx)), int(math.Floor(float64(w.Bounds.Min.Y)*sy)),
				int(math.Ceil(float64(w.Bounds.Max.X)*sx)), int(math.Ceil(float64(w.Bounds.Max.Y)*sy)))
		}
		w.Points = slices.Clone(w.Points)
		for j, p := range w.Points {
			w.Points[j] = image.Pt(int(math.Round(float64(p.X)*sx)), int(math.Round(float64(p.Y)*sy)))
		}
	}
	return v
}
