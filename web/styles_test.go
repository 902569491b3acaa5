package web_test

import (
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var (
	widthsAt  = regexp.MustCompile(`Where screens change, in CSS pixels: ([\d ]+)\.`)
	mediaAt   = regexp.MustCompile(`\((min|max)-width: ([^)]+)\)`) // in whichever unit
	layersAt  = regexp.MustCompile(`(?m)^@layer ([\w, ]+);`)
	layerOpen = regexp.MustCompile(`(?m)^@layer (\w+) \{`)
)

// Where screens change is stated once, in layers.css; a screen that begins at a width begins
// there, or one pixel after where another ends.
func TestBreakpointsAreStatedOnce(t *testing.T) {
	styles := stylesheets(t)
	stated := widthsAt.FindStringSubmatch(styles["layers.css"])
	require.NotNil(t, stated)
	widths := strings.Fields(stated[1])
	seen := map[string]bool{}
	for name, text := range styles {
		for _, m := range mediaAt.FindAllStringSubmatch(text, -1) {
			width := strings.TrimSuffix(m[2], "px")
			if m[1] == "min" && strings.HasSuffix(width, "01") {
				width = width[:len(width)-1] + "0" // 901 is all above 900
			}
			assert.Contains(t, widths, width, "%s changes at %s", name, m[2])
			seen[width] = true
		}
	}
	assert.Len(t, seen, len(widths), "each is used somewhere")
}

// Every style stands in a layer of the order that layers.css states, but for those of
// documents of their own.
func TestEveryStyleHasItsLayer(t *testing.T) {
	styles := stylesheets(t)
	stated := layersAt.FindStringSubmatch(styles["layers.css"])
	require.NotNil(t, stated)
	order := strings.Split(stated[1], ", ")
	for name, text := range styles {
		if slices.Contains([]string{"layers.css", "site.css", "draft.css", "proof.css"}, name) {
			continue // the order, what visitors see, and pages inside of frames
		}
		layer := layerOpen.FindStringSubmatch(text)
		if assert.NotNil(t, layer, name) {
			assert.Contains(t, order, layer[1], name)
		}
	}
}

func stylesheets(t *testing.T) map[string]string {
	t.Helper()
	files, err := filepath.Glob("static/css/*.css")
	require.NoError(t, err)
	all := map[string]string{}
	for _, f := range files {
		text, err := os.ReadFile(f)
		require.NoError(t, err)
		all[filepath.Base(f)] = string(text)
	}
	require.Greater(t, len(all), 10)
	return all
}
