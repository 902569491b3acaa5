package main

import (
	"encoding/json"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/rules"
)

func TestNamesAreProposedAndChecked(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	data, err := os.ReadFile(photo)
	require.NoError(t, err)
	at := func(name string) string {
		path := filepath.Join(dir, name)
		require.NoError(t, os.WriteFile(path, data, 0o600))
		return path
	}
	code, out, _ := call(t, "name", "--section", "juniors", "--subject", "First launch", at("DSC_0001.JPG"), at("DSC_0002.JPG"))
	assert.Zero(t, code)
	assert.Contains(t, out, "juniors-first-launch-1.jpg")
	assert.Contains(t, out, "juniors-first-launch-2.jpg")
	assert.Contains(t, out, "The section first: juniors.")

	code, out, _ = call(t, "name", "--section", "juniors", "--date", "2026-09-12", "--json", at("DSC_0001.JPG"))
	assert.Zero(t, code)
	var line map[string]any
	require.NoError(t, json.Unmarshal([]byte(out), &line))
	assert.Equal(t, "juniors-2026-09-12.jpg", line["name"])

	code, out, _ = call(t, "name", "--check", "--section", "juniors", at("juniors-first-launch.jpg"))
	assert.Zero(t, code, out)
	code, out, _ = call(t, "name", "--check", "--section", "juniors", at("My photo (2).JPEG"), at("juniors-launch.png"))
	assert.Equal(t, 1, code)
	assert.Contains(t, out, "Hyphens separate the words")
	assert.Contains(t, out, "the extension is .jpg")

	house := filepath.Join(dir, "rules.json")
	r, err := rules.Default().Set("/naming/case", "capitals")
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(house, r.Encode(), 0o600))
	code, out, _ = call(t, "name", "--rules", house, "--section", "juniors", "--subject", "first launch", "--number", "7", at("a.jpg"))
	assert.Zero(t, code)
	assert.True(t, strings.HasPrefix(out, "Juniors-FirstLaunch-7.jpg"), out)
	require.NoError(t, os.WriteFile(house, []byte(`{"version":2}`), 0o600))
	code, _, errs := call(t, "name", "--rules", house, at("a.jpg"))
	assert.Equal(t, 1, code)
	assert.Contains(t, errs, "/version")
	code, _, _ = call(t, "name", "--date", "yesterday", at("a.jpg"))
	assert.Equal(t, 2, code)
	code, _, errs = call(t, "name", filepath.Join(dir, "missing.jpg"))
	assert.Equal(t, 1, code)
	assert.Contains(t, errs, "no such file")
}
