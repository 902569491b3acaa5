package facts_test

import (
	"fmt"
	"image"
	"image/jpeg"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/internal/reference"
)

// A picture that stands on its side in one of the eight ways keeps doing so in AVIF, where
// boxes say it instead of a tag: avifenc turns the one into the other.
func TestBoxesTurnAsTagsDo(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	for n := 1; n <= 8; n++ {
		file := filepath.Join(dir, fmt.Sprint(n, ".jpg"))
		f, err := os.Create(file)
		require.NoError(t, err)
		require.NoError(t, jpeg.Encode(f, image.NewGray(image.Rect(0, 0, 48, 32)), nil))
		require.NoError(t, f.Close())
		reference.Run(t, "exiftool", "-q", "-overwrite_original", "-n", fmt.Sprint("-Orientation=", n), file)
		avif := filepath.Join(dir, fmt.Sprint(n, ".avif"))
		reference.Run(t, "avifenc", "-s", "10", file, avif)
		for _, name := range []string{file, avif} {
			r, err := os.Open(name)
			require.NoError(t, err)
			known, err := facts.Read(r)
			require.NoError(t, err)
			require.NoError(t, r.Close())
			assert.Equal(t, facts.Orientation(n), known.Orientation, name)
			assert.Equal(t, facts.Orientation(n).Turned(fit.Size{W: 48, H: 32}), known.Upright(), name)
		}
	}
}
