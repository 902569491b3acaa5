package veil

import (
	"image"
	"math"
	"slices"
)

// At returns the veil as it stands in a frame of an animation, counted from 0: between
// two places that were given it is worked out, outwards to whole pixels.
func (v Veil) At(frame int) Veil {
	if len(v.Path) == 0 {
		return v
	}
	i := slices.IndexFunc(v.Path, func(s Keyframe) bool { return s.Frame > frame })
	switch {
	case i == 0:
		return v.moved(v.Path[0].Bounds)
	case i < 0:
		return v.moved(v.Path[len(v.Path)-1].Bounds)
	}
	a, b := v.Path[i-1], v.Path[i]
	t := float64(frame-a.Frame) / float64(b.Frame-a.Frame)
	between := func(from, to int) float64 { return float64(from) + t*float64(to-from) }
	return v.moved(image.Rect(
		int(math.Floor(between(a.Bounds.Min.X, b.Bounds.Min.X))), int(math.Floor(between(a.Bounds.Min.Y, b.Bounds.Min.Y))),
		int(math.Ceil(between(a.Bounds.Max.X, b.Bounds.Max.X))), int(math.Ceil(between(a.Bounds.Max.Y, b.Bounds.Max.Y)))))
}

// AllAt are veils as they stand in a frame.
func AllAt(veils []Veil, frame int) []Veil {
	if !slices.ContainsFunc(veils, func(v Veil) bool { return len(v.Path) > 0 }) {
		return veils
	}
	out := make([]Veil, len(veils))
	for i, v := range veils {
		out[i] = v.At(frame)
	}
	return out
}

// Placed returns the veil with the place it has from a frame on; a place that was given
// for the same frame makes room.
func (v Veil) Placed(frame int, at image.Rectangle) Veil {
	v.Path = slices.DeleteFunc(slices.Clone(v.Path), func(s Keyframe) bool { return s.Frame == frame })
	if len(v.Path) == 0 && frame > 0 {
		v.Path = []Keyframe{{0, v.Box()}}
	}
	v.Path = append(v.Path, Keyframe{frame, at})
	slices.SortFunc(v.Path, func(a, b Keyframe) int { return a.Frame - b.Frame })
	return v
}

// moved returns the veil with its outline in another box.
func (v Veil) moved(to image.Rectangle) Veil {
	v.margin = v.Margin() // of the text, wherever it is
	from := v.Box()
	v.Path = nil
	if v.Shape != Polygon {
		v.Bounds = to
		return v
	}
	points := make([]image.Point, len(v.Points))
	for i, p := range v.Points {
		points[i] = image.Pt(to.Min.X+(p.X-from.Min.X)*to.Dx()/from.Dx(), to.Min.Y+(p.Y-from.Min.Y)*to.Dy()/from.Dy())
	}
	v.Points = points
	return v
}
