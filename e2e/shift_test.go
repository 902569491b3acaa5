package e2e

import (
	"bytes"
	"image"
	"image/png"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"testing/fstest"

	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/survey"
	measuring "mivlet/edge/browser"
)

// How much a page moves when its pictures come is measured as Chromium itself tells it to pages (Layout Instability,
// W3C draft), when pictures come late.
func TestLayoutShiftAsTheBrowserTellsIt(t *testing.T) {
	t.Parallel()
	words := strings.Repeat("<p>We were forty at the lake this year, and nobody fell in.</p>", 12)
	const style = `<!doctype html><html lang="en"><title>Camp</title><style>body{margin:0;font:20px/1.5 sans-serif}img{max-width:100%;height:auto;display:block}</style>`
	pages := map[string]string{
		"top.html":     style + `<img src="a.png" alt="a">` + words,
		"sized.html":   style + `<img src="a.png" width="600" height="400" alt="a">` + words,
		"middle.html":  style + words[:len(words)/4] + `<img src="a.png" alt="a">` + words,
		"beside.html":  style + `<div style="display:flex"><img src="a.png" alt="a"><div>` + words + `</div></div>`,
		"picture.html": style + `<picture><source srcset="a.png"><img src="b.png" alt="a"></picture>` + words,
		"below.html":   style + words + words + words + `<img src="a.png" alt="a"><p>End</p>`,
	}
	var file bytes.Buffer
	require.NoError(t, png.Encode(&file, image.NewGray(image.Rect(0, 0, 600, 400))))
	site := fstest.MapFS{"a.png": {Data: file.Bytes()}, "b.png": {Data: file.Bytes()}}
	var all []string
	for at, text := range pages {
		site[at] = &fstest.MapFile{Data: []byte(text)}
		all = append(all, at)
	}
	measured, err := measuring.Measure(t.Context(), site, all, nil)
	require.NoError(t, err)
	ours := map[string]float64{}
	for _, m := range measured {
		if survey.Viewports[m.Viewport] == 1280 {
			ours[m.Page] = m.Shift
		}
	}

	come := make(chan struct{})
	server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		w.Header().Set("Cache-Control", "no-store")
		if strings.HasSuffix(r.URL.Path, ".png") {
			select {
			case <-come:
			case <-r.Context().Done():
			}
		}
		http.FileServerFS(site).ServeHTTP(w, r)
	}))
	defer server.Close()
	p := browser(t).MustPage()
	require.NoError(t, (proto.EmulationSetDeviceMetricsOverride{Width: 1280, Height: 900, DeviceScaleFactor: 1}).Call(p))
	for at := range pages {
		require.NoError(t, p.Navigate(server.URL+"/"+at))
		waitFor(t, p, `document.readyState !== 'loading' && !!document.querySelector('p')`)
		p.MustEval(`() => new Promise((go) => {
			window.moved = 0;
			new PerformanceObserver((list) => { for (const e of list.getEntries()) window.moved += e.value }).observe({ type: 'layout-shift', buffered: true });
			requestAnimationFrame(() => requestAnimationFrame(() => requestAnimationFrame(go)));
		})`)
		come <- struct{}{}
		waitFor(t, p, `[...document.images].every((i) => i.complete && i.naturalWidth > 0)`)
		told := p.MustEval(`() => new Promise((go) => requestAnimationFrame(() => requestAnimationFrame(() => setTimeout(() => go(window.moved), 100))))`).Num()
		t.Logf("%s: %.3f, as Chromium tells it %.3f", at, ours[at], told)
		assert.InDelta(t, told, ours[at], 0.01, at)
	}
	assert.Zero(t, ours["sized.html"])
	assert.Greater(t, ours["top.html"], 0.1)
}
