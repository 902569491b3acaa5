package raster

import (
	"image"
	"image/draw"
)

// A sample is made of square tiles from all over a picture, on the grid of
// JPEG's blocks, so that encoding it does to each tile what encoding the whole
// does to that place.
const (
	tile   = 32 // pixels; two blocks of 16
	across = 10 // tiles in a row of the sample, and rows
)

// sample returns m itself where it is small, of one piece (0), else tiles of it beside each other,
// and how wide and high each is.
func sample(m image.Image) (image.Image, int) {
	rgba, ok := m.(*image.RGBA)
	b := m.Bounds()
	if !ok || b.Dx() <= tile*across || b.Dy() <= tile*across {
		return m, 0
	}
	out := image.NewRGBA(image.Rect(0, 0, tile*across, tile*across))
	for j := range across {
		for i := range across {
			from := image.Pt(spread(i, b.Dx()), spread(j, b.Dy()))
			to := image.Rect(i*tile, j*tile, (i+1)*tile, (j+1)*tile)
			draw.Draw(out, to, rgba, from, draw.Src)
		}
	}
	return out, tile
}

// spread returns where the i-th tile begins along a side.
func spread(i, side int) int {
	return i * (side - tile) / (across - 1) / 16 * 16
}
