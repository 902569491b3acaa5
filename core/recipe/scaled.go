package recipe

import (
	"slices"

	"mivlet/core/fit"
)

// Scaled carries a view of a source of one size over to a copy of it of another
// size. A frame keeps at least a pixel.
func (v View) Scaled(from, to fit.Size) View {
	s := fit.ScaleOf(from, to)
	v.Frame = s.Rect(v.Frame)
	v.Frame.Max.X, v.Frame.Max.Y = max(v.Frame.Max.X, v.Frame.Min.X+1), max(v.Frame.Max.Y, v.Frame.Min.Y+1)
	v.Frame = v.Frame.Intersect(to.Rect())
	if v.Frame.Empty() {
		v.Frame = to.Rect()
	}
	v.Veils = slices.Clone(v.Veils)
	for i := range v.Veils {
		v.Veils[i] = v.Veils[i].Scaled(s)
	}
	return v
}
