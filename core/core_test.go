package core_test

import (
	"go/parser"
	"go/token"
	"io/fs"
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
		all, err := parser.ParseDir(token.NewFileSet(), d.Name(), func(f fs.FileInfo) bool { return !strings.HasSuffix(f.Name(), "_test.go") }, parser.ParseComments|parser.PackageClauseOnly)
		require.NoError(t, err)
		said := ""
		for _, p := range all {
			for _, f := range p.Files {
				said += f.Doc.Text()
			}
		}
		assert.Greater(t, len(said), 60, "core/%s has no package comment", d.Name())
	}
}
