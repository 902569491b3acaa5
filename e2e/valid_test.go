package e2e

import (
	"fmt"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// demoPages is how many pages the demo has; each has an address on the site.
var demoPages = []string{"juniors/autumn-on-the-water", "boatshed/where-things-hang", "touring/across-the-lake", "river/what-lives-in-the-inflow", "socials/soup-night",
	"touring/the-season-in-pictures", "boatshed/which-vest-is-yours", "juniors/learn-the-stroke", "juniors/who-comes-along", "socials/winter-party"}

// publishAll brings every page of the demo live; some are signed for. The one whose
// headings leave a level out is mended first, as its sign-off offers.
func publishAll(t *testing.T, h house) {
	t.Helper()
	post := func(what string, form url.Values) {
		t.Helper()
		res, err := h.client.PostForm(h.app+what, form)
		require.NoError(t, err)
		res.Body.Close()
		require.Equal(t, 303, res.StatusCode, what)
	}
	post("/pages/8/mend", url.Values{"block": {"k3"}, "do": {"set-level"}, "value": {"2"}})
	for i := range demoPages {
		post(fmt.Sprintf("/pages/%d/publish", i+1), url.Values{"seen": {h.seen(t, i+1)}, "reason": {"They are looked at here."}})
	}
}

// The HTML of every page of the demo, and of the site's own pages, is valid, by an
// independent checker (html-validate, MIT, its recommended rules; installed by
// scripts/test), and axe-core finds nothing on it.
func TestEveryLivePageIsValidAndAccessible(t *testing.T) {
	h := start(t, "demo")
	publishAll(t, h)
	dir := t.TempDir()
	show := leafing(t, browser(t), 1280, 800)
	for i, at := range append([]string{"", "juniors", "visits", "nothing-here", "dates", "touring", "all-on-the-water"}, demoPages...) {
		html := body(t, h.site+"/"+at)
		require.NoError(t, os.WriteFile(filepath.Join(dir, fmt.Sprintf("%02d-%s.html", i, strings.ReplaceAll(at, "/", "-"))), []byte(html), 0o600))
		if i == 3 || !inTurn(i) {
			continue // nobody navigates to nothing
		}
		accessible(t, show(h.site+"/"+at), at)
	}
	checker := filepath.Join("checkers", "html", "node_modules", ".bin", "html-validate")
	if _, err := os.Stat(checker); err != nil {
		t.Fatalf("no checker at %s: run scripts/test, which installs it", checker)
	}
	checker, err := filepath.Abs(checker)
	require.NoError(t, err)
	config := filepath.Join(dir, ".htmlvalidate.json")
	require.NoError(t, os.WriteFile(config, []byte(`{"root": true, "extends": ["html-validate:recommended"]}`), 0o600))
	// Among them is one that is wrong: the checker finds that, and nothing else.
	require.NoError(t, os.WriteFile(filepath.Join(dir, "wrong.html"), []byte(`<!DOCTYPE html><html lang="en"><head><title>x</title></head><body><img src="a.png"></body></html>`), 0o600))
	cmd := exec.Command(checker, "--config", config, "--formatter", "text", ".")
	cmd.Dir = dir
	out, err := cmd.CombinedOutput()
	require.Error(t, err)
	alone(t, string(out), `^\S*wrong\.html:`)
	assert.Contains(t, string(out), "wcag/h37", "it has no alt")

	structured(t, dir)
}

// alone asserts that every line that names a page is of the kind that is expected.
func alone(t *testing.T, out, expected string) {
	t.Helper()
	kind, told := regexp.MustCompile(expected), 0
	for line := range strings.Lines(out) {
		if strings.Contains(line, ".html:") {
			told++
			assert.Regexp(t, kind, line)
		}
	}
	assert.Positive(t, told, out)
}

// structured checks the structured data of pages in a folder against the vocabulary of
// schema.org: schema-dts (Apache-2.0) has it as types, which TypeScript checks, and a
// validator of structured data (Apache-2.0) knows what crumbs need. scripts/test installs
// both.
func structured(t *testing.T, dir string) {
	t.Helper()
	// Among them are three that are wrong: the checkers find those, and nothing else.
	for name, thing := range map[string]string{
		"property": `{"@context":"https://schema.org","@type":"Article","heading":"Tea"}`,
		"kind":     `{"@context":"https://schema.org","@type":"Article","image":{"@type":"ImageObject","url":"https://club.example/a.jpg","width":1200}}`,
		"crumb":    `{"@context":"https://schema.org","@type":"BreadcrumbList","itemListElement":[{"@type":"ListItem","name":"Tea","item":"https://club.example/"}]}`,
	} {
		require.NoError(t, os.WriteFile(filepath.Join(dir, "wrong-"+name+".html"), []byte(`<html><head><script type="application/ld+json">[`+thing+`]</script></head></html>`), 0o600))
	}
	out, err := exec.Command("node", filepath.Join("checkers", "schema", "check.mjs"), dir).CombinedOutput()
	require.Error(t, err, "it can fail")
	alone(t, string(out), `^wrong-(property|kind|crumb)\.html:`)
	for _, name := range []string{"property.html", "kind.html", "crumb.html"} {
		assert.Contains(t, string(out), "wrong-"+name)
	}
	assert.Regexp(t, `(?m)^(2[0-9]|[3-9][0-9]) things were checked`, string(out))
}
