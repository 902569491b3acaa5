package web

import (
	"io/fs"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Each address that templates and scripts write out gets the path before it: attributes of other names, and calls
// without own, would lead outside.
func TestAddressesGetThePathBefore(t *testing.T) {
	attribute := regexp.MustCompile(`([a-z-]+)="(/[^/"]?[^"]*)`)
	require.NoError(t, fs.WalkDir(templateFiles, ".", func(name string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return err
		}
		text, err := templateFiles.ReadFile(name)
		for _, m := range attribute.FindAllStringSubmatch(string(text), -1) {
			if m[1] != "placeholder" && m[1] != "data-key" {
				assert.Regexp(t, ownAddresses, " "+m[0]+`"`, "%s: %s", name, m[0])
			}
		}
		return err
	}))
	asks := regexp.MustCompile("(?:fetch|EventSource|open|ajax|question|href =)\\(?\\s*(?:'[A-Z]+',\\s*)?[`']/")
	require.NoError(t, fs.WalkDir(staticFiles, "static/js", func(name string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return err
		}
		text, err := staticFiles.ReadFile(name)
		for _, m := range asks.FindAllString(string(text), -1) {
			assert.True(t, strings.HasPrefix(m, "question("), "%s: %s… is written without own()", name, m)
		}
		return err
	}))
	assert.Equal(t, "/club/x", own("/club", "/x"))
	assert.Equal(t, "//x.example", own("/club", "//x.example"))
	assert.Equal(t, "https://x.example/", own("/club", "https://x.example/"))
	assert.Empty(t, own("/club", ""))
}
