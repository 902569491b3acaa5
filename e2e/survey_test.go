package e2e

import (
	"encoding/json"
	"math"
	"net/http"
	"net/http/httptest"
	"net/url"
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/survey"
	"mivlet/demo/tenyears"
)

// inBrowser is a picture as a browser has it.
type inBrowser struct {
	At      string  `json:"at"` // the path that it is got from
	Width   float64 `json:"width"`
	Natural float64 `json:"natural"` // 0 where it could not be got
}

const picturesNow = `() => JSON.stringify([...document.images].map(i => ({at: new URL(i.src, document.baseURI).pathname, width: i.getBoundingClientRect().width, natural: i.naturalWidth})))`

// compared is what comparing pages gave.
type compared struct{ pictures, widths, near int }

// compare looks at pages of a folder in Chromium and compares what it has with what was read: which
// pictures stand on each, which of them are there, and how wide they are shown.
func compare(t *testing.T, dir string, every int) (c compared) {
	t.Helper()
	found, err := survey.Read(t.Context(), os.DirFS(dir), survey.Options{})
	require.NoError(t, err)
	missing := map[string]bool{}
	for _, f := range found.Findings() {
		if f.Code == survey.BrokenPicture {
			missing[f.Page+" "+f.Address] = true
		}
	}
	files := http.FileServer(http.Dir(dir))
	site := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		w.Header().Set("Content-Security-Policy", "script-src 'none'") // what scripts add is not read
		files.ServeHTTP(w, r)
	}))
	t.Cleanup(site.Close)
	p := open(t, browser(t), "about:blank", 1280, 800, 1)
	for i, known := range found.Pages {
		if i%every != 0 {
			continue
		}
		var uses []survey.Use
		for _, u := range known.Uses {
			if u.Kind == survey.Image {
				uses = append(uses, u)
			}
		}
		for v, width := range survey.Viewports {
			p.MustSetViewport(int(width), 800, 1, false)
			p.MustNavigate(site.URL + "/" + (&url.URL{Path: known.Path}).EscapedPath()).MustWaitLoad()
			p.MustEval(`() => { for (const i of document.images) i.loading = 'eager' }`)
			waitFor(t, p, `[...document.images].every(i => i.complete)`)
			var got []inBrowser
			require.NoError(t, json.Unmarshal([]byte(p.MustEval(picturesNow).Str()), &got))
			if !assert.Len(t, uses, len(got), known.Path) {
				break
			}
			for n, u := range uses {
				if u.File != "" {
					c.pictures++
					at, err := url.PathUnescape(got[n].At)
					require.NoError(t, err)
					assert.Equal(t, "/"+u.File, at, known.Path)
				}
				if missing[known.Path+" "+u.Address] {
					assert.Zero(t, got[n].Natural, "%s: %s is there", known.Path, u.Address)
					continue
				}
				if f := found.Files[u.File]; f == nil || f.Facts == nil {
					continue // elsewhere, or told to be damaged
				}
				assert.NotZero(t, got[n].Natural, "%s: %s cannot be got", known.Path, u.Address)
				c.widths++
				if math.Abs(u.Shown[v]-got[n].Width) <= 1 {
					c.near++
				} else if testing.Verbose() {
					t.Logf("%s at %.0f px: %s is %.1f px wide, and not %.1f", known.Path, width, u.Address, got[n].Width, u.Shown[v])
				}
			}
		}
	}
	return c
}

// What is read of pages is what Chromium has of them: on a site of three ages every picture is as wide as
// was worked out, and on what other people wrote most are.
func TestASiteIsReadAsABrowserReadsIt(t *testing.T) {
	t.Parallel()
	t.Run("ten years", func(t *testing.T) {
		t.Parallel()
		dir := t.TempDir()
		_, err := tenyears.Write(dir)
		require.NoError(t, err)
		c := compare(t, dir, 9)
		t.Log(c)
		assert.Greater(t, c.pictures, 90)
		assert.Equal(t, c.widths, c.near)
	})
	// Handbooks in HTML that come with Debian packages: xfig-doc (tables and frames, pages in Japanese) and
	// imagemagick-6-doc (HTML 5).
	for dir, every := range map[string]int{"/usr/share/doc/xfig/html": 13, "/usr/share/doc/imagemagick-6-common/html": 67} {
		t.Run(strings.Split(dir, "/")[4], func(t *testing.T) {
			t.Parallel()
			require.DirExists(t, dir, "scripts/test installs it")
			c := compare(t, dir, every)
			t.Log(c)
			assert.Greater(t, c.pictures, 20)
			assert.GreaterOrEqual(t, float64(c.near), 0.9*float64(c.widths))
		})
	}
}
