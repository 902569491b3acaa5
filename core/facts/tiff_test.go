package facts_test

import (
	"bytes"
	"image/color"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/image/tiff"

	"mivlet/core/facts"
	"mivlet/internal/reference"
)

// Each page of a TIFF that ImageMagick wrote, in both orders of bytes, is read as if the file began with
// it.
func TestTIFFPages(t *testing.T) {
	for _, order := range []string{"LSB", "MSB"} {
		file := filepath.Join(t.TempDir(), "scan.tif")
		reference.Run(t, "convert", "-define", "tiff:endian="+order, "-size", "40x30", "xc:red", "-size", "50x20", "xc:lime", "-size", "60x70", "xc:blue", "-compress", "lzw", file)
		data, err := os.ReadFile(file)
		require.NoError(t, err)
		known, err := facts.Read(bytes.NewReader(data))
		require.NoError(t, err)
		require.Equal(t, 3, known.Pages, order)
		for i, want := range []struct {
			w, h int
			c    color.RGBA
		}{{40, 30, color.RGBA{255, 0, 0, 255}}, {50, 20, color.RGBA{0, 255, 0, 255}}, {60, 70, color.RGBA{0, 0, 255, 255}}} {
			page, err := facts.TIFFPage(bytes.NewReader(data), i+1)
			require.NoError(t, err)
			known, err := facts.Read(page)
			require.NoError(t, err)
			assert.Equal(t, want.w, known.Stored.W)
			assert.Equal(t, want.h, known.Stored.H)
			page, err = facts.TIFFPage(bytes.NewReader(data), i+1)
			require.NoError(t, err)
			m, err := tiff.Decode(page)
			require.NoError(t, err)
			assert.Equal(t, want.c, color.RGBAModel.Convert(m.At(5, 5)))
		}
		for _, n := range []int{-1, 0, 4} {
			_, err := facts.TIFFPage(bytes.NewReader(data), n)
			assert.ErrorContains(t, err, "3 pages")
		}
		for n := 0; n < len(data); n += 7 { // wherever it is cut off
			page, err := facts.TIFFPage(bytes.NewReader(data[:n]), 2)
			if err == nil {
				_, _ = facts.Read(page)
			}
		}
	}
}

// A small copy beside a picture is no page of its own (TIFF 6.0, section 8, NewSubfileType: exiftool
// calls it SubfileType).
func TestASmallCopyIsNoPage(t *testing.T) {
	file := filepath.Join(t.TempDir(), "scan.tif")
	reference.Run(t, "convert", "-size", "40x30", "xc:red", "-size", "20x15", "xc:red", file)
	reference.Run(t, "exiftool", "-q", "-overwrite_original", "-IFD1:SubfileType#=1", file)
	f, err := os.Open(file)
	require.NoError(t, err)
	defer f.Close()
	known, err := facts.Read(f)
	require.NoError(t, err)
	assert.Equal(t, 1, known.Pages)
}
