package browser_test

import (
	"context"
	"net/http"
	"net/http/httptest"
	"os"
	"sync/atomic"
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/survey"
	"mivlet/demo/tenyears"
	"mivlet/edge/browser"
)

// What is measured is what was worked out, on a site whose widths can be; after that nothing is an estimate.
func TestPagesAreMeasured(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	_, err := tenyears.Write(dir)
	require.NoError(t, err)
	site := os.DirFS(dir)
	found, err := survey.Read(t.Context(), site, survey.Options{})
	require.NoError(t, err)
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
	for i, f := range before.Findings {
		before.Findings[i].Estimated = false
		assert.False(t, after.Findings[i].Estimated, f.Picture)
	}
	assert.Equal(t, before.Findings, after.Findings)
	assert.Equal(t, before.Columns, after.Columns)
	assert.Equal(t, 640, after.Columns[0].Width)
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
