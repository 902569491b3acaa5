package web

import (
	"fmt"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The walk of the README is the help of the screens. MIVLET_README=1 writes it anew.
func TestTheReadmeTellsTheSameWalk(t *testing.T) {
	at := filepath.Join("..", "README.md")
	text, err := os.ReadFile(at)
	require.NoError(t, err)
	const begin, end = "<!-- the walk: begin -->\n", "<!-- the walk: end -->"
	before, rest, ok := strings.Cut(string(text), begin)
	require.True(t, ok)
	told, after, ok := strings.Cut(rest, end)
	require.True(t, ok)
	if os.Getenv("MIVLET_README") != "" {
		require.NoError(t, os.WriteFile(at, []byte(before+begin+readmeHelp()+end+after), 0o644))
		return
	}
	assert.Equal(t, readmeHelp(), told)
}

// Every screen with keys has help, each help is of a screen, and has a drawing.
func TestEveryScreenHasHelp(t *testing.T) {
	for screen := range keysOf {
		if screen == "" {
			continue
		}
		_, err := helpFor(screen)
		assert.NoError(t, err)
	}
	_, err := helpFor("nowhere")
	assert.Error(t, err)
	drawings, err := os.ReadFile("templates/shared/help.html")
	require.NoError(t, err)
	shown := regexp.MustCompile(`"help-of" "([\w-]+)"`)
	used := map[string]bool{}
	files, err := filepath.Glob("templates/*.html")
	require.NoError(t, err)
	for _, f := range files {
		data, err := os.ReadFile(f)
		require.NoError(t, err)
		for _, m := range shown.FindAllStringSubmatch(string(data), -1) {
			used[m[1]] = true
		}
	}
	for _, list := range [][]help{walkHelp, besideHelp} {
		for _, h := range list {
			assert.True(t, used[h.Screen], "no screen shows the help %q", h.Screen)
			assert.True(t, h.Drawing == "people" || strings.Contains(string(drawings), `eq . "`+h.Drawing+`"`), "%q has no drawing %q", h.Screen, h.Drawing)
			for _, sentence := range append([]string{h.Does}, h.Steps...) {
				assert.True(t, strings.HasSuffix(sentence, "."), sentence)
			}
		}
	}
}

// readmeHelp writes the walk, and what stands beside it, for the README, as CommonMark.
func readmeHelp() string {
	var out strings.Builder
	item := func(bullet string, h help) {
		wrapped(&out, bullet, "**"+h.Title+".** "+h.Does+" "+strings.Join(h.Steps, " "))
	}
	for i, h := range walkHelp {
		item(fmt.Sprintf("%d. ", i+1), h)
	}
	out.WriteString("\nBeside the walk stand:\n\n")
	for _, h := range besideHelp {
		item("- ", h)
	}
	return out.String()
}

// wrapped writes a text after a bullet, in lines of at most 88 characters.
func wrapped(out *strings.Builder, bullet, text string) {
	line := bullet
	for _, word := range strings.Fields(text) {
		if len(line)+len(word) > 88 {
			out.WriteString(strings.TrimRight(line, " ") + "\n")
			line = strings.Repeat(" ", len(bullet))
		}
		line += word + " "
	}
	out.WriteString(strings.TrimRight(line, " ") + "\n")
}
