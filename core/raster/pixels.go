package raster

import (
	"encoding/binary"
	"image"
	"image/color"
	"sync/atomic"

	"mivlet/core/cores"
)

// opaque reports whether nothing shines through a picture.
func opaque(m image.Image) bool {
	if pix, stride := bytesOf(m); pix != nil {
		for y := range m.Bounds().Dy() {
			if !solid(pix[y*stride:][:4*m.Bounds().Dx()]) {
				return false
			}
		}
		return true
	}
	o, ok := m.(interface{ Opaque() bool })
	return !ok || o.Opaque()
}

// solid reports whether all pixels of a row, of four bytes each, are opaque.
func solid(row []byte) bool {
	all := ^uint64(0)
	for ; len(row) >= 16; row = row[16:] {
		all &= binary.LittleEndian.Uint64(row) & binary.LittleEndian.Uint64(row[8:])
	}
	for ; len(row) >= 4; row = row[4:] {
		all &= uint64(row[3])<<24 | ^uint64(0xFF<<24)
	}
	const alphas = 0xFF000000_FF000000
	return all&alphas == alphas
}

// bytesOf are those of a kind of picture that cuts have, four for each pixel; nil of others.
func bytesOf(m image.Image) (pix []byte, stride int) {
	switch m := m.(type) {
	case *image.RGBA:
		return m.Pix, m.Stride
	case *image.NRGBA:
		return m.Pix, m.Stride
	}
	return nil, 0
}

// drawn reports whether m is made of flat areas, as screenshots, logos and
// cartoons are. The grain of a photograph leaves few pixels like their neighbour.
func drawn(m image.Image) bool { return flatness(m) >= flat }

// flatness is the share of pixels that equal their left neighbour to the last bit, 0 to 1; 0 for
// kinds of pictures that cuts do not have.
func flatness(m image.Image) float64 {
	pix, stride := bytesOf(m)
	if pix == nil || m.Bounds().Dx() < 2 {
		return 0
	}
	size := m.Bounds().Size()
	var same atomic.Int64
	cores.Share(size.Y, func(from, to int) {
		n := 0
		for y := from; y < to; y++ {
			for row := pix[y*stride:][:4*size.X]; len(row) >= 8; row = row[4:] {
				if [4]byte(row) == [4]byte(row[4:]) {
					n++
				}
			}
		}
		same.Add(int64(n))
	})
	return float64(same.Load()) / float64((size.X-1)*size.Y)
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
