// Package bench holds measurements that anybody can run; see README.md.
package bench

import (
	"bytes"
	"testing"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/raster"
	"mivlet/demo"
)

func photo(b *testing.B) ([]byte, facts.Facts) {
	data, err := demo.Picture("DSC_0417.JPG")
	if err != nil {
		b.Fatal(err)
	}
	known, err := facts.Read(bytes.NewReader(data))
	if err != nil {
		b.Fatal(err)
	}
	return data, known
}

// The stages of one cut of 640 pixels from a photo of 24 megapixels.
func BenchmarkFacts(b *testing.B) {
	data, _ := photo(b)
	for b.Loop() {
		if _, err := facts.Read(bytes.NewReader(data)); err != nil {
			b.Fatal(err)
		}
	}
}

func BenchmarkDecode(b *testing.B) {
	data, known := photo(b)
	for b.Loop() {
		if _, err := raster.Decode(bytes.NewReader(data), known, raster.Limits{}); err != nil {
			b.Fatal(err)
		}
	}
}

func BenchmarkResample640(b *testing.B) {
	data, known := photo(b)
	s, err := raster.Decode(bytes.NewReader(data), known, raster.Limits{})
	if err != nil {
		b.Fatal(err)
	}
	size := fit.ByWidth(s.Upright(), 640)
	for b.Loop() {
		s.Cut(s.Upright().Rect(), size)
	}
}

func BenchmarkEncode640(b *testing.B) {
	data, known := photo(b)
	s, err := raster.Decode(bytes.NewReader(data), known, raster.Limits{})
	if err != nil {
		b.Fatal(err)
	}
	cut := s.Cut(s.Upright().Rect(), fit.ByWidth(s.Upright(), 640))
	for b.Loop() {
		if _, err := raster.Encode(cut, raster.Options{}); err != nil {
			b.Fatal(err)
		}
	}
}
