package raster_test

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"image/jpeg"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/image/font"
	"golang.org/x/image/font/basicfont"
	"golang.org/x/image/math/fixed"

	"mivlet/core/fit"
	"mivlet/core/raster"
	"mivlet/internal/reference"
)

// A photo that looks as like as one of libjpeg-turbo (cjpeg, with codes made for it and several
// scans), by the structural similarity of all of it, is lighter.
func TestLighterThanLibjpegTurboAtTheSameLikeness(t *testing.T) {
	dir := t.TempDir()
	for _, name := range []string{"P1040860.JPG", "IMG_2101.JPG"} {
		s := fromFile(t, "../../demo/pictures/"+name)
		cut := s.Cut(s.Upright().Rect(), fit.ByWidth(s.Upright(), 640))
		made, err := raster.Encode(cut, raster.Options{Format: raster.JPEG})
		require.NoError(t, err)
		like := func(data []byte) float64 {
			m, err := jpeg.Decode(bytes.NewReader(data))
			require.NoError(t, err)
			return raster.SSIM(cut, m)
		}
		ours := like(made.Data)
		png, theirs := filepath.Join(dir, "a.png"), filepath.Join(dir, "a.jpg")
		save(t, png, cut)
		reference.Run(t, "convert", png, filepath.Join(dir, "a.ppm"))
		for quality := 50; ; quality++ {
			require.Less(t, quality, 100)
			reference.Run(t, "cjpeg", "-optimize", "-progressive", "-quality", fmt.Sprint(quality), "-outfile", theirs, filepath.Join(dir, "a.ppm"))
			data, err := os.ReadFile(theirs)
			require.NoError(t, err)
			if like(data) >= ours {
				t.Logf("%s: %d of %d bytes, %.4f", name, len(made.Data), len(data), ours)
				assert.Less(t, len(made.Data), len(data)*99/100, name)
				break
			}
		}
	}
}

// The quality is looked for on tiles of a picture; all of it looks as it was asked for.
func TestTheWholePictureLooksAsAsked(t *testing.T) {
	for _, name := range []string{"P1040877.JPG", "IMG_2101.JPG", "P1040860.JPG", "DSC_0402.JPG", "DSC_0466.JPG"} {
		s := fromFile(t, "../../demo/pictures/"+name)
		cut := s.Cut(s.Upright().Rect(), fit.ByWidth(s.Upright(), 640))
		made, err := raster.Encode(cut, raster.Options{Format: raster.JPEG})
		require.NoError(t, err)
		m, err := jpeg.Decode(bytes.NewReader(made.Data))
		require.NoError(t, err)
		assert.InDelta(t, raster.SameToTheEye, raster.SSIM(cut, m), 0.005, "%s at quality %d, told as %.4f", name, made.Quality, made.SSIM)
	}
}

// Letters that only their colour sets off keep it: such a picture gets a colour for each pixel, and
// a photograph does not.
func TestLettersOfOneLightnessKeepTheirColour(t *testing.T) {
	s := fromFile(t, "../../demo/pictures/P1040877.JPG")
	m := s.Cut(s.Upright().Rect(), fit.ByWidth(s.Upright(), 640)).(*image.RGBA)
	ratio := func() (image.YCbCrSubsampleRatio, image.Image) {
		made, err := raster.Encode(m, raster.Options{Format: raster.JPEG})
		require.NoError(t, err)
		back, err := jpeg.Decode(bytes.NewReader(made.Data))
		require.NoError(t, err)
		return back.(*image.YCbCr).SubsampleRatio, back
	}
	got, _ := ratio()
	assert.Equal(t, image.YCbCrSubsampleRatio420, got)

	board := image.Rect(16, 16, 240, 64)
	draw.Draw(m, board, image.NewUniform(color.RGBA{R: 60, G: 140, B: 60, A: 255}), image.Point{}, draw.Src)
	red := image.NewUniform(color.RGBA{R: 205, G: 66, B: 61, A: 255}) // as light as the green: luma 107
	(&font.Drawer{Dst: m, Src: red, Face: basicfont.Face7x13, Dot: fixed.P(24, 44)}).DrawString("Winter party at seven")
	got, back := ratio()
	assert.Equal(t, image.YCbCrSubsampleRatio444, got)
	off := compare(t, m.SubImage(board), back.(*image.YCbCr).SubImage(board))
	assert.Less(t, off.mean, 5.0, "%+v", off)
}
