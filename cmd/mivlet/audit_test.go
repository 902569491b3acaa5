package main

import (
	"encoding/csv"
	"encoding/json"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/net/html"

	"mivlet/core/survey"
	"mivlet/demo/tenyears"
)

// A folder and an archive of it give the same report, in every form; the status tells how bad it is.
func TestASiteIsAudited(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	site := filepath.Join(dir, "public_html")
	_, err := tenyears.Write(site)
	require.NoError(t, err)
	archive := filepath.Join(dir, "site.zip")
	zip := exec.Command("zip", "-qr", archive, "public_html") //nolint:gosec // a tool on files of our own
	zip.Dir = dir
	out, err := zip.CombinedOutput()
	require.NoError(t, err, "%s", out)

	code, text, errs := shell("audit", site)
	assert.Equal(t, exitFailed, code, errs)
	assert.Empty(t, errs)
	first, _, _ := strings.Cut(text, "\n")
	assert.Regexp(t, `^121 pages, 4\d\d pictures: \d+ MB, could be \d+ MB; \d+ pictures without a description; \d+ with a position inside$`, first)
	assert.Contains(t, text, "stop  Files that tell where they were taken: 4")
	assert.Contains(t, text, "more (--all)")
	_, all, _ := shell("audit", "--all", site)
	assert.NotContains(t, all, "(--all)")

	_, folder, _ := shell("audit", "--json", site)
	code, zipped, errs := shell("audit", "--json", "--fail-on", "never", archive)
	assert.Zero(t, code, errs)
	assert.JSONEq(t, folder, zipped)
	var report survey.Report
	require.NoError(t, json.Unmarshal([]byte(folder), &report))
	assert.Equal(t, survey.Form, report.Form)
	assert.Len(t, report.Findings, report.Sum.Stop+report.Sum.Warn+report.Sum.Hint)

	_, table, _ := shell("audit", "--csv", site)
	lines, err := csv.NewReader(strings.NewReader(table)).ReadAll()
	require.NoError(t, err)
	assert.Len(t, lines, 1+len(report.Findings))

	_, measured, errs := shell("audit", "--measure", site)
	assert.Empty(t, errs)
	assert.Contains(t, measured, "Widths on a desktop: 640 px (")
	assert.Regexp(t, `as a browser took them: \d+ kB at 390 px, \d+ kB at 768 px, \d+ kB at 1280 px`, measured)
	assert.Contains(t, measured, "Pages that move while their pictures load: ")
	onlyMeasured := regexp.MustCompile(`(?m)^Pictures that come with a page.*\n|^\w+ +Pages that move(?:.*\n)(?: {6}.*\n)*\n`)
	assert.Equal(t, text, onlyMeasured.ReplaceAllString(measured, ""), "what is measured is what was worked out")

	_, page, _ := shell("audit", "--html", site)
	root, err := html.Parse(strings.NewReader(page))
	require.NoError(t, err)
	assert.NotNil(t, root)
	assert.Equal(t, len(report.Findings)+2, strings.Count(page, "<li"), "each, and the two that say what all weigh")
	assert.NotRegexp(t, `(src|href)=`, page, "it needs nothing else")
}

// The status tells how bad it is, as far as somebody asks for it.
func TestHowBadASiteIs(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	write := func(page string) {
		require.NoError(t, os.WriteFile(filepath.Join(dir, "index.html"), []byte(page), 0o600))
	}
	status := func(failOn string) int {
		code, _, _ := shell("audit", "--fail-on", failOn, dir)
		return code
	}
	write(`<p>Words`)
	code, out, _ := shell("audit", "--fail-on", "hint", dir)
	assert.Zero(t, code)
	assert.Contains(t, out, "Nothing is wrong.")
	write(`<a href=gone.html>Gone</a>`)
	assert.Equal(t, []int{0, 0, exitFailed, exitFailed}, []int{status("never"), status("stop"), status("warn"), status("hint")})
	write(`<img src=gone.jpg>`)
	assert.Equal(t, []int{0, exitFailed}, []int{status("never"), status("stop")})
	assert.Equal(t, exitUsage, status("often"))

	code, _, errs := shell("audit", filepath.Join(dir, "nothing"))
	assert.Equal(t, exitFailed, code)
	assert.Contains(t, errs, "no such file")
	code, _, errs = shell("audit", filepath.Join(dir, "index.html"))
	assert.Equal(t, exitFailed, code)
	assert.Contains(t, errs, "neither a folder nor a ZIP archive")
	photo, err := os.ReadFile("../../demo/pictures/ropes banner.png")
	require.NoError(t, err)
	for _, name := range []string{"banner.png", "banner-2.png"} {
		require.NoError(t, os.WriteFile(filepath.Join(dir, name), append(photo, name...), 0o600)) // with something of its own at its end
	}
	_, out, _ = shell("audit", dir)
	assert.NotContains(t, out, "The same picture in several sizes")
	_, out, _ = shell("audit", "--look", dir)
	assert.Contains(t, out, "banner.png: It shows the same as banner-2.png.")
	_, out, _ = shell("audit", t.TempDir())
	assert.Contains(t, out, "there is no page in it")
}

// What a site says cannot do anything in the report: no script in a page, no formula in a table; and a link
// out of the folder is not followed.
func TestHostileSites(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	secret := filepath.Join(t.TempDir(), "secret.html")
	require.NoError(t, os.WriteFile(secret, []byte("<img src='of-somebody-else.jpg'>"), 0o600))
	require.NoError(t, os.Symlink(secret, filepath.Join(dir, "out.html")))
	require.NoError(t, os.WriteFile(filepath.Join(dir, "=cmd.html"), []byte(`<img src="<script>alert(1)</script>"><a href="=HYPERLINK(1)">x</a>`), 0o600))
	_, page, _ := shell("audit", "--html", dir)
	assert.NotContains(t, page, "<script>")
	assert.Contains(t, page, "&lt;script&gt;")
	_, table, _ := shell("audit", "--csv", dir)
	lines, err := csv.NewReader(strings.NewReader(table)).ReadAll()
	require.NoError(t, err)
	for _, line := range lines[1:] {
		for _, cell := range line {
			assert.NotRegexp(t, `^[=+@-]`, cell)
		}
	}
	_, report, _ := shell("audit", "--json", dir)
	assert.NotContains(t, report, "somebody-else")
}
