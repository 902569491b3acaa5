package main

import (
	"bytes"
	"context"
	"encoding/json"
	"image"
	_ "image/jpeg"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

const photo = "../../demo/pictures/IMG_2101.JPG" // 1600 × 2000, stored on its side

// call runs the command line as the shell would, with its streams caught.
func call(t *testing.T, args ...string) (code int, out, errs string) {
	t.Helper()
	oldOut, oldErr := os.Stdout, os.Stderr
	defer func() { os.Stdout, os.Stderr = oldOut, oldErr }()
	files := [2]*os.File{}
	for i := range files {
		f, err := os.CreateTemp(t.TempDir(), "stream")
		require.NoError(t, err)
		defer f.Close()
		files[i] = f
	}
	os.Stdout, os.Stderr = files[0], files[1]
	code = run(context.Background(), args)
	for i, into := range []*string{&out, &errs} {
		data, err := os.ReadFile(files[i].Name())
		require.NoError(t, err)
		*into = string(data)
	}
	return code, out, errs
}

func TestCutTellsEachCutAsJSON(t *testing.T) {
	dir := t.TempDir()
	code, out, errs := call(t, "cut", "--width", "640", "--density", "1,2", "-o", dir, photo, "--json")
	assert.Zero(t, code, errs)
	lines := bytes.Split(bytes.TrimSpace([]byte(out)), []byte("\n"))
	require.Len(t, lines, 2)
	for i, want := range []struct {
		width, height int
		density       float64
	}{{640, 800, 1}, {1280, 1600, 2}} {
		var got map[string]any
		require.NoError(t, json.Unmarshal(lines[i], &got))
		assert.Equal(t, photo, got["source"])
		assert.EqualValues(t, want.width, got["width"])
		assert.EqualValues(t, want.height, got["height"])
		assert.Equal(t, want.density, got["density"])
		assert.Equal(t, want.density, got["effective_density"])
		assert.Equal(t, "jpeg", got["format"])
		data, err := os.ReadFile(got["file"].(string))
		require.NoError(t, err)
		assert.EqualValues(t, len(data), got["bytes"])
		cfg, _, err := image.DecodeConfig(bytes.NewReader(data))
		require.NoError(t, err)
		assert.Equal(t, want.width, cfg.Width)
		assert.Equal(t, want.height, cfg.Height, "upright")
	}
}

func TestOneThatFailsDoesNotKeepTheOthers(t *testing.T) {
	dir := t.TempDir()
	text := filepath.Join(dir, "letter.jpg")
	require.NoError(t, os.WriteFile(text, []byte("Dear club"), 0o600))
	code, out, errs := call(t, "cut", "--width", "300", "-o", dir, text, filepath.Join(dir, "missing.jpg"), photo, "--json")
	assert.Equal(t, 1, code)
	assert.Contains(t, errs, "letter.jpg: the file is not a picture")
	assert.Contains(t, errs, "missing.jpg: no such file")
	assert.Contains(t, out, `"width":300`)
}

func TestWrongUsage(t *testing.T) {
	for _, args := range [][]string{
		{"cut", photo}, {"cut", "--width", "640"}, {"cut", "--width", "-3", photo}, {"cut", "--width", "640", "--density", "two", photo},
		{"cut", "--width", "640", "--density", "0", photo}, {"cut", "--wide", "640", photo}, {"fold"}, {"serve"}, {"demo", "extra"},
	} {
		code, _, errs := call(t, args...)
		assert.Equal(t, 2, code, "%v", args)
		assert.NotEmpty(t, errs, "%v", args)
	}
}

func TestNothingIsOverwritten(t *testing.T) {
	dir := t.TempDir()
	code, _, _ := call(t, "cut", "--width", "300", "-o", dir, photo)
	assert.Zero(t, code)
	made := filepath.Join(dir, "IMG_2101-300.jpg")
	before, err := os.ReadFile(made)
	require.NoError(t, err)

	code, _, errs := call(t, "cut", "--width", "300", "-o", dir, photo)
	assert.Equal(t, 1, code)
	assert.Contains(t, errs, "--force")
	code, _, errs = call(t, "cut", "--width", "300", "-o", dir, "--force", photo)
	assert.Zero(t, code, errs)

	// A source is never overwritten, not even by force.
	twin := filepath.Join(dir, "a.jpg")
	require.NoError(t, os.WriteFile(twin, before, 0o600))
	source := filepath.Join(dir, "a-300.jpg")
	require.NoError(t, os.Link(twin, source))
	code, _, errs = call(t, "cut", "--width", "300", "-o", dir, "--force", twin)
	assert.Equal(t, 1, code)
	assert.Contains(t, errs, "overwrite its source")
}

func TestTheCutCarriesNothing(t *testing.T) {
	dir := t.TempDir()
	code, _, _ := call(t, "cut", "--width", "300", "-o", dir, photo)
	assert.Zero(t, code)
	data, err := os.ReadFile(filepath.Join(dir, "IMG_2101-300.jpg"))
	require.NoError(t, err)
	for _, secret := range []string{"Exif", "Varrow", "GPS", "http://ns.adobe.com", "Photoshop"} {
		assert.NotContains(t, string(data), secret)
	}
}
