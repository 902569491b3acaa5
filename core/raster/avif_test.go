package raster

import (
	"bytes"
	"image"
	stdjpeg "image/jpeg"
	"image/png"
	"math"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/internal/reference"
)

// An AVIF is what libavif's own decoder reads from it: as like as it was judged to be, of the same
// colours, and lighter than a JPEG that looks as like.
func TestAVIFIsWhatOthersRead(t *testing.T) {
	t.Parallel()
	data, err := os.ReadFile("../../demo/pictures/DSC_0430.JPG")
	require.NoError(t, err)
	known, err := facts.Read(bytes.NewReader(data))
	require.NoError(t, err)
	s, err := Decode(bytes.NewReader(data), known, Limits{})
	require.NoError(t, err)
	cut := s.Cut(s.Upright().Rect(), fit.ByWidth(s.Upright(), 320))
	made, err := Encode(cut, Options{Allowed: []Format{AVIF}})
	require.NoError(t, err)
	assert.Equal(t, "image/avif", made.MediaType)
	assert.GreaterOrEqual(t, made.SSIM, SameToTheEye)
	jpeg, err := Encode(cut, Options{Format: JPEG})
	require.NoError(t, err)
	assert.Less(t, len(made.Data), len(jpeg.Data))
	usual, err := stdjpeg.Decode(bytes.NewReader(jpeg.Data))
	require.NoError(t, err)

	at := filepath.Join(t.TempDir(), "a")
	require.NoError(t, os.WriteFile(at+".avif", made.Data, 0o600))
	reference.Run(t, "avifdec", at+".avif", at+".png")
	f, err := os.Open(at + ".png")
	require.NoError(t, err)
	seen, err := png.Decode(f)
	require.NoError(t, err)
	require.NoError(t, f.Close())
	assert.InDelta(t, ssim(luma(cut), luma(seen), sparse, 0), made.SSIM, 0.003)
	for i, name := range []string{"red", "green", "blue"} {
		assert.InDelta(t, mean(cut, i), mean(seen, i), 1.5, name)
		assert.Greater(t, psnr(cut, seen, i), psnr(cut, usual, i)-1, "%s is no worse than as JPEG", name)
	}
	facts, err := facts.Read(bytes.NewReader(made.Data))
	require.NoError(t, err)
	assert.Equal(t, "image/avif", facts.MediaType)
}

// channel is a channel of a pixel, 0 to 255.
func channel(m image.Image, x, y, c int) float64 {
	r, g, b, _ := m.At(x, y).RGBA()
	return float64([3]uint32{r, g, b}[c]) / 257
}

func mean(m image.Image, c int) (sum float64) {
	b := m.Bounds()
	for y := range b.Dy() {
		for x := range b.Dx() {
			sum += channel(m, b.Min.X+x, b.Min.Y+y, c)
		}
	}
	return sum / float64(b.Dx()*b.Dy())
}

// psnr is the peak signal-to-noise ratio of a channel, in dB (ITU-T J.247).
func psnr(a, b image.Image, c int) float64 {
	sum := 0.0
	for y := range a.Bounds().Dy() {
		for x := range a.Bounds().Dx() {
			d := channel(a, a.Bounds().Min.X+x, a.Bounds().Min.Y+y, c) - channel(b, b.Bounds().Min.X+x, b.Bounds().Min.Y+y, c)
			sum += d * d
		}
	}
	return 10 * math.Log10(255*255*float64(a.Bounds().Dx()*a.Bounds().Dy())/sum)
}
