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
// cartoons are. The grain of a photograph leaves few pixels like their neighbour.
func drawn(m image.Image) bool { return flatness(m) >= flat }

// flatness is the share of pixels that equal their left neighbour to the last bit, 0 to 1; 0 for
// kinds of pictures that cuts do not have.
func flatness(m image.Image) float64 {
	var pix []byte
	var stride int
	switch m := m.(type) {
	case *image.RGBA:
		pix, stride = m.Pix, m.Stride
	case *image.NRGBA:
		pix, stride = m.Pix, m.Stride
	default:
		return 0
	}
	same, all := 0, 0
	for y := range m.Bounds().Dy() {
		row := pix[y*stride:][:4*m.Bounds().Dx()]
		for ; len(row) >= 8; row = row[4:] {
			if [4]byte(row) == [4]byte(row[4:]) {
				same++
			}
			all++
		}
	}
	return float64(same) / float64(max(all, 1))
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
