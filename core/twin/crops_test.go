package twin_test

import (
	"fmt"
	"image"
	"image/jpeg"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/twin"
	"mivlet/internal/reference"
)

// A photo of which about a tenth was cut off, anywhere at its sides, is known, and others are not taken
// for it: ImageMagick crops the demo's photos, brings them down and writes them anew.
func TestCropped(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	names, err := filepath.Glob("../../demo/pictures/*.JPG")
	require.NoError(t, err)
	read := func(name string) image.Image {
		f, err := os.Open(name)
		require.NoError(t, err)
		defer f.Close()
		m, err := jpeg.Decode(f)
		require.NoError(t, err)
		return m
	}
	var hashes []twin.Hash
	var crops []twin.Crops
	for i, name := range names {
		small := filepath.Join(dir, fmt.Sprint(i, ".jpg"))
		reference.Run(t, "convert", "-define", "jpeg:size=400x400", name, "-auto-orient", "-resize", "160x160!", small)
		m := read(small)
		h, c := twin.Of(m), twin.CropsOf(m)
		hashes, crops = append(hashes, h), append(crops, c)
		for k, crop := range []string{"90%x100%+0+0", "90%x100%+16+0", "100%x90%+0+0", "100%x90%+0+16", "90%x90%+0+0", "90%x90%+16+0", "90%x90%+0+16", "90%x90%+16+16", "91%x100%+14+0", "92%x89%+0+17"} {
			cut := filepath.Join(dir, fmt.Sprint(i, "-", k, ".jpg"))
			reference.Run(t, "convert", small, "-crop", crop, "+repage", "-resize", "131x", "-quality", "70", cut)
			assert.LessOrEqual(t, c.Distance(twin.Of(read(cut))), twin.Near, "%s, %s", filepath.Base(name), crop)
		}
	}
	for i, h := range hashes {
		for j, c := range crops {
			if i != j {
				assert.Greater(t, c.Distance(h), twin.Near+3, "%s and %s", names[i], names[j])
			}
		}
	}
}

// What was kept is read back; nothing, and what is flat, is like no picture.
func TestCropsAreKept(t *testing.T) {
	t.Parallel()
	c := twin.CropsOf(scene(image.Pt(2, 3), 120, 90, 5))
	assert.Equal(t, c, twin.ReadCrops(c.Bytes()))
	for _, none := range [][]byte{nil, {1, 2, 3}, make([]byte, 64)} {
		assert.Equal(t, 64, twin.ReadCrops(none).Distance(twin.Hash{0xF0F0, 1, 1}))
	}
	assert.Zero(t, twin.Crops{0, 0xFF}.Distance(twin.Hash{0xFF, 0, 0}))
	assert.Equal(t, 2, twin.Crops{7: 0b111}.Distance(twin.Hash{0b1, 0b111, 0b111}))
}
