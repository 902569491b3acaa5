package raster

import (
	"image"

	"mivlet/core/veil"
)

// layers makes veils ready for the stored pixels. Each is averaged over the
// picture itself, never over what another veil has drawn.
func (s *Source) layers(veils []veil.Veil, ch int, add rowAdder) []*veil.Layer {
	var all []*veil.Layer
	read := func(dst []float32, y, x0, x1 int) {
		clear(dst)
		add(dst, y, x0, x1, 1)
	}
	for _, v := range veils {
		v = v.Map(func(p image.Point) image.Point { return s.orientation.ToStored(p, s.stored) })
		if l := veil.Make(v, s.stored.Rect(), ch, read); l != nil {
			all = append(all, l)
		}
	}
	return all
}
