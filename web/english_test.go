package web_test

import (
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"os"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/net/html"
)

// What plain language asks of sentences (ISO 24495-1:2023, 5.3 "Readers can easily
// understand what they find": clear and concise sentences; from memory; the figures are common practice).
const (
	mostWords    = 25   // in any sentence
	averageWords = 12.0 // of all sentences
)

// clippedLabels are buttons that do not say what they do.
var clippedLabels = []string{"Off", "On", "Go", "Out", "In"}

// clipped are ways to say things that save a word and cost the reader a thought.
var clipped = []string{"is none.", "are none.", "as the house has it", "says stop", "lacks anything", "lacks something", "broke off", "wants publishing", "to be mended", "does not go together", "said no"}

var (
	action    = regexp.MustCompile(`\{\{(?:/\*.*?\*/|[^}]*)\}\}`)
	controls  = regexp.MustCompile(`\{\{-? *(?:if|else|end|range|with|define|template|block|/\*)`)
	verb      = regexp.MustCompile(`%(?:\[\d\])?[-+ #0]*\d*(?:\.\d+)?[a-zA-Z]`)
	ends      = regexp.MustCompile(`[.!?:;](?:\s+|$)`)
	word      = regexp.MustCompile(`[\p{L}\p{N}][\p{L}\p{N}'’.-]*`)
	endOfLine = "\x00"
)

// sentence is one sentence of the interface, and where it stands.
type sentence struct{ text, at string }

// TestTheInterfaceIsPlainEnglish reads every sentence that somebody may be shown.
func TestTheInterfaceIsPlainEnglish(t *testing.T) {
	all := append(inTemplates(t), inCode(t, ".", "../desk", "../sentences", "../core/words", "../core/naming", "../core/veil", "../core/rules", "../cmd/mivlet")...)
	require.Greater(t, len(all), 600, "sentences are found at all")
	words := 0
	for _, s := range all {
		assert.NotContains(t, clippedLabels, s.text, s.at)
		n := len(word.FindAllString(s.text, -1))
		words += n
		assert.LessOrEqual(t, n, mostWords, "%s: %q", s.at, s.text)
		for _, c := range clipped {
			assert.NotContains(t, strings.ToLower(s.text), c, "%s: %q", s.at, s.text)
		}
	}
	average := float64(words) / float64(len(all))
	t.Logf("%d sentences of %.1f words", len(all), average)
	assert.LessOrEqual(t, average, averageWords)
}

// inTemplates are the sentences of the templates: texts, and what is read out or shown
// for elements.
func inTemplates(t *testing.T) (all []sentence) {
	require.NoError(t, filepath.WalkDir("templates", func(file string, e fs.DirEntry, err error) error {
		if err != nil || e.IsDir() || !strings.HasSuffix(file, ".html") {
			return err
		}
		text, err := os.ReadFile(file)
		if err != nil {
			return err
		}
		plain := action.ReplaceAllStringFunc(string(text), func(a string) string {
			if controls.MatchString(a) {
				return endOfLine
			}
			return "x"
		})
		z := html.NewTokenizer(strings.NewReader(plain))
		for {
			switch z.Next() {
			case html.ErrorToken:
				return nil
			case html.TextToken:
				all = append(all, sentences(string(z.Text()), file)...)
			case html.StartTagToken, html.SelfClosingTagToken:
				for _, a := range z.Token().Attr {
					if a.Key == "aria-label" || a.Key == "title" || a.Key == "placeholder" || a.Key == "alt" {
						all = append(all, sentences(a.Val, file)...)
					}
				}
			}
		}
	}))
	return all
}

// inCode are the strings of code that are sentences: of several words, beginning with a
// capital.
func inCode(t *testing.T, folders ...string) (all []sentence) {
	for _, folder := range folders {
		require.NoError(t, filepath.WalkDir(folder, func(file string, e fs.DirEntry, err error) error {
			if err != nil || e.IsDir() || !strings.HasSuffix(file, ".go") || strings.HasSuffix(file, "_test.go") {
				return err
			}
			parsed, err := parser.ParseFile(token.NewFileSet(), file, nil, 0)
			if err != nil {
				return err
			}
			ast.Inspect(parsed, func(n ast.Node) bool {
				lit, ok := n.(*ast.BasicLit)
				if !ok || lit.Kind != token.STRING {
					return true
				}
				text, err := strconv.Unquote(lit.Value)
				if err == nil && len(strings.Fields(text)) > 2 && regexp.MustCompile(`^(?:\p{Lu}|%[sd] )`).MatchString(text) && !strings.Contains(text, "<") {
					all = append(all, sentences(verb.ReplaceAllString(text, "x"), file)...)
				}
				return true
			})
			return nil
		}))
	}
	return all
}

// sentences parts a text.
func sentences(text, at string) (all []sentence) {
	for _, line := range strings.Split(text, endOfLine) {
		for _, s := range ends.Split(strings.Join(strings.Fields(line), " "), -1) {
			if len(word.FindAllString(s, -1)) > 1 {
				all = append(all, sentence{strings.TrimSpace(s), at})
			}
		}
	}
	return all
}
