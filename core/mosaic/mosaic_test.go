package mosaic_test

import (
	"fmt"
	"image"
	"image/color"
	_ "image/gif"
	_ "image/jpeg"
	_ "image/png"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	_ "golang.org/x/image/webp"

	"mivlet/core/mosaic"
	"mivlet/internal/reference"
)

// covered is a picture of which a part was made a mosaic, as ImageMagick does it, with squares of a size.
func covered(t *testing.T, name string, at image.Rectangle, square int, write ...string) string {
	t.Helper()
	out := filepath.Join(t.TempDir(), "covered"+filepath.Ext(write[len(write)-1]))
	part := fmt.Sprintf("%dx%d+%d+%d", at.Dx(), at.Dy(), at.Min.X, at.Min.Y)
	args := []string{name, "(", "+clone", "-crop", part, "+repage", "-filter", "Box",
		"-resize", fmt.Sprintf("%dx%d!", at.Dx()/square, at.Dy()/square), "-scale", fmt.Sprintf("%dx%d!", at.Dx(), at.Dy()), ")",
		"-geometry", fmt.Sprintf("+%d+%d", at.Min.X, at.Min.Y), "-composite"}
	reference.Run(t, "convert", append(append(args, write[:len(write)-1]...), out)...)
	return out
}

// Mosaics over photos and over letters are found where they are, however the picture is written.
func TestMosaicsAreFound(t *testing.T) {
	t.Parallel()
	const pictures = "../../demo/pictures/"
	places := map[string]image.Rectangle{
		"DSC_0417.JPG":              image.Rect(350, 210, 350+240, 210+240),
		"DSC_0430.JPG":              image.Rect(233, 177, 233+240, 177+240),
		"Screenshot 2026-11-02.png": image.Rect(210, 140, 210+240, 140+240),
	}
	found, all := 0, 0
	for name, at := range places {
		whole := filepath.Join(t.TempDir(), "whole.png")
		reference.Run(t, "convert", pictures+name, "-auto-orient", "-resize", "900x", whole)
		for _, square := range []int{6, 16} {
			for _, write := range [][]string{{".png"}, {"-quality", "80", ".jpg"}} {
				m := reference.Picture(t, covered(t, whole, at, square, write...))
				all++
				hit := false
				for _, r := range mosaic.Find(m) {
					assert.True(t, r.Overlaps(at), "%s, %d, %v: %v is elsewhere", name, square, write, r)
					assert.True(t, r.In(at.Inset(-5*square-24)), "%s, %d, %v: %v is far more", name, square, write, r)
					hit = hit || r.Overlaps(at)
				}
				if hit {
					found++
				} else {
					t.Logf("not found: %s, squares of %d, %v", name, square, write)
				}
			}
		}
	}
	assert.GreaterOrEqual(t, found, all*9/10, "of %d", all)
}

// What only looks like squares is not taken for a mosaic: photos, screenshots, tables, codes, boards, and pictures that
// were enlarged as a whole.
func TestWhatIsNoMosaic(t *testing.T) {
	t.Parallel()
	names, err := filepath.Glob("../../demo/pictures/*")
	require.NoError(t, err)
	for _, name := range names {
		if strings.HasSuffix(name, ".JPG") {
			continue // below, as large as on pages
		}
		assert.Empty(t, mosaic.Find(reference.Picture(t, name)), name)
	}
	for _, name := range []string{"DSC_0466.JPG", "DSC_0488.JPG", "Screenshot 2026-11-02.png"} {
		for _, quality := range []string{"30", "80"} {
			out := filepath.Join(t.TempDir(), "a.jpg")
			reference.Run(t, "convert", "../../demo/pictures/"+name, "-resize", "900x", "-quality", quality, out)
			assert.Empty(t, mosaic.Find(reference.Picture(t, out)), "%s at quality %s", name, quality)
		}
	}
	dir := t.TempDir()
	for name, how := range map[string][]string{
		"board.png":    {"-size", "640x480", "pattern:checkerboard", "-scale", "200%"},
		"code.png":     {"-size", "64x64", "xc:gray50", "+noise", "Random", "-colorspace", "gray", "-threshold", "50%", "-scale", "640x640", "-bordercolor", "white", "-border", "200"},
		"enlarged.png": {"../../demo/pictures/DSC_0417.JPG", "-resize", "80x", "-scale", "800x"},
		"table.png":    {"-size", "800x600", "xc:white", "-fill", "none", "-stroke", "black", "-draw", "path 'M0,24 H800 M0,48 H800 M0,72 H800 M24,0 V600 M48,0 V600 M72,0 V600 M96,0 V600'"},
		"noise.png":    {"-size", "400x400", "xc:gray50", "+noise", "Gaussian"},
		"plasma.png":   {"-size", "500x400", "-seed", "7", "plasma:red-navy"},
		"small.png":    {"-size", "9x9", "xc:red"},
	} {
		out := filepath.Join(dir, name)
		reference.Run(t, "convert", append(how, out)...)
		assert.Empty(t, mosaic.Find(reference.Picture(t, out)), name)
	}
}

// A mosaic is found where it lies, to within a part of the window that is looked through; one that is too low in contrast,
// of too few shades, or of squares that are no squares, is none.
func TestWhereAMosaicLies(t *testing.T) {
	t.Parallel()
	at := image.Rect(160, 120, 400, 300)
	picture := func(w, h, step, shades int) *image.Gray {
		m := image.NewGray(image.Rect(0, 0, 640, 480))
		for y := range 480 {
			for x := range 640 {
				m.SetGray(x, y, color.Gray{uint8(60 + (x+y)/8)})
				if image.Pt(x, y).In(at) {
					m.SetGray(x, y, color.Gray{uint8(40 + step*((x/w*37+y/h*53+x/w*(y/h)*11)%shades))})
				}
			}
		}
		return m
	}
	for _, side := range []int{6, 8, 12, 20} {
		all := mosaic.Find(picture(side, side, 17, 12))
		require.Len(t, all, 1, side)
		slack := max(48, 5*side) + 16
		assert.True(t, all[0].In(at.Inset(-slack)), "%d: %v", side, all[0])
		assert.True(t, at.Inset(32).In(all[0]), "%d: %v", side, all[0])
	}
	for name, m := range map[string]*image.Gray{
		"low in contrast": picture(8, 8, 1, 6),
		"two shades":      picture(8, 8, 90, 2),
		"flat and wide":   picture(40, 3, 17, 12),
		"bars":            picture(8, 400, 17, 12),
	} {
		assert.Empty(t, mosaic.Find(m), name)
	}
}
