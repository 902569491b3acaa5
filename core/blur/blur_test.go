package blur_test

import (
	"fmt"
	"image"
	_ "image/gif"
	_ "image/jpeg"
	_ "image/png"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/blur"
	"mivlet/internal/reference"
)

const demo = "../../demo/pictures/"

// sheets are written by ImageMagick: dark on light and light on dark, large and small, with a place in each that holds
// words.
func sheets(t *testing.T) map[string]image.Rectangle {
	dir := t.TempDir()
	notice, letter, list := filepath.Join(dir, "notice.png"), filepath.Join(dir, "letter.png"), filepath.Join(dir, "list.png")
	reference.Run(t, "convert", "-size", "900x300", "xc:white", "-font", "DejaVu-Sans", "-pointsize", "32", "-fill", "black",
		"-annotate", "+40+80", "Ask in the boathouse", "-annotate", "+40+160", "Phone: 01632 960 123", "-annotate", "+40+240", "boats@brindlemere.example", notice)
	lines := func(size, ground, font, points, ink, line string, left, down, n int, to string) {
		args := []string{"-size", size, "xc:" + ground, "-font", font, "-pointsize", points, "-fill", ink}
		for i := 1; i <= n; i++ {
			args = append(args, "-annotate", fmt.Sprintf("+%d+%d", left, i*down), fmt.Sprintf(line, i))
		}
		reference.Run(t, "convert", append(args, to)...)
	}
	lines("1000x1400", "#f6f3ec", "DejaVu-Serif", "20", "#222", "Line %d tells names of people and what they did at the lake", 60, 32, 40, letter)
	lines("800x600", "#20242a", "DejaVu-Sans-Mono", "16", "#dde", "user%d@brindlemere.example 01632 960 10%d", 30, 26, 22, list)
	return map[string]image.Rectangle{
		notice:                             image.Rect(150, 115, 550, 175),
		letter:                             image.Rect(160, 616, 580, 714),
		list:                               image.Rect(30, 140, 370, 164),
		demo + "Screenshot 2026-11-02.png": image.Rect(672, 322, 1072, 358),
	}
}

// blurred is a picture of which ImageMagick blurred a part.
func blurred(t *testing.T, name string, at image.Rectangle, sigma float64, as string) image.Image {
	t.Helper()
	out := filepath.Join(t.TempDir(), "blurred"+as)
	reference.Run(t, "convert", name, "-region", fmt.Sprintf("%dx%d+%d+%d", at.Dx(), at.Dy(), at.Min.X, at.Min.Y), "-blur", fmt.Sprintf("0x%g", sigma), "+region", "-quality", "80", out)
	return reference.Picture(t, out)
}

// Blurred words are found where they are, from a blur that leaves them legible to one that hides every letter, and no
// others are.
func TestBlurredWordsAreFound(t *testing.T) {
	t.Parallel()
	for name, at := range sheets(t) {
		assert.Empty(t, blur.Find(reference.Picture(t, name)), "%s is sharp", name)
		for _, sigma := range []float64{2, 3, 4, 6} {
			for _, as := range []string{".png", ".jpg"} {
				all := blur.Find(blurred(t, name, at, sigma, as))
				if assert.Len(t, all, 1, "%s, %g, %s", name, sigma, as) {
					assert.True(t, all[0].In(at.Inset(-16)), "%s, %g, %s: %v is not %v", name, sigma, as, all[0], at)
					both := all[0].Intersect(at)
					assert.Greater(t, float64(both.Dx()*both.Dy()), 0.4*float64(at.Dx()*at.Dy()), "%s, %g, %s: %v of %v", name, sigma, as, all[0], at)
				}
			}
		}
	}
}

// Of handbooks that nobody here made, photos and drawings, next to none is taken for blurred words; nor is a sheet that is
// soft as a whole, a blurred photo, or a shadow.
func TestWhatIsNotBlurred(t *testing.T) {
	t.Parallel()
	var names []string
	for _, dir := range []string{"/usr/share/doc/imagemagick-6-common/html", "/usr/share/doc/xfig/html"} {
		require.NoError(t, filepath.WalkDir(dir, func(at string, d os.DirEntry, err error) error {
			switch filepath.Ext(at) {
			case ".png", ".jpg", ".gif":
				names = append(names, at)
			}
			return err
		}))
	}
	own, err := filepath.Glob(demo + "*.[pg]*")
	require.NoError(t, err)
	names = append(names, own...)
	require.Greater(t, len(names), 300)
	wrong, seen := 0, 0
	for _, name := range names {
		f, err := os.Open(name)
		require.NoError(t, err)
		m, _, err := image.Decode(f)
		require.NoError(t, f.Close())
		if err != nil {
			continue // one of the formats that Go does not read
		}
		seen++
		if all := blur.Find(m); len(all) > 0 {
			wrong++
			t.Logf("%s: %v", name, all)
		}
	}
	assert.Greater(t, seen, 300)
	assert.LessOrEqual(t, wrong, seen/100, "of %d", seen)

	dir := t.TempDir()
	for name, how := range map[string][]string{
		"soft.png":   {demo + "Screenshot 2026-11-02.png", "-blur", "0x3"},
		"photo.png":  {demo + "DSC_0417.JPG", "-resize", "900x", "-region", "300x200+200+200", "-blur", "0x5", "+region"},
		"shadow.png": {"-size", "600x300", "xc:white", "-font", "DejaVu-Sans", "-pointsize", "32", "-annotate", "+40+80", "Ask in the boathouse", "-region", "200x80+100+140", "-fill", "gray40", "-draw", "rectangle 20,20 180,60", "-blur", "0x6", "+region"},
		"small.png":  {"-size", "9x9", "xc:red"},
		"wide.png":   {"-size", "900x7", "xc:red"},
	} {
		out := filepath.Join(dir, name)
		reference.Run(t, "convert", append(how, out)...)
		assert.Empty(t, blur.Find(reference.Picture(t, out)), name)
	}
}
