package browser

import (
	"bytes"
	"context"
	_ "embed"
	"encoding/base64"
	"errors"
	"fmt"
	"image"
	"image/png"
	"io/fs"
	"math"
	"net/http"
	"net/url"
	"time"

	"golang.org/x/sync/errgroup"

	"mivlet/core/fit"
	"mivlet/core/mend"
	"mivlet/core/survey"
)

//go:embed still.js
var still string

const (
	windowHeight = 900    // of the window that pages are compared in, in CSS pixels
	strip        = 2000   // how much of a page is drawn at a time, in CSS pixels
	tallest      = 60_000 // what lies below is not compared
	loading      = 20 * time.Second
)

// Compare compares pages of a site with what they were, in all windows of [survey.Viewports], pixel by pixel and without
// their pictures; that a picture has another place or size counts, too. Of what was compared it tells all, also that
// nothing differs. progress, where it is not nil, is told how many pages are done. It fails with [ErrNone], and where the
// browser cannot be run.
func Compare(ctx context.Context, was, now fs.FS, pages []string, progress func(done, all int)) ([]mend.Compared, error) {
	c, err := start(ctx, "about:blank")
	if err != nil {
		return nil, err
	}
	defer c.end()
	p, err := c.speak(ctx)
	if err != nil {
		return nil, err
	}
	defer p.to.Close()
	var tabs [2]*tab
	for i, files := range []fs.FS{was, now} {
		host, end, err := serve(quietly(files))
		if err != nil {
			return nil, err
		}
		defer end()
		if tabs[i], err = p.open(ctx, host); err != nil {
			return nil, err
		}
	}
	all := make([]mend.Compared, 0, len(pages)*len(survey.Viewports))
	for n, page := range pages {
		for v := range survey.Viewports {
			one := mend.Compared{Page: page, Viewport: v}
			areas, err := differing(ctx, tabs, page, int(survey.Viewports[v]))
			if ctx.Err() != nil {
				return nil, ctx.Err()
			}
			select {
			case <-c.gone:
				return nil, fmt.Errorf("%s ended before it had compared: %w", c.program, c.err)
			default:
			}
			if one.Areas = areas; err != nil {
				one.Fault = err.Error()
			}
			all = append(all, one)
		}
		if progress != nil {
			progress(n+1, len(pages))
		}
	}
	return all, nil
}

// quietly serves a site none of whose scripts runs.
func quietly(files fs.FS) http.Handler {
	site := http.FileServerFS(files)
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		w.Header().Set("Cache-Control", "no-store")
		w.Header().Set("Content-Security-Policy", "script-src 'none'")
		site.ServeHTTP(w, r)
	})
}

// differing loads a page as it was and as it is in windows of a width, and tells where they differ.
func differing(ctx context.Context, tabs [2]*tab, page string, width int) ([]fit.Box, error) {
	var stands [2]standing
	if err := both(func(i int) (err error) {
		stands[i], err = tabs[i].load(ctx, page, width)
		return err
	}); err != nil {
		return nil, err
	}
	var d mend.Differences
	was, now := stands[0].boxes(), stands[1].boxes()
	if len(was) != len(now) {
		return nil, errors.New("the pages hold different pictures")
	}
	for i := range was {
		if far(stands[0].Pictures[i], stands[1].Pictures[i]) {
			d.Moved(was[i], now[i])
		}
	}
	for top := 0; top < min(max(stands[0].Height, stands[1].Height), tallest); top += strip {
		var drawn [2]string
		if err := both(func(i int) (err error) {
			if tall := min(strip, stands[i].Height-top); tall > 0 {
				drawn[i], err = tabs[i].draw(ctx, image.Rect(0, top, width, top+tall))
			}
			return err
		}); err != nil {
			return nil, err
		}
		if drawn[0] == drawn[1] {
			continue
		}
		var images [2]image.Image
		if err := both(func(i int) (err error) {
			images[i], err = decoded(drawn[i])
			return err
		}); err != nil {
			return nil, err
		}
		d.Strip(top, images[0], images[1])
	}
	return d.Areas(), nil
}

