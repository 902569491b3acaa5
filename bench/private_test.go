package bench

import (
	"bytes"
	"image"
	"testing"

	"mivlet/core/face"
	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/raster"
	"mivlet/core/textline"
	"mivlet/core/veil"
)

// What is looked for in every photo, in one of 24 megapixels, once it is decoded; and what a
// veil costs while it is in the hand.

// camera is a decoded photo of 24 megapixels.
func camera(b *testing.B) *raster.Source {
	data, known := photo(b)
	s, err := raster.Decode(bytes.NewReader(data), known, raster.Limits{})
	if err != nil {
		b.Fatal(err)
	}
	return s
}

func BenchmarkFacesIn24Megapixels(b *testing.B) {
	src := camera(b)
	size := fit.Inside(src.Upright(), fit.Size{W: face.Widest, H: face.Widest})
	for b.Loop() {
		face.Find(src.Glance(size).Image())
	}
}

// A closer look, at all of its pixels.
func BenchmarkFacesCloserIn24Megapixels(b *testing.B) {
	src := camera(b)
	for b.Loop() {
		face.Closer(src.Upright().Rect().Max, func(part image.Rectangle, size image.Point) image.Image {
			return src.Cut(part, fit.Size{W: size.X, H: size.Y})
		})
	}
}

func BenchmarkLinesIn24Megapixels(b *testing.B) {
	src := camera(b)
	size := fit.Inside(src.Upright(), fit.Size{W: 1600, H: 1600})
	for b.Loop() {
		textline.Find(src.Glance(size).Image())
	}
}

// A veil over a quarter of the working copy, as it follows the hand.
func BenchmarkVeilInTheHand(b *testing.B) {
	whole := camera(b)
	size := fit.Inside(whole.Upright(), fit.Size{W: 1600, H: 1600})
	src := whole.Glance(size).CopyOf(whole.Upright(), "image/jpeg")
	for _, v := range []veil.Veil{
		{Shape: veil.Rect, Bounds: image.Rect(300, 200, 700, 230), Style: veil.Cover, Reason: veil.Number},
		{Shape: veil.Ellipse, Bounds: image.Rect(400, 250, 1200, 780), Style: veil.Figure, Reason: veil.Face},
	} {
		b.Run(string(v.Style), func(b *testing.B) {
			for b.Loop() {
				on := src.VeilReach(v)
				src.Do(raster.Transform{From: on, Size: fit.Inside(fit.SizeOf(on), fit.Size{W: 480, H: 480}), Turn: facts.Upright, Veils: []veil.Veil{v}})
			}
		})
	}
}
