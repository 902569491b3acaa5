package web

import (
	"io/fs"
	"os"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Every field of a template that asks for a number is one whose words are refused. Two have checks
// of their own: the rules tell what is wrong with a value, and an edge of the ruler that is none
// lies nowhere.
func TestEveryFieldForNumbersIsKnown(t *testing.T) {
	input, named := regexp.MustCompile(`(?s)<input\b[^>]*`), regexp.MustCompile(`\bname="([^"]*)"`)
	numeric := regexp.MustCompile(`inputmode="(numeric|decimal)"|type="(number|range)"`)
	placed := regexp.MustCompile(`{{[^}]*}}`)
	own, seen := []string{"value", "from", "to"}, 0
	templates := os.DirFS("templates")
	require.NoError(t, fs.WalkDir(templates, ".", func(at string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return err
		}
		data, err := fs.ReadFile(templates, at)
		if err != nil {
			return err
		}
		for _, field := range input.FindAllString(string(data), -1) {
			m := named.FindStringSubmatch(field)
			if !numeric.MatchString(field) || m == nil {
				continue
			}
			seen++
			name := placed.ReplaceAllString(strings.ReplaceAll(m[1], "{{.Device}}", "phone"), "9")
			_, is := figure(name)
			assert.True(t, is || slices.Contains(own, name), "%s: letters in %q would be taken for 0", at, m[1])
		}
		return nil
	}))
	assert.Greater(t, seen, 30)
}