// both does something for what was and for what is, side by side.
func both(do func(i int) error) error {
	var g errgroup.Group
	for i := range 2 {
		g.Go(func() error { return do(i) })
	}
	return g.Wait()
}

func decoded(drawn string) (image.Image, error) {
	if drawn == "" {
		return image.NewRGBA(image.Rectangle{}), nil // the page ends above
	}
	data, err := base64.StdEncoding.DecodeString(drawn)
	if err != nil {
		return nil, err
	}
	return png.Decode(bytes.NewReader(data))
}

// standing is where a page's pictures stand.
type standing struct {
	Height   int          `json:"height"`
	Pictures [][4]float64 `json:"pictures"` // left, top, right, bottom; in CSS pixels
}

// boxes are the smallest rectangles of whole pixels around them.
func (s standing) boxes() []image.Rectangle {
	all := make([]image.Rectangle, len(s.Pictures))
	for i, p := range s.Pictures {
		all[i] = image.Rect(int(math.Floor(p[0])), int(math.Floor(p[1])), int(math.Ceil(p[2])), int(math.Ceil(p[3])))
	}
	return all
}

// far says whether a picture stands elsewhere by more than what rounding may do.
func far(a, b [4]float64) bool {
	for i := range a {
		if math.Abs(a[i]-b[i]) > 0.5 {
			return true
		}
	}
	return false
}

// tab is a tab of the browser that shows pages of one site.
type tab struct {
	*protocol
	session, host string
}

// open opens a tab.
func (p *protocol) open(ctx context.Context, host string) (*tab, error) {
	var target struct {
		ID string `json:"targetId"`
	}
	if err := p.call(ctx, "", "Target.createTarget", map[string]any{"url": "about:blank"}, &target); err != nil {
		return nil, err
	}
	var attached struct {
		Session string `json:"sessionId"`
	}
	if err := p.call(ctx, "", "Target.attachToTarget", map[string]any{"targetId": target.ID, "flatten": true}, &attached); err != nil {
		return nil, err
	}
	return &tab{p, attached.Session, host}, p.call(ctx, attached.Session, "Page.enable", nil, nil)
}

// load shows a page in a window of a width, and waits until all of it is there and stands still.
func (t *tab) load(ctx context.Context, page string, width int) (s standing, err error) {
	window := map[string]any{"width": width, "height": windowHeight, "deviceScaleFactor": 1, "mobile": false}
	if err := t.call(ctx, t.session, "Emulation.setDeviceMetricsOverride", window, nil); err != nil {
		return s, err
	}
	loaded := t.expect(t.session, "Page.loadEventFired")
	var gone struct {
		Text string `json:"errorText"`
	}
	at := url.URL{Path: "/" + page}
	if err := t.call(ctx, t.session, "Page.navigate", map[string]any{"url": t.host + at.EscapedPath()}, &gone); err != nil {
		return s, err
	}
	if gone.Text != "" {
		return s, errors.New(gone.Text)
	}
	select {
	case <-loaded:
	case <-time.After(loading):
		return s, errors.New("the page is not loaded in time")
	case <-ctx.Done():
		return s, ctx.Err()
	}
	var told struct {
		Result struct {
			Value *standing `json:"value"`
		} `json:"result"`
		Exception *struct {
			Text string `json:"text"`
		} `json:"exceptionDetails"`
	}
	ask := map[string]any{"expression": still, "awaitPromise": true, "returnByValue": true}
	if err := t.call(ctx, t.session, "Runtime.evaluate", ask, &told); err != nil {
		return s, err
	}
	if told.Exception != nil || told.Result.Value == nil {
		return s, errors.New("the page cannot be looked at")
	}
	return *told.Result.Value, nil
}

// draw draws a part of the page, as PNG in Base64.
func (t *tab) draw(ctx context.Context, part image.Rectangle) (string, error) {
	var drawn struct {
		Data string `json:"data"`
	}
	clip := map[string]any{"x": part.Min.X, "y": part.Min.Y, "width": part.Dx(), "height": part.Dy(), "scale": 1}
	err := t.call(ctx, t.session, "Page.captureScreenshot", map[string]any{"format": "png", "optimizeForSpeed": true, "captureBeyondViewport": true, "clip": clip}, &drawn)
	return drawn.Data, err
}
