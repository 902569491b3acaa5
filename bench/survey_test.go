package bench

import (
	"fmt"
	"os"
	"path/filepath"
	"runtime"
	"testing"

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
