package heif_test

import (
	"bytes"
	"errors"
	"fmt"
	"image"
	"image/png"
	"math"
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
	reference.Run(t, "convert", "-size", size, "-seed", "5", "plasma:", "-blur", "0x2", "-depth", "16", at("s.png"))
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

// Pictures of 10 and 12 bits are brought to 8, also where each pixel has a chroma of its own, which the
// decoder leaves to us: they are what heif-convert makes of them.
func TestDeepPictures(t *testing.T) {
	t.Parallel()
	for _, bits := range []string{"10", "12"} {
		for _, chroma := range []string{"420", "422", "444"} {
			for _, size := range []string{"90x61", "640x480"} {
				data := made(t, size, "-b", bits, "-p", "chroma="+chroma)
				m, err := heif.Decode(bytes.NewReader(data))
				require.NoError(t, err, "%s bits, %s, %s", bits, chroma, size)
				dir := t.TempDir()
				require.NoError(t, os.WriteFile(filepath.Join(dir, "m.heic"), data, 0o644))
				reference.Run(t, "heif-convert", filepath.Join(dir, "m.heic"), filepath.Join(dir, "m.png"))
				f, err := os.Open(filepath.Join(dir, "m.png"))
				require.NoError(t, err)
				want, err := png.Decode(f)
				require.NoError(t, errors.Join(err, f.Close()))
				require.Equal(t, want.Bounds(), m.Bounds())
				sum, n := 0.0, 0
				for y := 0; y < want.Bounds().Dy(); y += 3 {
					for x := 0; x < want.Bounds().Dx(); x += 3 {
						r, g, b, _ := want.At(x, y).RGBA()
						r2, g2, b2, _ := m.At(x, y).RGBA()
						for _, d := range []float64{float64(r) - float64(r2), float64(g) - float64(g2), float64(b) - float64(b2)} {
							sum += math.Abs(d) / 257
							n++
						}
					}
				}
				assert.Less(t, sum/float64(n), 1.5, "%s bits, %s, %s: code values on average", bits, chroma, size)
			}
		}
	}
}
