package bench

import (
	"archive/zip"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"runtime"
	"testing"

	"mivlet/core/mend"
	"mivlet/core/raster"
	"mivlet/core/survey"
	"mivlet/demo/tenyears"
)

// A site that was made elsewhere is looked through: the one of ten years, once and five times as large
// (2,000 pictures on 600 pages). What is kept of it in memory is told for each picture.
func BenchmarkASiteIsLookedThrough(b *testing.B) {
	one := b.TempDir()
	if _, err := tenyears.Write(one); err != nil {
		b.Fatal(err)
	}
	for _, times := range []int{1, 5} {
		dir := b.TempDir()
		for n := range times {
			if err := os.CopyFS(filepath.Join(dir, fmt.Sprint("part", n)), os.DirFS(one)); err != nil {
				b.Fatal(err)
			}
		}
		b.Run(fmt.Sprintf("pictures=%d", times*tenyears.Pictures), func(b *testing.B) {
			var before, after runtime.MemStats
			for b.Loop() {
				runtime.GC()
				runtime.ReadMemStats(&before)
				found, err := survey.Read(b.Context(), os.DirFS(dir), survey.Options{})
				if err != nil {
					b.Fatal(err)
				}
				runtime.GC()
				runtime.ReadMemStats(&after)
				runtime.KeepAlive(found)
			}
			b.ReportMetric(float64(after.HeapAlloc-min(before.HeapAlloc, after.HeapAlloc))/float64(times*tenyears.Pictures), "kept-B/picture")
			b.ReportMetric(float64(after.Sys)/(1<<20), "process-MB")
		})
	}
}

// The same site is mended: what changes is worked out, and all of it is written.
func BenchmarkASiteIsMended(b *testing.B) {
	dir := b.TempDir()
	if _, err := tenyears.Write(dir); err != nil {
		b.Fatal(err)
	}
	files := os.DirFS(dir)
	found, err := survey.Read(b.Context(), files, survey.Options{})
	if err != nil {
		b.Fatal(err)
	}
	var plan *mend.Plan
	b.Run("planned", func(b *testing.B) {
		for b.Loop() {
			if plan, err = mend.New(b.Context(), files, found, mend.Choices{}); err != nil {
				b.Fatal(err)
			}
		}
	})
	b.Run("written", func(b *testing.B) {
		for b.Loop() {
			z := zip.NewWriter(io.Discard)
			if _, err := plan.Write(b.Context(), files, found, raster.Limits{}, mend.Archive{Files: files, Into: z}, nil); err != nil {
				b.Fatal(err)
			}
		}
		b.ReportMetric(float64(len(plan.Pictures)), "pictures")
	})
}
