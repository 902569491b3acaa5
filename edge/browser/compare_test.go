package browser_test

import (
	"archive/zip"
	"bytes"
	"context"
	"fmt"
	"image"
	"io/fs"
	"maps"
	"net/http"
	"net/http/httptest"
	"strings"
	"sync/atomic"
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/fit"
	"mivlet/core/mend"
	"mivlet/core/raster"
	"mivlet/edge/browser"
)

// A site that grew for ten years looks as it did when it has been mended, pixel by pixel, in all windows: one page in ten
// is looked at here.
func TestAMendedSiteLooksAsBefore(t *testing.T) {
	t.Parallel()
	was, found := grown(t)
	plan, err := mend.New(t.Context(), was, found, mend.Choices{})
	require.NoError(t, err)
	var packed bytes.Buffer
	z := zip.NewWriter(&packed)
	_, err = plan.Write(t.Context(), was, found, raster.Limits{Pixels: 50e6}, mend.Archive{Files: was, Into: z}, nil)
	require.NoError(t, err)
	require.NoError(t, z.Close())
	now, err := zip.NewReader(bytes.NewReader(packed.Bytes()), int64(packed.Len()))
	require.NoError(t, err)
	var pages []string
	for i, p := range plan.Pages {
		if !testing.Short() && i%10 == 0 || i < 3 {
			pages = append(pages, p.Path)
		}
	}
	last := 0
	all, err := browser.Compare(t.Context(), was, now, pages, func(done, of int) { assert.Equal(t, len(pages), of); last = done })
	require.NoError(t, err)
	assert.Equal(t, len(pages), last)
	assert.Len(t, all, 3*len(pages))
	for _, one := range all {
		assert.Empty(t, one.Areas, "%s at %d", one.Page, one.Width())
		assert.Empty(t, one.Fault, "%s at %d", one.Page, one.Width())
	}
}

func svg(width, height int, colour string) *fstest.MapFile {
	return &fstest.MapFile{Data: fmt.Appendf(nil, `<svg xmlns="http://www.w3.org/2000/svg" width="%d" height="%d"><rect width="100%%" height="100%%" fill="%s"/></svg>`, width, height, colour)}
}

