package bench

import (
	"bytes"
	"os"
	"path/filepath"
	"testing"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/raster"
)

// BenchmarkLighter writes the demo's photos for a column of 640 px in the formats that are offered, to
// look as like, and tells what they weigh together.
func BenchmarkLighter(b *testing.B) {
	all, err := filepath.Glob("../demo/pictures/*.JPG")
	if err != nil || len(all) == 0 {
		b.Fatal("no photos", err)
	}
	for _, format := range []raster.Format{raster.JPEG, raster.WebP, raster.AVIF} {
		b.Run(string(format), func(b *testing.B) {
			weight := 0
			for range b.N {
				weight = 0
				for _, path := range all {
					b.StopTimer()
					data, err := os.ReadFile(path)
					if err != nil {
						b.Fatal(err)
					}
					known, err := facts.Read(bytes.NewReader(data))
					if err != nil {
						b.Fatal(err)
					}
					s, err := raster.Decode(bytes.NewReader(data), known, raster.Limits{})
					if err != nil {
						b.Fatal(err)
					}
					m := s.Cut(s.Upright().Rect(), fit.ByWidth(s.Upright(), 640))
					b.StartTimer()
					e, err := raster.Encode(m, raster.Options{Format: format})
					if err != nil {
						b.Fatal(err)
					}
					weight += len(e.Data)
				}
			}
			b.ReportMetric(float64(weight)/1000, "kB")
		})
	}
}
