package e2e

import (
	"archive/zip"
	"bytes"
	"fmt"
	"io"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A page is taken along to a system in which nothing can be installed: its files are uploaded there,
// the addresses that they get are pasted into the steps, and the page that is copied from there shows
// every picture with its description.
func TestAPageIsTakenAlong(t *testing.T) {
	h := start(t, "demo")
	dir := t.TempDir()
	res, err := h.client.Get(h.app + "/pages/7/take-along")
	require.NoError(t, err)
	packed, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	res.Body.Close()
	require.Equal(t, "application/zip", res.Header.Get("Content-Type"))
	z, err := zip.NewReader(bytes.NewReader(packed), int64(len(packed)))
	require.NoError(t, err)
	require.NoError(t, os.CopyFS(dir, z))

	// The other system keeps what is uploaded under names of its own, and pages under others.
	page := ""
	other := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.URL.Path == "/page" {
			w.Header().Set("Content-Type", "text/html; charset=utf-8")
			_, _ = io.WriteString(w, "<!doctype html><html lang=en><title>Elsewhere</title><body>"+page)
			return
		}
		http.ServeFile(w, r, filepath.Join(dir, filepath.FromSlash(r.URL.Query().Get("kept"))))
	}))
	defer other.Close()

	b := browser(t)
	p := open(t, b, "file://"+dir+"/steps.html", 1280, 800, 1)
	waitFor(t, p, `[...document.images].every((i) => i.complete && i.naturalWidth > 0)`)
	fields := p.MustElements("[data-stands-for]")
	require.Greater(t, len(fields), 2)
	waitText(t, p, "#left", fmt.Sprintf("^%d addresses are missing", len(fields)))
	fields[0].MustInput("javascript:alert(1)")
	assert.True(t, fields[0].MustEval(`() => this.hasAttribute('aria-invalid')`).Bool())
	assert.NotContains(t, p.MustElement("#page").MustProperty("value").Str(), "javascript:")
	names := p.MustEval(`() => [...document.querySelectorAll('li a')].map((a) => a.getAttribute('href'))`).Arr()
	require.Len(t, names, len(fields))
	for i, f := range fields {
		f.MustSelectAllText().MustInput(other.URL + "/upload?n=" + fmt.Sprint(i) + "&kept=" + names[i].Str())
	}
	waitText(t, p, "#left", "All addresses are in their places")
	page = p.MustElement("#page").MustProperty("value").Str()
	assert.NotContains(t, page, "ADDRESS-OF")
	for _, width := range []int{1280, 390} {
		p.MustSetViewport(width, 800, 1, false)
		assert.LessOrEqual(t, p.MustEval(`() => document.documentElement.scrollWidth`).Int(), width, "the steps fit")
	}

	const described = `() => [...document.querySelectorAll('img')].filter((i) => i.alt).map((i) => i.alt).sort().join('|')`
	v := open(t, b, other.URL+"/page", 1280, 800, 1)
	waitFor(t, v, `[...document.images].length > 1 && [...document.images].every((i) => i.complete && i.naturalWidth > 0)`)
	assert.Empty(t, v.MustEval(`() => [...document.images].filter((i) => i.naturalWidth < i.getBoundingClientRect().width - 1).map((i) => i.src)`).Arr(), "no picture is drawn larger than it is")
	drafted := open(t, b, h.app+"/pages/7", 1280, 800, 1)
	assert.Equal(t, drafted.MustEval(strings.Replace(described, "'img'", "'.sheet img'", 1)).Str(), v.MustEval(described).Str(), "each picture is described as on its page")
}
