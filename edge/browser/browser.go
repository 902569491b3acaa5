// Package browser has Chromium, where it is installed on this machine, measure how wide the pages of a site
// show their pictures. No script of the site runs, and nothing is fetched from elsewhere.
package browser

import (
	"context"
	"crypto/rand"
	_ "embed"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"net"
	"net/http"
	"os"
	"os/exec"
	"sync"
	"time"

	"mivlet/core/survey"
)

//go:embed measure.js
var script []byte

// programs are the names under which it may be installed.
var programs = []string{"chromium", "chromium-browser", "chromium-headless-shell", "google-chrome", "chrome"}

// ErrNone means that no browser is installed that could measure.
var ErrNone = errors.New("no Chromium is installed on this machine")

// quiet is how long nothing may come from the browser before it is given up.
const quiet = 90 * time.Second

// Measure measures some pages of a site in all windows of [survey.Viewports]. progress, where it is not nil,
// is told how many are done. It fails with [ErrNone], and where the browser cannot be run; pages that it
// cannot measure are left out.
func Measure(ctx context.Context, files fs.FS, pages []string, progress func(done, all int)) ([]survey.Measured, error) {
	program := ""
	for _, name := range programs {
		if at, err := exec.LookPath(name); err == nil {
			program = at
			break
		}
	}
	if program == "" {
		return nil, ErrNone
	}
	profile, err := os.MkdirTemp("", "mivlet-browser-")
	if err != nil {
		return nil, err
	}
	defer os.RemoveAll(profile)
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return nil, err
	}
	m := &measuring{files: http.FileServerFS(files), pages: pages, progress: progress, secret: rand.Text(), heard: make(chan struct{}, 1), ended: make(chan struct{})}
	server := &http.Server{Handler: m, ReadHeaderTimeout: 10 * time.Second}
	go func() { _ = server.Serve(listener) }()
	defer server.Close()

	ctx, stop := context.WithCancel(ctx)
	defer stop()
	args := []string{"--headless", "--disable-gpu", "--no-first-run", "--disable-background-networking", "--disable-component-update", "--hide-scrollbars",
		"--user-data-dir=" + profile, "--host-resolver-rules=MAP * ~NOTFOUND, EXCLUDE 127.0.0.1", "--remote-debugging-port=0"}
	if os.Geteuid() == 0 {
		args = append(args, "--no-sandbox") // it does not run as root otherwise; no script of the site runs in it
	}
	run := exec.CommandContext(ctx, program, append(args, fmt.Sprintf("http://%s/%s/", listener.Addr(), m.secret))...) //nolint:gosec // one of the names above
	run.Env = append(os.Environ(), "HOME="+profile)
	run.WaitDelay = 5 * time.Second
	inGroup(run)
	if err := run.Start(); err != nil {
		return nil, fmt.Errorf("%s cannot be run: %w", program, err)
	}
	gone := make(chan error, 1)
	go func() { gone <- run.Wait() }()
	defer func() { stop(); <-gone }()
	for {
		select {
		case <-m.ended:
			return m.all(), nil
		case err := <-gone:
			gone <- err
			return nil, fmt.Errorf("%s ended before it had measured: %w", program, err)
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
