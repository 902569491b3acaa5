package e2e

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"image"
	"image/png"
	"io/fs"
	"math"
	"net/http"
	"net/http/httptest"
	"net/url"
	"os"
	"path"
	"path/filepath"
	"slices"
	"testing"

	"github.com/go-rod/rod"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/mend"
	"mivlet/core/raster"
	"mivlet/core/survey"
	"mivlet/demo/tenyears"
)

// Every box of the page, in the order of the document; of pictures, what they show, too.
const boxesNow = `() => JSON.stringify([...document.querySelectorAll('body *')].map(e => {
	const b = e.getBoundingClientRect();
	return {tag: e.localName, x: b.x + scrollX, y: b.y + scrollY, width: b.width, height: b.height, natural: e.naturalWidth ?? 0, at: e.currentSrc ?? ''};
}))`

type box struct {
	Tag                 string
	X, Y, Width, Height float64
	Natural             float64
	At                  string
}

func (b box) rect() image.Rectangle {
	return image.Rect(int(math.Floor(b.X)), int(math.Floor(b.Y)), int(math.Ceil(b.X+b.Width)), int(math.Ceil(b.Y+b.Height)))
}

// shot is a page in a window: its boxes, and its pixels where they are asked for.
func shot(t *testing.T, p *rod.Page, at string, width int, pixels bool) (boxes []box, m image.Image) {
	t.Helper()
	p.MustSetViewport(width, 800, 1, false)
	p.MustNavigate(at).MustWaitLoad()
	p.MustEval(`() => { for (const i of document.images) i.loading = 'eager' }`)
	waitFor(t, p, `[...document.images].every(i => i.complete)`)
	require.NoError(t, json.Unmarshal([]byte(p.MustEval(boxesNow).Str()), &boxes))
	if pixels {
		var err error
		m, err = png.Decode(bytes.NewReader(p.MustScreenshotFullPage()))
		require.NoError(t, err)
	}
	return boxes, m
}

// inFolder takes a mended site into a folder.
type inFolder struct {
	from fs.FS
	to   *os.Root
}

func (f inFolder) Put(at string, data []byte) error {
	return errors.Join(f.to.MkdirAll(path.Dir(at), 0o755), f.to.WriteFile(at, data, 0o644))
}

func (f inFolder) Copy(at string) error {
	data, err := fs.ReadFile(f.from, at)
	return errors.Join(err, f.Put(at, data))
}

// mended mends of a site each so many-th page that changes, with its pictures, and returns those pages.
func mended(t *testing.T, from, to string, every int) []mend.Page {
	t.Helper()
	files := os.DirFS(from)
	found, err := survey.Read(t.Context(), files, survey.Options{})
	require.NoError(t, err)
	all, err := mend.New(t.Context(), files, found, mend.Choices{})
	require.NoError(t, err)
	// Pages on which a picture only comes from another address are as good as one of them.
	only := func(c mend.Change) bool { return slices.Equal(c.Kinds, []mend.Kind{mend.Joined}) }
	first := all.Pages[0]
	all.Pages = append([]mend.Page{first}, slices.DeleteFunc(slices.Clone(all.Pages[1:]), func(p mend.Page) bool {
		return !slices.ContainsFunc(p.Changes, func(c mend.Change) bool { return !only(c) })
	})...)
	looked, left := map[string]bool{}, map[string]bool{}
	for at := range found.Files {
		left[at] = true
	}
	for i, page := range all.Pages {
		if looked[page.Path] = i%every == 0; looked[page.Path] {
			for _, c := range page.Changes {
				delete(left, c.Picture)
			}
		}
	}
	plan, err := mend.New(t.Context(), files, found, mend.Choices{Left: left})
	require.NoError(t, err)
	into, err := os.OpenRoot(to)
	require.NoError(t, err)
	defer into.Close()
	_, err = plan.Write(context.Background(), files, found, raster.Limits{Pixels: 200e6}, inFolder{files, into}, nil)
	require.NoError(t, err)
	return slices.DeleteFunc(plan.Pages, func(p mend.Page) bool { return !looked[p.Path] })
}

func serveQuietly(t *testing.T, dir string) string {
	files := http.FileServer(http.Dir(dir))
	site := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		w.Header().Set("Content-Security-Policy", "script-src 'none'")
		files.ServeHTTP(w, r)
	}))
	t.Cleanup(site.Close)
	return site.URL
}

