package main

import (
	"encoding/json"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

const rota = "../../demo/pictures/Screenshot 2026-11-02.png"

func found(t *testing.T, files ...string) (all []findLine) {
	t.Helper()
	code, out, errs := call(t, append([]string{"find", "--json"}, files...)...)
	require.Zero(t, code, errs)
	for _, line := range lines(t, out) {
		data, err := json.Marshal(line)
		require.NoError(t, err)
		var one findLine
		require.NoError(t, json.Unmarshal(data, &one))
		all = append(all, one)
	}
	return all
}

func TestFindTellsFacesAndLines(t *testing.T) {
	t.Parallel()
	if testing.Short() {
		t.Skip("slow")
	}
	got := found(t, photo, rota)
	require.Len(t, got, 2)
	assert.Len(t, got[0].Faces, 2, "two juniors")
	for _, f := range got[0].Faces {
		assert.Positive(t, f.Box.Width)
		assert.LessOrEqual(t, f.Box.X+f.Box.Width, 1600, "pixels of the upright picture")
		assert.LessOrEqual(t, f.Box.Y+f.Box.Height, 2000)
		assert.InDelta(t, 0.9, f.Score, 0.1)
	}
	assert.Empty(t, got[1].Faces)
	assert.Greater(t, len(got[1].Lines), 25)
	var read []string
	for _, l := range got[1].Lines {
		read = append(read, l.Read)
	}
	assert.Contains(t, read, "odo.tamsin@brindlemere.example")
	code, out, errs := call(t, "find", "nowhere.jpg", photo)
	assert.Equal(t, 1, code)
	assert.Contains(t, out, "2 faces", "one that fails does not keep the others")
	assert.Contains(t, errs, "nowhere.jpg")
}

// What is found is covered, so that nothing is found in the cut.
func TestCutCoversWhatIsFound(t *testing.T) {
	t.Parallel()
	if testing.Short() {
		t.Skip("slow")
	}
	dir := t.TempDir()
	code, _, errs := call(t, "cut", "--width", "800", "--veil", "found:faces", "--format", "png", "-o", dir, photo)
	require.Zero(t, code, errs)
	code, _, errs = call(t, "cut", "--width", "1440", "--veil", "found:text", "-o", dir, rota)
	require.Zero(t, code, errs)
	cuts, err := filepath.Glob(filepath.Join(dir, "*.png"))
	require.NoError(t, err)
	require.Len(t, cuts, 2)
	for _, c := range cuts {
		for _, got := range found(t, c) {
			assert.Empty(t, got.Faces, c)
			for _, l := range got.Lines {
				assert.Empty(t, l.Read, c)
			}
		}
	}
	_, err = os.Stat(filepath.Join(dir, "IMG_2101-800.png"))
	assert.NoError(t, err)
}
