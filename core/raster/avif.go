package raster

import (
	"bytes"
	"image"

	"github.com/gen2brain/avif"

	"mivlet/core/jpegenc"
)

// avifSpeed is the effort that libaom takes, from 0 (most) to 10. Of the demo's photos, at 6 they
// weigh as much as at 8 and take five times as long; at 9 they weigh a fifth more.
const avifSpeed = 8

// avifWriter writes AVIF with a colour for each 2 × 2 pixels where a JPEG would have it so, too. Its
// qualities are not those of JPEG, and are searched for the same likeness.
var avifWriter = writer{"image/avif", oftenAVIF, writeAVIF, func(m image.Image, _ plane) func(int) (plane, error) {
	return func(q int) (plane, error) {
		data, err := writeAVIF(m, q)
		if err != nil {
			return plane{}, err
		}
		back, err := avif.Decode(bytes.NewReader(data))
		if err != nil {
			return plane{}, err
		}
		return luma(back), nil
	}
}}

func writeAVIF(m image.Image, quality int) ([]byte, error) {
	o := avif.Options{Quality: quality, QualityAlpha: quality, Speed: avifSpeed, ChromaSubsampling: image.YCbCrSubsampleRatio444}
	if colourOf(m) == jpegenc.FourToOne {
		o.ChromaSubsampling = image.YCbCrSubsampleRatio420
	}
	var b bytes.Buffer
	err := avif.Encode(&b, m, o)
	return b.Bytes(), err
}