// Each thing that can look otherwise is found where it is, in the windows in which it does; pictures may show other files.
func TestWhatLooksOtherwiseIsFound(t *testing.T) {
	t.Parallel()
	const head = `<!doctype html><meta name="viewport" content="width=device-width"><link rel="stylesheet" href="own.css"><style>body{margin:0;font:16px/20px monospace}p{margin:0;height:20px;width:200px;overflow:hidden}img{display:block}</style>`
	page := func(body string) *fstest.MapFile { return &fstest.MapFile{Data: []byte(head + body)} }
	was := fstest.MapFS{
		"same.html":       page(`<p>Words</p><img src="a.svg" width="100" height="50" alt="x"><p style="background:url(a.svg)">More</p>`),
		"word.html":       page(`<p>One</p><p>Two</p>`),
		"colour.html":     page(`<p>One</p><p id="c">Two</p>`),
		"narrow.html":     page(`<p>One</p><p class="narrow">Two</p>`),
		"picture.html":    page(`<img src="a.svg" width="100" height="50" alt="x"><p>Words</p>`),
		"shorter.html":    page(`<p>One</p><p>Two</p>`),
		"deep.html":       page(strings.Repeat("<p>A line</p>", 300) + `<p>Below</p>`),
		"a page é.html":   page(`<p>One</p>`),
		"moves.html":      page(`<style>@keyframes k{from{color:red}to{color:blue}}p{animation:k .3s infinite alternate}</style><p>One</p>`),
		"script.html":     page(`<p id="a">One</p><script>document.getElementById('a').textContent=Math.random();fetch('/told')</script>`),
		"own.css":         {Data: []byte(`#c{color:#123456}`)},
		"a.svg":           svg(100, 50, "red"),
		"sub/index.html":  page(`<p>One</p><img src="/a.svg" alt="x">`),
		"leads-away.html": {Data: []byte(`<meta http-equiv="refresh" content="0;url=https://www.club.example/">`)},
	}
	now := maps.Clone(was)
	now["a.svg"] = svg(100, 50, "blue")
	now["word.html"] = page(`<p>One</p><p>Tvo</p>`)
	now["own.css"] = &fstest.MapFile{Data: []byte(`#c{color:#123457} @media (max-width: 500px){.narrow{color:green}}`)}
	now["picture.html"] = page(`<img src="a.svg" width="100" height="70" alt="x"><p>Words</p>`)
	now["shorter.html"] = page(`<p>One</p>`)
	now["deep.html"] = page(strings.Repeat("<p>A line</p>", 300) + `<p>Bellow</p>`)
	pages := []string{"same.html", "word.html", "colour.html", "narrow.html", "picture.html", "shorter.html", "deep.html", "a page é.html", "moves.html", "script.html", "sub/index.html", "gone.html"}
	all, err := browser.Compare(t.Context(), was, now, pages, nil)
	require.NoError(t, err)
	found := map[string][3][]fit.Box{}
	for _, one := range all {
		assert.Empty(t, one.Fault, one.Page)
		three := found[one.Page]
		three[one.Viewport] = one.Areas
		found[one.Page] = three
	}
	for _, same := range []string{"same.html", "a page é.html", "moves.html", "script.html", "sub/index.html", "gone.html"} {
		assert.Equal(t, [3][]fit.Box{}, found[same], same)
	}
	in := func(page string, around image.Rectangle) {
		t.Helper()
		for v, areas := range found[page] {
			if assert.NotEmpty(t, areas, "%s in window %d", page, v) {
				for _, a := range areas {
					assert.True(t, a.Rect().In(around), "%s: %v in %v", page, a, around)
				}
			}
		}
	}
	in("word.html", image.Rect(0, 16, 48, 48))
	in("colour.html", image.Rect(0, 16, 48, 48))
	in("picture.html", image.Rect(0, 0, 104, 96))
	in("shorter.html", image.Rect(0, 16, 48, 48))
	in("deep.html", image.Rect(0, 5992, 80, 6024))
	assert.NotEmpty(t, found["narrow.html"][0])
	assert.Empty(t, found["narrow.html"][1])
	assert.Empty(t, found["narrow.html"][2])
}

// What a page asks for elsewhere is not fetched, and a page that leads away is not followed there.
func TestComparingReachesNobody(t *testing.T) {
	t.Parallel()
	var reached atomic.Int32
	elsewhere := httptest.NewServer(http.HandlerFunc(func(http.ResponseWriter, *http.Request) { reached.Add(1) }))
	defer elsewhere.Close()
	other := strings.Replace(elsewhere.URL, "127.0.0.1", "localhost", 1)
	site := fstest.MapFS{"index.html": {Data: []byte(`<link rel="stylesheet" href="` + other + `/a.css"><img src="` + other + `/a.png" alt=""><script src="` + other + `/a.js"></script><iframe src="` + other + `"></iframe><p>Words`)}}
	all, err := browser.Compare(t.Context(), site, site, []string{"index.html"}, nil)
	require.NoError(t, err)
	require.Len(t, all, 3)
	assert.Equal(t, mend.Compared{Page: "index.html"}, all[0])
	assert.Zero(t, reached.Load())
}

// Whoever waits no longer has the browser end.
func TestComparingIsStopped(t *testing.T) {
	t.Parallel()
	ctx, stop := context.WithCancel(t.Context())
	site := fstest.MapFS{"index.html": {Data: []byte(`<p>Words`)}}
	pages := make([]string, 500)
	for i := range pages {
		pages[i] = "index.html"
	}
	_, err := browser.Compare(ctx, site, fs.FS(site), pages, func(int, int) { stop() })
	assert.ErrorIs(t, err, context.Canceled)
}
