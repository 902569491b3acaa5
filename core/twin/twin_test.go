package twin_test

import (
	"image"
	_ "image/gif"
	_ "image/jpeg"
	_ "image/png"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"

	"mivlet/core/twin"
	"mivlet/internal/reference"
)

func hashOf(t *testing.T, name string) twin.Hash {
	t.Helper()
	return twin.Of(reference.Picture(t, name))
}

// The same photo smaller, recompressed, cropped a little, lighter and in
// another format, as ImageMagick makes it; and other photos, which are none.
func TestNearTwins(t *testing.T) {
	if testing.Short() {
		t.Skip("slow")
	}
	dir := t.TempDir()
	photos := []string{"DSC_0430.JPG", "IMG_2093.JPG", "P1040860.JPG", "DSC_0466.JPG", "IMG_2088.JPG", "DSC_0488.JPG"}
	hashes := map[string]twin.Hash{}
	for _, name := range photos {
		base := filepath.Join(dir, name+".png")
		reference.Run(t, "convert", "-define", "jpeg:size=800x800", "../../demo/pictures/"+name, "-auto-orient", "-resize", "400x400", base)
		hashes[name] = hashOf(t, base)
		for made, args := range map[string][]string{
			"smaller": {"-resize", "40%"}, "recompressed": {"-quality", "35"}, "cropped": {"-gravity", "center", "-crop", "93%x93%+0+0", "+repage"},
			"cropped to a side": {"-gravity", "west", "-crop", "95%x100%+0+0", "+repage"}, "lighter": {"-modulate", "112"},
		} {
			out := filepath.Join(dir, "o.jpg")
			reference.Run(t, "convert", append(append([]string{base}, args...), out)...)
			assert.LessOrEqual(t, hashes[name].Distance(hashOf(t, out)), twin.Near, "%s, %s", name, made)
		}
	}
	for _, a := range photos {
		for _, b := range photos {
			if a != b {
				assert.Greater(t, hashes[a].Distance(hashes[b]), twin.Near, "%s and %s", a, b)
			}
		}
	}
}

func TestNothingToTellBy(t *testing.T) {
	assert.True(t, twin.Of(image.NewRGBA(image.Rect(0, 0, 50, 40))).Flat())
	assert.True(t, twin.Of(image.NewRGBA(image.Rect(0, 0, 1, 1))).Flat())
}
