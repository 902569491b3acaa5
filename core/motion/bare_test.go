package motion_test

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/motion"
	"mivlet/internal/reference"
)

// A bare GIF shows the same, and holds nothing of what exiftool and others put beside the frames.
func TestBare(t *testing.T) {
	f := films["what comes and goes"]
	data, err := f.GIF(0)
	require.NoError(t, err)
	file := filepath.Join(t.TempDir(), "f.gif")
	require.NoError(t, os.WriteFile(file, data, 0o600))
	reference.Run(t, "exiftool", "-q", "-overwrite_original", "-Comment=Behind the boathouse", "-XMP:Creator=J. Example", file)
	with, err := os.ReadFile(file)
	require.NoError(t, err)
	with = append(with, "hidden after the end"...)
	require.Contains(t, string(with), "boathouse")
	require.Contains(t, string(with), "J. Example")

	bare, err := motion.Bare(with)
	require.NoError(t, err)
	for _, word := range []string{"boathouse", "Example", "XMP", "hidden"} {
		assert.NotContains(t, string(bare), word)
	}
	assert.Equal(t, data, bare)
	composed(t, bare, "f.gif", f)
}

// Whatever is cut off or is no GIF is refused, and nothing panics.
func TestBareOfWhatIsNotWhole(t *testing.T) {
	data, err := films["one pixel"].GIF(0)
	require.NoError(t, err)
	for n := range len(data) {
		_, err := motion.Bare(data[:n])
		assert.Error(t, err, "%d of %d bytes", n, len(data))
	}
	_, err = motion.Bare([]byte(strings.Repeat("GIF89a", 20)))
	assert.Error(t, err)
}
