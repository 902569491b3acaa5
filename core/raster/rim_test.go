package raster_test

import (
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

// Beside a bright sky dark things get no rim that is darker than they are: along edges in every
// direction, at every ratio, in pictures with transparency, too. libvips in linear light makes one, which shows
// that there is something to be avoided.
func TestNoDarkRim(t *testing.T) {
	t.Parallel()
	const w, h, dark, bright = 901, 701, 60, 250
	scene := func(alpha bool) *image.NRGBA {
		m := image.NewNRGBA(image.Rect(0, 0, w, h))
		for y := range h {
			for x := range w {
				c := color.NRGBA{bright, bright, bright, 255}
				round := math.Hypot(float64(x-450), float64(y-350)) < 180
				if x < 120 || y > 620 || round || 3*x+y < 500 {
					c.R, c.G, c.B = dark, dark, dark
				} else if alpha && x > 700 && x < 860 && y > 40 && y < 200 {
					c.A = 0 // where edges meet what is transparent, light and opacity swing together
				}
				m.SetNRGBA(x, y, c)
			}
		}
		return m
	}
	darkest := func(m image.Image) (least uint8) {
		least = 255
		for y := range m.Bounds().Dy() {
			for x := range m.Bounds().Dx() {
				if c := color.NRGBAModel.Convert(m.At(x, y)).(color.NRGBA); c.A > 250 {
					least = min(least, c.R)
				}
			}
		}
		return least
	}
	for _, width := range []int{900, 640, 452, 333, 222, 150, 97, 41, 7} {
		for _, alpha := range []bool{false, true} {
			m := scene(alpha)
			s := raster.FromImage(m)
			size := fit.ByWidth(fit.SizeOf(m.Rect), width)
			assert.GreaterOrEqual(t, darkest(s.Cut(m.Rect, size)), uint8(dark-1), "%d wide, transparent: %v", width, alpha)
			assert.GreaterOrEqual(t, darkest(s.Glance(size).Image()), uint8(dark-1), "%d wide for a screen", width)
		}
	}
	dir := t.TempDir()
	from, to := filepath.Join(dir, "m.png"), filepath.Join(dir, "small.png")
	f, err := os.Create(from)
	require.NoError(t, err)
	require.NoError(t, png.Encode(f, scene(false)))
	require.NoError(t, f.Close())
	reference.Run(t, "vipsthumbnail", from, "--size", "222", "--linear", "-o", to)
	assert.Less(t, darkest(reference.PNG(t, to)), uint8(dark-20), "a rim")
}

// What is no edge keeps its light: of texture that is nearly too fine for the small picture at most three
// parts in a hundred more, which is about one code value, and of coarser texture none.
func TestTextureKeepsItsLight(t *testing.T) {
	t.Parallel()
	const n = 1200
	linear := func(v float64) float64 { // IEC 61966-2-1
		if v <= 0.04045 {
			return v / 12.92
		}
		return math.Pow((v+0.055)/1.055, 2.4)
	}
	for period, more := range map[float64]float64{10: 0.03, 14: 0.03, 30: 0.004, 90: 0.004} { // in pixels, at four to one
		m := image.NewGray(image.Rect(0, 0, n, n))
		sum := 0.0
		for y := range n {
			for x := range n {
				v := uint8(128 + 90*math.Sin(2*math.Pi*float64(x)/period)*math.Sin(2*math.Pi*float64(y)/period))
				m.Pix[y*n+x] = v
				sum += linear(float64(v) / 255)
			}
		}
		small := raster.FromImage(m).Cut(m.Rect, fit.Size{W: n / 4, H: n / 4})
		got := 0.0
		for y := range n / 4 {
			for x := range n / 4 {
				got += linear(float64(color.GrayModel.Convert(small.At(x, y)).(color.Gray).Y) / 255)
			}
		}
		assert.InEpsilon(t, sum/(n*n), got/(n*n/16), more, "a period of %v", period)
	}
}
