// Package bench holds measurements that anybody can run; see README.md.
package bench

import (
	"bytes"
	"strconv"
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

// Widths of cuts: of a column, and twice as many pixels for sharp screens.
var widths = []int{640, 1280}

func BenchmarkResample(b *testing.B) {
	data, known := photo(b)
	s, err := raster.Decode(bytes.NewReader(data), known, raster.Limits{})
	if err != nil {
		b.Fatal(err)
	}
	for _, w := range widths {
		b.Run(strconv.Itoa(w), func(b *testing.B) {
			size := fit.ByWidth(s.Upright(), w)
			for b.Loop() {
				s.Cut(s.Upright().Rect(), size)
			}
		})
	}
}

// A frame that begins on odd pixels, as frames drawn by hand do.
func BenchmarkResampleOdd(b *testing.B) {
	data, known := photo(b)
	s, err := raster.Decode(bytes.NewReader(data), known, raster.Limits{})
	if err != nil {
		b.Fatal(err)
	}
	frame := s.Upright().Rect()
	frame.Min.X, frame.Min.Y = 301, 201
	for b.Loop() {
		s.Cut(frame, fit.ByWidth(fit.SizeOf(frame), 640))
	}
}

// Looking for the quality, and writing.
func BenchmarkEncode(b *testing.B) {
	data, known := photo(b)
	s, err := raster.Decode(bytes.NewReader(data), known, raster.Limits{})
	if err != nil {
		b.Fatal(err)
	}
	for _, w := range widths {
		b.Run(strconv.Itoa(w), func(b *testing.B) {
			cut := s.Cut(s.Upright().Rect(), fit.ByWidth(s.Upright(), w))
			var made raster.Encoded
			for b.Loop() {
				if made, err = raster.Encode(cut, raster.Options{}); err != nil {
					b.Fatal(err)
				}
			}
			b.ReportMetric(float64(len(made.Data)), "bytes")
			b.ReportMetric(float64(made.Quality), "quality")
		})
	}
}
