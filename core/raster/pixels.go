package raster

import (
	"image"
	"image/color"
)

func opaque(m image.Image) bool {
	o, ok := m.(interface{ Opaque() bool })
	return !ok || o.Opaque()
}

// drawn reports whether m is made of flat areas, as screenshots, logos and
// cartoons are: whether at least two pixels in five equal their left neighbour
// to the last bit. The grain of a photograph leaves that to one in ten or less.
func drawn(m image.Image) bool {
	rgba, ok := m.(*image.RGBA)
	if !ok {
		return false
	}
	same, all := 0, 0
	for y := range rgba.Rect.Dy() {
		row := rgba.Pix[y*rgba.Stride:][:4*rgba.Rect.Dx()]
		for ; len(row) >= 8; row = row[4:] {
			if row[0] == row[4] && row[1] == row[5] && row[2] == row[6] {
				same++
			}
			all++
		}
	}
	return all > 0 && same*5 >= all*2
}

// palette returns m with a palette where it has at most 256 colours, else nil.
func palette(m image.Image) *image.Paletted {
	rgba, ok := m.(*image.RGBA)
	if !ok {
		return nil
	}
	index := map[[3]uint8]uint8{}
	var colours color.Palette
	out := image.NewPaletted(rgba.Rect, nil)
	for i := 0; i+3 < len(rgba.Pix); i += 4 {
		c := [3]uint8{rgba.Pix[i], rgba.Pix[i+1], rgba.Pix[i+2]}
		at, known := index[c]
		if !known {
			if len(colours) == 256 {
				return nil
			}
			at = uint8(len(colours))
			index[c] = at
			colours = append(colours, color.RGBA{c[0], c[1], c[2], 255})
		}
		out.Pix[i/4] = at
	}
	out.Palette = colours
	return out
}
