package bench

import (
	"bytes"
	"fmt"
	"os"
	"os/exec"
	"testing"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/raster"
)

// BenchmarkMotion tells what the demo's animations weigh as Mivlet writes them, in each format that
// moves and in the one that it chooses, beside what came and what gifsicle makes of it.
func BenchmarkMotion(b *testing.B) {
	for _, name := range []string{"paddle-stroke.gif", "kettle.gif"} {
		file := "../demo/pictures/" + name
		came, err := os.ReadFile(file)
		need(b, err)
		known, err := facts.Read(bytes.NewReader(came))
		need(b, err)
		a, err := raster.DecodeAnimation(bytes.NewReader(came), known, raster.Limits{FramePixels: 500_000_000, Frames: 500, Memory: 2_000_000_000})
		need(b, err)
		whole := a.Frames[0].Upright()
		for part, size := range map[string]fit.Size{"whole": whole, "half": {W: whole.W / 2, H: whole.H / 2}} {
			scale := fmt.Sprint(float64(size.W) / float64(whole.W))
			theirs, err := exec.Command("gifsicle", "-O3", "--no-warnings", "--scale", scale, file).Output()
			need(b, err)
			for _, format := range []raster.Format{raster.Auto, raster.GIF, raster.WebP} {
				b.Run(fmt.Sprintf("%s/%s/%s", name, part, format), func(b *testing.B) {
					for b.Loop() {
						e, err := a.Encode(raster.Transform{From: whole.Rect(), Size: size, Turn: facts.Upright}, raster.Options{Format: format})
						need(b, err)
						b.ReportMetric(float64(len(e.Data)), "bytes")
						b.ReportMetric(float64(len(e.Data))/float64(len(came)), "of-came")
						b.ReportMetric(float64(len(e.Data))/float64(len(theirs)), "of-gifsicle")
					}
				})
			}
		}
	}
}
