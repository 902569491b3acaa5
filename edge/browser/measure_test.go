package browser_test

import (
	"context"
	"fmt"
	"io/fs"
	"net/http"
	"net/http/httptest"
	"os"
	"slices"
	"strings"
	"sync/atomic"
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/survey"
	"mivlet/demo/tenyears"
	"mivlet/edge/browser"
)

// grown is a site that grew for ten years, as it was read.
func grown(t *testing.T) (fs.FS, *survey.Survey) {
	t.Helper()
	dir := t.TempDir()
	_, err := tenyears.Write(dir)
	require.NoError(t, err)
	site := os.DirFS(dir)
	found, err := survey.Read(t.Context(), site, survey.Options{})
	require.NoError(t, err)
	return site, found
}

// What is measured is what was worked out, on a site whose widths can be; after that nothing is an estimate.
func TestPagesAreMeasured(t *testing.T) {
	t.Parallel()
	site, found := grown(t)
	before := found.Report()
	assert.True(t, before.Sum.Estimated)
	var pages []string
	for _, p := range found.Pages {
		pages = append(pages, p.Path)
	}
	last := 0
	all, err := browser.Measure(t.Context(), site, pages, func(done, of int) { assert.Equal(t, len(pages), of); last = done })
	require.NoError(t, err)
	assert.Equal(t, len(pages), last)
	assert.Equal(t, len(pages), found.Measured(all))
	after := found.Report()
	assert.False(t, after.Sum.Estimated)
	measuredAlone := func(f survey.Finding) bool { return f.Code == survey.LayoutShift }
	assert.True(t, slices.ContainsFunc(after.Findings, measuredAlone), "some pages say no width and height")
	after.Findings = slices.DeleteFunc(after.Findings, measuredAlone)
	assert.Equal(t, 3, len(after.Sum.Comes))
	for i, f := range before.Findings {
		before.Findings[i].Estimated = false
		assert.False(t, after.Findings[i].Estimated, f.Picture)
	}
	assert.Equal(t, before.Findings, after.Findings)
	assert.Equal(t, before.Columns, after.Columns)
	assert.Equal(t, 640, after.Columns[0].Width)
}

// What a browser takes of several files is told for each window, and what comes with a page by that.
func TestWhatTheBrowserTakes(t *testing.T) {
	t.Parallel()
	svg := func(w int) *fstest.MapFile {
		return &fstest.MapFile{Data: fmt.Appendf(nil, `<svg xmlns="http://www.w3.org/2000/svg" width="%d" height="%d"><!--%s--></svg>`, w, w/2, strings.Repeat("x", w))}
	}
	site := fstest.MapFS{
		"index.html": {Data: []byte(`<meta name="viewport" content="width=device-width"><style>body{margin:0}</style><img src="400.svg" srcset="400.svg 400w, 800.svg 800w, 1600.svg 1600w" sizes="100vw" style="width:100%" alt="a">` +
			strings.Repeat("<p>We were forty at the lake this year.</p>", 20) + `<picture><source media="(max-width: 500px)" srcset="a%20b.svg"><img src="800.svg" width="99" alt="b"></picture><img src="gone.svg" alt="c">`)},
		"400.svg": svg(400), "800.svg": svg(800), "1600.svg": svg(1600), "a b.svg": svg(300),
	}
	all, err := browser.Measure(t.Context(), site, []string{"index.html"}, nil)
	require.NoError(t, err)
	require.Len(t, all, 3)
	assert.Equal(t, []string{"400.svg", "a b.svg", "gone.svg"}, all[0].Chosen)
	assert.Equal(t, []string{"800.svg", "800.svg", "gone.svg"}, all[1].Chosen)
	assert.Equal(t, []string{"1600.svg", "800.svg", "gone.svg"}, all[2].Chosen)
	found, err := survey.Read(t.Context(), site, survey.Options{})
	require.NoError(t, err)
	require.Equal(t, 1, found.Measured(all))
	moves := slices.IndexFunc(found.Findings(), func(f survey.Finding) bool { return f.Code == survey.LayoutShift })
	require.GreaterOrEqual(t, moves, 0)
	assert.Equal(t, []any{"index.html", 1280}, []any{found.Findings()[moves].Page, found.Findings()[moves].Values[1]})
	size := func(name string) int64 { return int64(len(site[name].Data)) }
	assert.Equal(t, []int64{size("400.svg") + size("a b.svg"), size("800.svg"), size("1600.svg") + size("800.svg")}, found.Report().Sum.Comes)
}

// Columns that flow are measured where they cannot be worked out; a page whose scripts would say otherwise
// runs none of them, and reaches nobody.
func TestWhatCannotBeWorkedOut(t *testing.T) {
	t.Parallel()
	var reached atomic.Int32
	elsewhere := httptest.NewServer(http.HandlerFunc(func(http.ResponseWriter, *http.Request) { reached.Add(1) }))
	defer elsewhere.Close()
	svg := []byte(`<svg xmlns="http://www.w3.org/2000/svg" width="2000" height="1000"/>`)
	site := fstest.MapFS{
		"a/the page.html": {Data: []byte(`<style>body{margin:0;display:grid;grid-template-columns:1fr 3fr}img{width:100%}</style><p style="margin:0"><img src=../w.svg alt=x></p><p style="margin:0"><picture><source srcset=../w.svg><img alt=y></picture></p>`)},
		"script.html":     {Data: []byte(`<img src=w.svg width=100 alt=x><script>document.images[0].width=999;parent.document.title='x';fetch('` + elsewhere.URL + `')</script><img src=w.svg onload="this.width=5" width=50 alt=y>`)},
		"w.svg":           {Data: svg},
	}
	all, err := browser.Measure(t.Context(), site, []string{"a/the page.html", "script.html", "gone.html"}, nil)
	require.NoError(t, err)
	at := func(page string, v int) []float64 {
		for _, m := range all {
			if m.Page == page && m.Viewport == v {
				return m.Widths
			}
		}
		return nil
	}
	assert.InDeltaSlice(t, []float64{320, 960}, at("a/the page.html", 2), 1)
	assert.InDeltaSlice(t, []float64{192, 576}, at("a/the page.html", 1), 1)
	assert.Equal(t, []float64{100, 50}, at("script.html", 0))
	assert.Zero(t, reached.Load())
	found, err := survey.Read(t.Context(), site, survey.Options{})
	require.NoError(t, err)
	assert.Equal(t, 2, found.Measured(all))
}

// Whoever waits no longer has the browser end, with all of its processes.
func TestMeasuringIsStopped(t *testing.T) {
	t.Parallel()
	ctx, stop := context.WithCancel(t.Context())
	pages := make([]string, 500)
	for i := range pages {
		pages[i] = "index.html"
	}
	_, err := browser.Measure(ctx, fstest.MapFS{"index.html": {Data: []byte(`<p>Words`)}}, pages, func(int, int) { stop() })
	assert.ErrorIs(t, err, context.Canceled)
}
