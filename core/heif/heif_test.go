package heif_test

import (
	"bytes"
	"fmt"
	"image"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/heif"
	"mivlet/internal/reference"
)

// What is no HEIC is refused.
func ExampleDecode() {
	_, err := heif.Decode(strings.NewReader("Dear club,"))
	fmt.Println(err)
	// Output:
	// the decoder cannot read it
}

// made is an HEIC as heif-enc writes it.
func made(t *testing.T, size string, more ...string) []byte {
	t.Helper()
	dir := t.TempDir()
	at := func(name string) string { return filepath.Join(dir, name) }
	reference.Run(t, "convert", "-size", size, "-seed", "5", "plasma:", "-blur", "0x2", "-depth", "8", at("s.png"))
	reference.Run(t, "heif-enc", append(append([]string{"-q", "90"}, more...), "-o", at("s.heic"), at("s.png"))...)
	data, err := os.ReadFile(at("s.heic"))
	require.NoError(t, err)
	return data
}

// Every sampling of colour is read, each into its own kind of planes.
func TestSamplings(t *testing.T) {
	t.Parallel()
	for chroma, want := range map[string]image.YCbCrSubsampleRatio{"420": image.YCbCrSubsampleRatio420, "422": image.YCbCrSubsampleRatio422, "444": image.YCbCrSubsampleRatio444} {
		m, err := heif.Decode(bytes.NewReader(made(t, "90x61", "-p", "chroma="+chroma)))
		require.NoError(t, err, chroma)
		planes, ok := m.(*image.YCbCr)
		require.True(t, ok, "%T", m)
		assert.Equal(t, want, planes.SubsampleRatio)
		assert.Equal(t, image.Rect(0, 0, 90, 61), planes.Rect)
	}
}

// Many are read beside each other, each into its own memory; no file makes it panic.
func TestManyAtOnceAndDamagedOnes(t *testing.T) {
	t.Parallel()
	data := made(t, "120x80")
	want, err := heif.Decode(bytes.NewReader(data))
	require.NoError(t, err)
	var all sync.WaitGroup
	for i := range 8 {
		all.Go(func() {
			m, err := heif.Decode(bytes.NewReader(data))
			assert.NoError(t, err)
			assert.Equal(t, want, m)
			bad := bytes.Clone(data)
			for at := len(bad) / 4 * i / 8; at < len(bad); at += 97 {
				bad[at] ^= byte(i + 1)
			}
			_, _ = heif.Decode(bytes.NewReader(bad))
			_, _ = heif.Decode(bytes.NewReader(data[:len(data)*i/8]))
		})
	}
	all.Wait()
	_, err = heif.Decode(bytes.NewReader(nil))
	assert.ErrorIs(t, err, heif.ErrDecode)
}
