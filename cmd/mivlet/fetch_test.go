package main

import (
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A site is fetched into an archive that can be audited; what cannot be got leaves no archive behind.
func TestASiteIsFetched(t *testing.T) {
	t.Parallel()
	site := httptest.NewServer(http.FileServer(http.Dir(smallSite(t))))
	t.Cleanup(site.Close)
	to := filepath.Join(t.TempDir(), "site.zip")
	code, text, errs := shell("fetch", site.URL, "--out", to, "--rest", "0s")
	require.Zero(t, code, errs)
	assert.Regexp(t, `^1 page, 2 files, [\d.]+ [kM]B\n$`, text)
	assert.Contains(t, errs, "2 files, 0 to go")
	_, audit, _ := shell("audit", "--fail-on", "never", to)
	assert.Contains(t, audit, "1 page, 1 picture")

	code, _, errs = shell("fetch", site.URL, "--out", to, "--rest", "0s")
	assert.NotZero(t, code)
	assert.Contains(t, errs, "file exists")
	none := filepath.Join(t.TempDir(), "none.zip")
	code, _, errs = shell("fetch", site.URL+"/none.html", "--out", none, "--rest", "0s", "--quiet")
	assert.NotZero(t, code)
	assert.Contains(t, errs, "404")
	_, err := os.Stat(none)
	assert.ErrorIs(t, err, os.ErrNotExist)
	code, _, errs = shell("fetch", site.URL)
	assert.Equal(t, exitUsage, code)
	assert.Contains(t, errs, "--out is missing")
}
