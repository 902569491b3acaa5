package bench

import (
	"bytes"
	"fmt"
	"image"
	"image/jpeg"
	"os"
	"os/exec"
	"path/filepath"
	"sort"
	"testing"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/jpegenc"
	"mivlet/core/raster"
)

// BenchmarkWeight tells what the demo's photos weigh as Mivlet writes them, beside the lightest
// files that look at least as like, by the structural similarity of all of the picture: of one
// scan without weighing, and of libjpeg-turbo with codes made for them and several scans.
func BenchmarkWeight(b *testing.B) {
	photos, err := filepath.Glob("../demo/pictures/*.JPG")
	if err != nil || len(photos) == 0 {
		b.Fatal("no photos", err)
	}
	for _, w := range []int{300, 640, 1280} {
		b.Run(fmt.Sprint(w), func(b *testing.B) {
			for b.Loop() {
				var plain, ours, theirs, likeness float64
				for _, name := range photos {
					cut := cutOf(b, name, w)
					made, err := raster.Encode(cut, raster.Options{Format: raster.JPEG})
					if err != nil {
						b.Fatal(err)
					}
					like := likeOf(b, cut, made.Data)
					likeness += like
					ours += float64(len(made.Data))
					plain += asLike(b, cut, like, func(quality int) ([]byte, error) { return jpegenc.Encode(cut, quality) })
					ppm := ppmOf(cut)
					theirs += asLike(b, cut, like, func(quality int) ([]byte, error) {
						cmd := exec.Command("cjpeg", "-optimize", "-progressive", "-quality", fmt.Sprint(quality)) // libjpeg-turbo-progs
						cmd.Stdin = bytes.NewReader(ppm)
						return cmd.Output()
					})
				}
				n := float64(len(photos))
				b.ReportMetric(ours/plain, "of-plain")
				b.ReportMetric(ours/theirs, "of-cjpeg")
				b.ReportMetric(ours/n, "bytes")
				b.ReportMetric(likeness/n, "SSIM")
			}
		})
	}
}

// cutOf is a photo brought down to a width.
func cutOf(b *testing.B, name string, width int) image.Image {
	data, err := os.ReadFile(name)
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
	return s.Cut(s.Upright().Rect(), fit.ByWidth(s.Upright(), width))
}

// asLike is what the lightest file weighs that looks at least as like.
func asLike(b *testing.B, cut image.Image, like float64, write func(quality int) ([]byte, error)) float64 {
	quality := 20 + sort.Search(79, func(more int) bool {
		data, err := write(20 + more)
		if err != nil {
			b.Fatal(err)
		}
		return likeOf(b, cut, data) >= like
	})
	data, err := write(quality)
	if err != nil {
		b.Fatal(err)
	}
	return float64(len(data))
}

// likeOf is how like a file is to what it was made of.
func likeOf(b *testing.B, cut image.Image, data []byte) float64 {
	m, err := jpeg.Decode(bytes.NewReader(data))
	if err != nil {
		b.Fatal(err)
	}
	return raster.SSIM(cut, m)
}

func ppmOf(m image.Image) []byte {
	size := m.Bounds()
	ppm := fmt.Appendf(nil, "P6 %d %d 255\n", size.Dx(), size.Dy())
	for y := range size.Dy() {
		for x := range size.Dx() {
			r, g, bl, _ := m.At(x, y).RGBA()
			ppm = append(ppm, byte(r>>8), byte(g>>8), byte(bl>>8))
		}
	}
	return ppm
}
