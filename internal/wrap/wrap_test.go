package wrap_test

import (
	"io/fs"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"unicode/utf8"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/net/html"

	"mivlet/internal/wrap"
)

// A line is broken between attributes, or between words, and nowhere else.
func TestWhereLinesAreBroken(t *testing.T) {
	long := strings.Repeat("x", 100)
	for in, want := range map[string]string{
		`<a class="` + long + `" href="/a b">here</a>`:       `<a class="` + long + `"` + "\n" + `  href="/a b">here</a>`,
		`<p>` + long + ` and some more words</p>`:            `<p>` + long + ` and some more` + "\n" + `  words</p>`,
		`<pre>` + long + ` and some more words</pre>`:        `<pre>` + long + ` and some more words</pre>`,
		`{{template "` + long + `" dict "a" "}} b"}}`:        `{{template "` + long + `" dict` + "\n" + `  "a" "}} b"}}`,
		`{{/* it's ` + long + ` a "comment */}}<p>a b</p>`:   `{{/* it's ` + long + ` a "comment */}}<p>a` + "\n" + `  b</p>`,
		`<a title="` + long + ` one two three four">a</a> b`: `<a` + "\n" + `  title="` + long + ` one two three four">a</a>` + "\n" + `  b`,
		"short": "short",
	} {
		got := wrap.Template(in)
		assert.Equal(t, want, got)
		assert.Equal(t, got, wrap.Template(got), "what is broken stays as it is")
	}
}

// templates calls do with every template of the interface.
func templates(t *testing.T, do func(file, text string)) {
	t.Helper()
	require.NoError(t, filepath.WalkDir("../../web/templates", func(file string, e fs.DirEntry, err error) error {
		if err != nil || e.IsDir() || filepath.Ext(file) != ".html" {
			return err
		}
		text, err := os.ReadFile(file)
		if err != nil {
			return err
		}
		if os.Getenv("WRAP") != "" { // writes them as they should be
			text = []byte(wrap.Template(string(text)))
			if err := os.WriteFile(file, text, 0o644); err != nil {
				return err
			}
		}
		do(file, string(text))
		return nil
	}))
}

// The interface's templates are as this package writes them, and no line is longer.
func TestTemplatesAreWrapped(t *testing.T) {
	templates(t, func(file, text string) {
		assert.Equal(t, wrap.Template(text), text, "%s: run WRAP=1 go test ./internal/wrap", file)
		for i, line := range strings.Split(text, "\n") {
			assert.LessOrEqual(t, utf8.RuneCountInString(line), wrap.Most, "%s:%d: break it by hand", file, i+1)
		}
	})
}

var spaces = regexp.MustCompile(`\s+`)

// What a browser makes of a template does not change: the same elements, attributes and
// texts, but for how the space between words is written.
func TestWrappingChangesNothing(t *testing.T) {
	tokens := func(text string) (all []string) {
		z := html.NewTokenizer(strings.NewReader(text))
		for {
			kind := z.Next()
			if kind == html.ErrorToken {
				return all
			}
			all = append(all, spaces.ReplaceAllString(z.Token().String(), " "))
		}
	}
	templates(t, func(file, text string) {
		joined := text // as few lines as may be, to have something to break
		joined = regexp.MustCompile(`\n +`).ReplaceAllString(joined, " ")
		assert.Equal(t, tokens(joined), tokens(wrap.Template(joined)), file)
	})
}
