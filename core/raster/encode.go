package raster

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"

	"mivlet/core/facts"
)

// Quality is the JPEG quality that cuts are first tried at, from 1 to 100:
// medium, as for photographs on pages (common practice).
const Quality = 82

// lowest is the JPEG quality below which faces and skies fall apart to the eye
// (common practice). A budget is not met at that price.
const lowest = 60

// Encoded is a finished file in memory, without any metadata.
type Encoded struct {
	Data      []byte
	MediaType string
	Quality   int    // JPEG quality; 0 where the format has none
	Why       string // why this format and quality, in one sentence
}

// Extension returns the extension that is true to the content.
func (e Encoded) Extension() string { return facts.Extension(e.MediaType) }

// Encode writes m in the format its pixels ask for, under budget bytes where
// that can be had (0 means no budget). Transparency and flat colours make a PNG,
// all else a JPEG.
func Encode(m image.Image, budget int64) (Encoded, error) {
	if !opaque(m) {
		data, err := encodePNG(m)
		return Encoded{data, "image/png", 0, "PNG, because parts of it are transparent."}, err
	}
	if drawn(m) {
		why := "PNG, because it is drawn in flat colours."
		if p := palette(m); p != nil {
			m = p
			why = fmt.Sprintf("PNG, because it is drawn in %d flat colours.", len(p.Palette))
		}
		data, err := encodePNG(m)
		return Encoded{data, "image/png", 0, why}, err
	}
	return encodeJPEG(m, budget)
}

// EncodeForScreen writes m for a screen that wants it soon rather than small: a
// PNG where it is drawn or transparent, else a JPEG.
func EncodeForScreen(m image.Image) ([]byte, error) {
	var b bytes.Buffer
	if !opaque(m) || drawn(m) {
		err := (&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(&b, m)
		return b.Bytes(), err
	}
	err := jpeg.Encode(&b, m, &jpeg.Options{Quality: Quality})
	return b.Bytes(), err
}

func encodeJPEG(m image.Image, budget int64) (Encoded, error) {
	why := "JPEG, because it is a photograph."
	for q := Quality; ; q -= 6 {
		q = max(q, lowest)
		var b bytes.Buffer
		if err := jpeg.Encode(&b, m, &jpeg.Options{Quality: q}); err != nil {
			return Encoded{}, err
		}
		fits := budget <= 0 || int64(b.Len()) <= budget
		if fits && q < Quality {
			why = fmt.Sprintf("JPEG, because it is a photograph; at quality %d it meets the budget.", q)
		}
		if !fits && q == lowest {
			why = fmt.Sprintf("JPEG, because it is a photograph; even at quality %d it is heavier than the budget.", q)
		}
		if fits || q == lowest {
			return Encoded{b.Bytes(), "image/jpeg", q, why}, nil
		}
	}
}

func encodePNG(m image.Image) ([]byte, error) {
	var b bytes.Buffer
	err := (&png.Encoder{CompressionLevel: png.BestCompression}).Encode(&b, m)
	return b.Bytes(), err
}

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
