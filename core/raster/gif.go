package raster

import (
	"bytes"
	"image"
	"image/gif"
	"time"

	"mivlet/core/motion"
)

// encodeGIFStill writes one picture as a GIF of at most 256 colours.
func encodeGIFStill(m image.Image, why string) (Encoded, error) {
	data, err := motion.Film{Frames: []image.Image{m}, Delays: []time.Duration{0}, Loop: 1}.GIF(0)
	if err != nil {
		return Encoded{}, err
	}
	back, err := gif.Decode(bytes.NewReader(data))
	if err != nil {
		return Encoded{}, err
	}
	return Encoded{Data: data, MediaType: "image/gif", SSIM: ssim(luma(m), luma(back), sparse, 0), Why: why}, nil
}
