package main

import (
	"encoding/json"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/mend"
)

// smallSite is a site of one page and one photo, which a camera's file is much too large for.
func smallSite(t *testing.T) string {
	t.Helper()
	site := filepath.Join(t.TempDir(), "public_html")
	require.NoError(t, os.MkdirAll(filepath.Join(site, "files"), 0o755))
	photo, err := os.ReadFile("../../demo/pictures/DSC_0402.JPG")
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(filepath.Join(site, "files", "IMG_2041.jpg"), photo, 0o600))
	require.NoError(t, os.WriteFile(filepath.Join(site, "index.html"), []byte(`<p><img src="files/IMG_2041.jpg" width="300">`), 0o600))
	return site
}

// A site is mended into a new folder or a new archive, which say the same; nothing that is there is written
// over, and the site itself stays as it was.
func TestASiteIsMended(t *testing.T) {
	t.Parallel()
	site := smallSite(t)
	words := filepath.Join(t.TempDir(), "words.json")
	require.NoError(t, os.WriteFile(words, []byte(`[{"page": "index.html", "address": "files/IMG_2041.jpg", "alt": "A boat at the pier"}]`), 0o600))
	names := filepath.Join(t.TempDir(), "names.json")
	require.NoError(t, os.WriteFile(names, []byte(`{"files/IMG_2041.jpg": "boat-at-the-pier"}`), 0o600))
	folder, archive := filepath.Join(t.TempDir(), "new"), filepath.Join(t.TempDir(), "new.zip")

	code, text, errs := shell("mend", site, "--plan", "--words", words, "--names", names)
	assert.Zero(t, code, errs)
	assert.Contains(t, text, `+ <img src="files/boat-at-the-pier.jpg" width="300" alt="A boat at the pier" srcset=`)
	code, text, errs = shell("mend", site, "--out", folder, "--words", words, "--names", names)
	require.Zero(t, code, errs)
	assert.Regexp(t, `^1 tag on 1 page, 1 picture\n[\d.]+ [kM]B before, \d+ kB now\n$`, text)
	code, text, errs = shell("mend", site, "--out", archive, "--json", "--words", words, "--names", names)
	require.Zero(t, code, errs)
	var told struct {
		Changes  []mend.Change
		Pictures []mend.Outcome
	}
	require.NoError(t, json.Unmarshal([]byte(text), &told))
	require.Len(t, told.Changes, 1)
	assert.Equal(t, []mend.Kind{mend.Described, mend.Lighter, mend.Sized}, told.Changes[0].Kinds)
	_, mended, _ := shell("audit", "--json", "--fail-on", "never", folder)
	_, zipped, errs := shell("audit", "--json", "--fail-on", "never", archive)
	assert.JSONEq(t, mended, zipped, errs)

	code, text, errs = shell("mend", site, "--out", filepath.Join(t.TempDir(), "compared"), "--compare")
	require.Zero(t, code, errs)
	assert.Contains(t, text, "As before, outside of the pictures: 1 of 1 page\n")
	code, text, errs = shell("mend", site, "--out", filepath.Join(t.TempDir(), "compared.zip"), "--compare", "--json")
	require.Zero(t, code, errs)
	var beside struct{ Compared []mend.Compared }
	require.NoError(t, json.Unmarshal([]byte(text), &beside))
	assert.Equal(t, []mend.Compared{{Page: "index.html"}, {Page: "index.html", Viewport: 1}, {Page: "index.html", Viewport: 2}}, beside.Compared)
	code, _, errs = shell("mend", site, "--plan", "--compare")
	assert.Equal(t, exitUsage, code)
	assert.Contains(t, errs, "--compare needs a site that was mended")
	code, _, errs = shell("mend", site, "--out", folder)
	assert.NotZero(t, code)
	assert.Contains(t, errs, "file exists")
	page, err := os.ReadFile(filepath.Join(site, "index.html"))
	require.NoError(t, err)
	assert.Equal(t, `<p><img src="files/IMG_2041.jpg" width="300">`, string(page))
	code, _, errs = shell("mend", site)
	assert.Equal(t, exitUsage, code)
	assert.Contains(t, errs, "--out is missing")
}
