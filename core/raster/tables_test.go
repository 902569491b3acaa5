package raster_test

import (
	"bytes"
	"fmt"
	"image/color"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/raster"
	"mivlet/internal/reference"
)

// A photo that was made ready for print, with the profile of a printer, looks as it did before: as
// ImageMagick and Little CMS made it. Without reading the profile it would be far off.
func TestPhotosForPrint(t *testing.T) {
	dir := t.TempDir()
	before, print, bare := filepath.Join(dir, "before.png"), filepath.Join(dir, "print.jpg"), filepath.Join(dir, "bare.jpg")
	reference.Run(t, "convert", "../../demo/pictures/IMG_2140.JPG", "-strip", "-resize", "300x200!", before)
	reference.Run(t, "convert", before, "-intent", "perceptual", "-profile", "/usr/share/color/icc/sRGB.icc", "-profile", "/usr/share/color/icc/ghostscript/default_cmyk.icc", "-quality", "95", print)
	reference.Run(t, "convert", print, "-strip", bare)
	psnr := func(name string) float64 {
		data, err := os.ReadFile(name)
		require.NoError(t, err)
		s, err := raster.Decode(bytes.NewReader(data), factsOf(t, data), limits)
		require.NoError(t, err)
		return compare(t, whole(s), reference.PNG(t, before)).psnr
	}
	assert.Greater(t, psnr(print), 26.0)
	assert.Greater(t, psnr(print), psnr(bare)+6)
}

// Grey values that stand for lightness, and those that stand for light, look as Little CMS shows them.
func TestGreyProfiles(t *testing.T) {
	dir := t.TempDir()
	for _, profile := range []string{"/usr/share/color/icc/Gray-CIE_L.icc", "/usr/share/color/icc/Gray.icc"} {
		file := filepath.Join(dir, "grey.png")
		reference.Run(t, "convert", "-size", "4x256", "gradient:", "-rotate", "90", "-colorspace", "gray", "-strip", file)
		reference.Run(t, "exiftool", "-q", "-overwrite_original", "-ICC_Profile<="+profile, file)
		data, err := os.ReadFile(file)
		require.NoError(t, err)
		known := factsOf(t, data)
		require.NotEmpty(t, known.Profile)
		s, err := raster.Decode(bytes.NewReader(data), known, limits)
		require.NoError(t, err)
		m, codes := whole(s), s.Image()
		for _, x := range []int{0, 20, 77, 128, 200, 255} {
			code := codes.At(x, 1).(color.Gray).Y
			cmd := exec.Command("transicc", "-n", "-t1", "-i", profile, "-o", "*sRGB")
			cmd.Stdin = strings.NewReader(fmt.Sprintln(code))
			out, err := cmd.Output()
			require.NoError(t, err)
			var want float64
			_, err = fmt.Sscan(string(out), &want)
			require.NoError(t, err)
			got, _, _, _ := m.At(x, 1).RGBA()
			assert.InDelta(t, want, float64(got>>8), 1.5, "%s: %d", profile, code)
		}
	}
}
