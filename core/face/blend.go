package face

import (
	"encoding/binary"
	"image"

	"mivlet/core/cores"
)

// blended is a picture of another size, of which each pixel is blended from the four nearest (bilinear interpolation,
// between the middles of pixels). m has a pixel at least. The four channels of a pixel are worked on at
// once, each in sixteen bits of a word.
func blended(m *image.RGBA, size image.Point) *image.RGBA {
	out := image.NewRGBA(image.Rectangle{Max: size})
	across, down := nearest(m.Rect.Dx(), size.X), nearest(m.Rect.Dy(), size.Y)
	cores.Share(size.Y, func(from, to int) {
		row := make([]uint64, m.Rect.Dx())
		for y := from; y < to; y++ {
			at := down[y]
			upper, lower := m.Pix[at.first*m.Stride:], m.Pix[at.second*m.Stride:]
			for x := range row {
				row[x] = between(spread(upper[4*x:]), spread(lower[4*x:]), at.share)
			}
			into := out.Pix[y*out.Stride:][:4*size.X]
			for x, at := range across {
				gather(into[4*x:], between(row[at.first], row[at.second], at.share))
			}
		}
	})
	return out
}

// two are the pixels that one is blended from along a line, and what share of 256 the second has.
type two struct {
	first, second int
	share         uint64
}

// nearest are those for each of so many pixels, made of a number of others.
func nearest(from, to int) []two {
	all := make([]two, to)
	for i := range all {
		// The middle of the pixel, in 256ths of the others, from the middle of the first one on.
		at := max(0, ((2*i+1)*from*256/to-256)/2)
		first := min(at>>8, from-1)
		all[i] = two{first, min(first+1, from-1), uint64(at & 255)}
	}
	return all
}

const (
	everySecond = 0x00ff00ff00ff00ff
	halves      = 0x0080008000800080
)

// spread lays the four bytes of a pixel out, each in sixteen bits.
func spread(pixel []byte) uint64 {
	v := uint64(binary.LittleEndian.Uint32(pixel))
	return v&0x00ff00ff | v>>8&0x00ff00ff<<32
}

// gather is the other way round.
func gather(pixel []byte, v uint64) {
	binary.LittleEndian.PutUint32(pixel, uint32(v|v>>32<<8))
}

// between blends two pixels; share is that of the second, of 256. No channel gets larger than both.
func between(a, b, share uint64) uint64 {
	return (a*(256-share) + b*share + halves) >> 8 & everySecond
}
