package browser

import (
	"context"
	"crypto/rand"
	_ "embed"
	"encoding/json"
	"fmt"
	"io"
	"io/fs"
	"net/http"
	"sync"
	"time"

	"mivlet/core/survey"
)

//go:embed measure.js
var script []byte

// quiet is how long nothing may come from the browser before it is given up.
const quiet = 90 * time.Second

// Measure measures some pages of a site in all windows of [survey.Viewports]. progress, where it is not nil,
// is told how many are done. It fails with [ErrNone], and where the browser cannot be run; pages that it
// cannot measure are left out.
func Measure(ctx context.Context, files fs.FS, pages []string, progress func(done, all int)) ([]survey.Measured, error) {
	m := &measuring{files: http.FileServerFS(files), pages: pages, progress: progress, secret: rand.Text(), heard: make(chan struct{}, 1), ended: make(chan struct{})}
	host, end, err := serve(m)
	if err != nil {
		return nil, err
	}
	defer end()
	c, err := start(ctx, host+"/"+m.secret+"/")
	if err != nil {
		return nil, err
	}
	defer c.end()
	for {
		select {
		case <-m.ended:
			return m.all(), nil
		case <-c.gone:
			return nil, fmt.Errorf("%s ended before it had measured: %w", c.program, c.err)
		case <-ctx.Done():
			return nil, ctx.Err()
		case <-m.heard:
		case <-time.After(quiet):
			return m.all(), nil
		}
	}
}

// measuring serves the site to the browser, and takes what it measures.
type measuring struct {
	files    http.Handler
	pages    []string
	progress func(done, all int)
	secret   string // that only the browser's own page knows
	heard    chan struct{}
	ended    chan struct{}

	mu   sync.Mutex
	got  []survey.Measured
	done int
	over bool
}

func (m *measuring) all() []survey.Measured {
	m.mu.Lock()
	defer m.mu.Unlock()
	return m.got
}

func (m *measuring) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	w.Header().Set("Cache-Control", "no-store")
	switch r.URL.Path {
	case "/" + m.secret + "/":
		w.Header().Set("Content-Type", "text/html; charset=utf-8")
		fmt.Fprint(w, `<!doctype html><html lang="en"><title>Measuring</title><body><script type="module" src="measure.js"></script>`)
	case "/" + m.secret + "/measure.js":
		w.Header().Set("Content-Type", "text/javascript; charset=utf-8")
		_, _ = w.Write(script)
	case "/" + m.secret + "/pages":
		_ = json.NewEncoder(w).Encode(map[string]any{"pages": m.pages, "widths": survey.Viewports})
	case "/" + m.secret + "/measured":
		m.take(r.Body)
	case "/" + m.secret + "/end":
		m.mu.Lock()
		defer m.mu.Unlock()
		if !m.over {
			m.over = true
			close(m.ended)
		}
	case "/" + m.secret + "/never":
		select {
		case <-r.Context().Done():
		case <-m.ended:
		}
	default:
		w.Header().Set("Content-Security-Policy", "script-src 'none'")
		m.files.ServeHTTP(w, r)
	}
}

// mostTold is how many bytes the browser may tell of one page.
const mostTold = 16 << 20

func (m *measuring) take(body io.Reader) {
	var told struct {
		Page   string      `json:"page"`
		Widths [][]float64 `json:"widths"`
		Chosen [][]string  `json:"chosen"`
		Shifts []float64   `json:"shifts"`
	}
	if err := json.NewDecoder(io.LimitReader(body, mostTold)).Decode(&told); err != nil {
		return
	}
	m.mu.Lock()
	defer m.mu.Unlock()
	for v, widths := range told.Widths {
		one := survey.Measured{Page: told.Page, Viewport: v, Widths: widths}
		if v < len(told.Chosen) && v < len(told.Shifts) {
			one.Chosen, one.Shift = told.Chosen[v], told.Shifts[v]
		}
		m.got = append(m.got, one)
	}
	m.done++
	if m.progress != nil {
		m.progress(m.done, len(m.pages))
	}
	select {
	case m.heard <- struct{}{}:
	default:
	}
}