// In Chromium, in three windows, nothing on a mended page stands elsewhere or is larger than before, no
// picture is missing, and outside of the pictures every pixel is the same.
func TestAMendedPageLooksAsBefore(t *testing.T) {
	t.Parallel()
	for name, site := range map[string]struct {
		dir   string
		every int // of the pages that change, which are looked at
	}{
		"ten years": {"", 5}, "xfig": {"/usr/share/doc/xfig/html", 20}, "imagemagick": {"/usr/share/doc/imagemagick-6-common/html/www/Magick++", 1},
	} {
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			from, to := site.dir, t.TempDir()
			if from == "" {
				from = t.TempDir()
				_, err := tenyears.Make(30, 100, func(at string, data []byte) error {
					return errors.Join(os.MkdirAll(filepath.Join(from, filepath.Dir(at)), 0o755), os.WriteFile(filepath.Join(from, at), data, 0o600))
				})
				require.NoError(t, err)
			}
			pages := mended(t, from, to, site.every)
			require.NotEmpty(t, pages)
			before, after := serveQuietly(t, from), serveQuietly(t, to)
			p := open(t, browser(t), "about:blank", 1280, 800, 1)
			for i, page := range pages {
				at := "/" + (&url.URL{Path: page.Path}).EscapedPath()
				for v, width := range survey.Viewports {
					was, pixels := shot(t, p, before+at, int(width), i == 0)
					now, nowPixels := shot(t, p, after+at, int(width), i == 0)
					if !assert.Len(t, now, len(was), page.Path) {
						break
					}
					var pictures []image.Rectangle
					for n, b := range now {
						a := was[n]
						off := max(math.Abs(a.X-b.X), math.Abs(a.Y-b.Y), math.Abs(a.Width-b.Width), math.Abs(a.Height-b.Height))
						assert.LessOrEqual(t, off, 0.05, "%s at %.0f px: <%s> %d %+v, and before %+v", page.Path, width, b.Tag, n, b, a)
						if b.Tag == "img" {
							pictures = append(pictures, a.rect(), b.rect())
							assert.Equal(t, a.Natural > 0, b.Natural > 0, "%s: %s", page.Path, b.At)
						}
					}
					if pixels != nil {
						assert.Zero(t, differing(pixels, nowPixels, pictures), "%s in window %d: pixels outside of the pictures differ", page.Path, v)
					}
				}
			}
			if site.dir == "" {
				takesTheRightCuts(t, after, pages)
			}
		})
	}
}

// differing counts the pixels outside of some rectangles that are not the same.
func differing(a, b image.Image, without []image.Rectangle) (n int) {
	if a.Bounds() != b.Bounds() {
		return a.Bounds().Dx() * a.Bounds().Dy()
	}
	for y := a.Bounds().Min.Y; y < a.Bounds().Max.Y; y++ {
	next:
		for x := a.Bounds().Min.X; x < a.Bounds().Max.X; x++ {
			if a.At(x, y) == b.At(x, y) {
				continue
			}
			for _, r := range without {
				if (image.Point{X: x, Y: y}).In(r) {
					continue next
				}
			}
			n++
		}
	}
	return n
}

// takesTheRightCuts looks whether a browser fetches of each picture a cut of about as many pixels as it shows,
// and on a sharp screen one of twice as many, as long as the picture has them.
func takesTheRightCuts(t *testing.T, site string, pages []mend.Page) {
	looked := 0
	for _, density := range []float64{1, 2} {
		p := open(t, browser(t), "about:blank", 1280, 800, density)
		for _, page := range pages {
			p.MustNavigate(site + "/" + (&url.URL{Path: page.Path}).EscapedPath()).MustWaitLoad()
			p.MustEval(`() => { for (const i of document.images) i.loading = 'eager' }`)
			waitFor(t, p, `[...document.images].every(i => i.complete)`)
			var all []struct{ Width, File, Most float64 }
			require.NoError(t, json.Unmarshal([]byte(p.MustEval(`async () => JSON.stringify(await Promise.all([...document.images].filter(i => i.srcset && i.naturalWidth).map(async i => {
				const b = await createImageBitmap(await (await fetch(i.currentSrc)).blob());
				return {Width: i.getBoundingClientRect().width, File: b.width, Most: parseInt(i.srcset.split(/ (?=\\d+w)/)[1])};
			})))`).Str()), &all))
			for _, one := range all {
				looked++
				assert.GreaterOrEqual(t, one.File, min(0.99*one.Width*density, one.Most), page.Path)
				assert.LessOrEqual(t, one.File, 1.35*one.Width*density, page.Path)
			}
		}
	}
	assert.Greater(t, looked, 8)
}
