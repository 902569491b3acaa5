package raster_test

import (
	"fmt"
	"image"
	"image/color"
	"image/png"
	"math"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/fit"
	"mivlet/core/raster"
	"mivlet/internal/reference"
)

// What is too fine for a small picture comes back as a pattern that is not there no more than in what
// vips makes of it in linear light, from a zone plate; and light and dark at an edge go no farther
// beyond what they were.
func TestFoldedBackNoMoreThanByVips(t *testing.T) {
	if testing.Short() {
		t.Skip("slow")
	}
	t.Parallel()
	const n = 1800
	dir := t.TempDir()
	plate := image.NewRGBA(image.Rect(0, 0, n, n))
	edge := image.NewRGBA(image.Rect(0, 0, 1200, 60))
	for y := range n {
		for x := range n {
			dx, dy := float64(x-n/2), float64(y-n/2)
			v := uint8(127.5 + 127*math.Cos(math.Pi*(dx*dx+dy*dy)/n))
			plate.SetRGBA(x, y, color.RGBA{v, v, v, 255})
			if edge.Rect.Max.X > x && y < 60 {
				v := uint8(200 - 140*(x/600))
				edge.SetRGBA(x, y, color.RGBA{v, v, v, 255})
			}
		}
	}
	both := func(m *image.RGBA, width int) (ours, theirs image.Image) {
		name, small := filepath.Join(dir, "m.png"), filepath.Join(dir, fmt.Sprintf("%d.png", width))
		f, err := os.Create(name)
		require.NoError(t, err)
		require.NoError(t, png.Encode(f, m))
		require.NoError(t, f.Close())
		reference.Run(t, "vipsthumbnail", name, "--size", fmt.Sprint(width), "--linear", "-o", small)
		return raster.FromImage(m).Cut(m.Rect, fit.ByWidth(fit.SizeOf(m.Rect), width)), reference.PNG(t, small)
	}
	grey := func(m image.Image, x, y int) float64 { v, _, _, _ := m.At(x, y).RGBA(); return float64(v >> 8) }

	// pattern is how unlike grey a small plate is where its rings are finer than it has pixels for.
	pattern := func(m image.Image) float64 {
		w := m.Bounds().Dx()
		var sum, squares, count float64
		for y := range w {
			for x := range w {
				by := float64(n) / float64(w)
				r := math.Hypot((float64(x)+0.5)*by-n/2, (float64(y)+0.5)*by-n/2)
				if r > 1.25*float64(w)/2 && r < n/2 {
					v := grey(m, x, y)
					sum, squares, count = sum+v, squares+v*v, count+1
				}
			}
		}
		return math.Sqrt(squares/count - sum/count*sum/count)
	}
	for _, width := range []int{n / 2, n / 3, n / 6, n / 9} {
		ours, theirs := both(plate, width)
		assert.LessOrEqual(t, pattern(ours), pattern(theirs)+0.1, "%d px", width)
	}
	for _, width := range []int{600, 400, 200} {
		ours, theirs := both(edge, width)
		reach := func(m image.Image) (low, high float64) {
			low, high = 255, 0
			for x := range width {
				low, high = min(low, grey(m, x, 1)), max(high, grey(m, x, 1))
			}
			return low, high
		}
		low, high := reach(ours)
		lowest, highest := reach(theirs)
		assert.GreaterOrEqual(t, low, lowest-1, "%d px", width)
		assert.LessOrEqual(t, high, highest+1, "%d px", width)
	}
}
