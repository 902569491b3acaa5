package raster

import (
	"bytes"
	"image"

	"github.com/gen2brain/avif"

	"mivlet/core/jpegenc"
)

// The effort that libaom takes, from 0 (most) to 10. At 6 the demo's photos weigh as much as at 7 and take
// three times as long. At 8 some of them, which it takes for screenshots, weigh four times as much. At 9
// they weigh a fifth more and take a third of the time, and look nearly as like: good enough to look for
// a quality.
const (
	avifSpeed  = 7
	avifLooked = 9
)

// avifWriter writes AVIF with a colour for each 2 × 2 pixels where a JPEG would have it so, too. Its
// qualities are not those of JPEG, and are searched for the same likeness.
var avifWriter = writer{"image/avif", oftenAVIF, func(m image.Image, quality int) ([]byte, error) {
	return writeAVIF(m, quality, avifSpeed)
}, avifAfter(avifLooked), avifAfter(avifSpeed)}

// avifAfter returns what gives the luma of a picture as it is after writing it with some effort.
func avifAfter(speed int) func(m image.Image, before plane) func(int) (plane, error) {
	return func(m image.Image, _ plane) func(int) (plane, error) {
		return func(quality int) (plane, error) {
			data, err := writeAVIF(m, quality, speed)
			if err != nil {
				return plane{}, err
			}
			back, err := avif.Decode(bytes.NewReader(data))
			if err != nil {
				return plane{}, err
			}
			return luma(back), nil
		}
	}
}

func writeAVIF(m image.Image, quality, speed int) ([]byte, error) {
	o := avif.Options{Quality: quality, QualityAlpha: quality, Speed: speed, ChromaSubsampling: image.YCbCrSubsampleRatio444}
	if colourOf(m) == jpegenc.FourToOne {
		o.ChromaSubsampling = image.YCbCrSubsampleRatio420
	}
	var b bytes.Buffer
	err := avif.Encode(&b, m, o)
	return b.Bytes(), err
}
