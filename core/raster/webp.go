package raster

import (
	"image"
	"io"

	"github.com/gen2brain/webp"
	still "golang.org/x/image/webp"

	"mivlet/core/facts"
)

// decodeWebP reads a still with a decoder in Go, and the first frame of an
// animation, which that one does not know, with libwebp.
func decodeWebP(r io.Reader, f facts.Facts) (image.Image, error) {
	if f.Frames > 1 {
		return webp.Decode(r)
	}
	m, err := still.Decode(r)
	switch m := m.(type) {
	case *image.YCbCr:
		fullRange(m)
	case *image.NYCbCrA:
		fullRange(&m.YCbCr)
	}
	return m, err
}

// fullRange stretches planes from the range of video, which lossy WebP uses
// (RFC 6386, 2: luma 16 to 235, chroma 16 to 240), to the full range that
// image.YCbCr stands for.
func fullRange(m *image.YCbCr) {
	var luma, chroma [256]uint8
	for i := range 256 {
		luma[i] = clamp8((float64(i) - 16) * 255 / 219)
		chroma[i] = clamp8((float64(i)-128)*255/224 + 128)
	}
	for i, v := range m.Y {
		m.Y[i] = luma[v]
	}
	for _, plane := range [][]uint8{m.Cb, m.Cr} {
		for i, v := range plane {
			plane[i] = chroma[v]
		}
	}
}

func clamp8(v float64) uint8 { return uint8(min(max(v+0.5, 0), 255)) }
