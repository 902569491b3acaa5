package core_test

import (
	"go/parser"
	"go/token"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var example = regexp.MustCompile(`(?m)^func Example\w*\(\) \{[^}]`)

// Whoever comes to a package finds what it is for, and one use of it that runs.
func TestEveryPackageExplainsItself(t *testing.T) {
	folders, err := os.ReadDir(".")
	require.NoError(t, err)
	for _, d := range folders {
		if !d.IsDir() {
			continue
		}
		shown := false
		tests, err := filepath.Glob(filepath.Join(d.Name(), "*_test.go"))
		require.NoError(t, err)
		for _, file := range tests {
			text, err := os.ReadFile(file)
			require.NoError(t, err)
			shown = shown || example.Match(text)
		}
		assert.True(t, shown, "core/%s has no example", d.Name())
		said := ""
		files, err := filepath.Glob(filepath.Join(d.Name(), "*.go"))
		require.NoError(t, err)
		for _, file := range files {
			if !strings.HasSuffix(file, "_test.go") {
				f, err := parser.ParseFile(token.NewFileSet(), file, nil, parser.ParseComments|parser.PackageClauseOnly)
				require.NoError(t, err)
				said += f.Doc.Text()
			}
		}
		assert.Greater(t, len(said), 60, "core/%s has no package comment", d.Name())
	}
}
