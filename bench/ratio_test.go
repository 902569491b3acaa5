package bench

import (
	"bytes"
	"testing"
	"time"

	"mivlet/core/fit"
	"mivlet/core/raster"
)

// What follows the decoding of a photo of 24 megapixels on its way to a cut of
// 640 pixels, as a share of the decoding, each turn measured beside the other.
func BenchmarkShareOfDecoding(b *testing.B) {
	data, known := photo(b)
	var decoding, rest time.Duration
	for b.Loop() {
		begun := time.Now()
		s, err := raster.Decode(bytes.NewReader(data), known, raster.Limits{})
		if err != nil {
			b.Fatal(err)
		}
		decoded := time.Now()
		if _, err := raster.Encode(s.Cut(s.Upright().Rect(), fit.ByWidth(s.Upright(), 640)), raster.Options{}); err != nil {
			b.Fatal(err)
		}
		decoding += decoded.Sub(begun)
		rest += time.Since(decoded)
	}
	b.ReportMetric(float64(rest)/float64(decoding), "of-decoding")
}
