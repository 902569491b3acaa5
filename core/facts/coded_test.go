package facts_test

import (
	"bytes"
	"encoding/binary"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/facts"
	"mivlet/internal/reference"
)

// A container whose size is another one than that of the picture coded inside is
// refused before anybody makes room for it: files of independent encoders, odd sizes
// included, are read, and with their declared size changed they are not.
func TestContainersThatLieAboutTheirSize(t *testing.T) {
	dir := t.TempDir()
	at := func(name string) string { return filepath.Join(dir, name) }
	for _, size := range [][2]int{{64, 48}, {61, 47}, {333, 200}, {800, 11}} {
		w, h := size[0], size[1]
		reference.Run(t, "convert", "-size", fmt.Sprintf("%dx%d", w, h), "plasma:red-blue", "-depth", "8", at("s.png"))
		reference.Run(t, "heif-enc", at("s.png"), "-o", at("s.heic"))
		reference.Run(t, "avifenc", at("s.png"), at("s.avif"))
		reference.Run(t, "avifenc", "-d", "10", "-y", "420", at("s.png"), at("deep.avif"))
		reference.Run(t, "cwebp", "-quiet", at("s.png"), "-o", at("s.webp"))
		reference.Run(t, "convert", at("s.png"), "(", at("s.png"), "-flip", ")", "-loop", "0", at("moves.webp"))
		for _, name := range []string{"s.heic", "s.avif", "deep.avif", "s.webp", "moves.webp"} {
			data, err := os.ReadFile(at(name))
			require.NoError(t, err)
			k, err := facts.Read(bytes.NewReader(data))
			require.NoError(t, err, "%s of %d × %d", name, w, h)
			assert.Equal(t, [2]int{w, h}, [2]int{k.Stored.W, k.Stored.H}, name)
			for _, lie := range lies(name, data) {
				_, err := facts.Read(bytes.NewReader(lie))
				assert.ErrorIs(t, err, facts.ErrDamaged, "%s of %d × %d with another size", name, w, h)
			}
		}
	}
}

// lies are copies of a file that declare other sizes.
func lies(name string, data []byte) [][]byte {
	var all [][]byte
	change := func(at int, to []byte) {
		lie := bytes.Clone(data)
		copy(lie[at:], to)
		all = append(all, lie)
	}
	switch filepath.Ext(name) {
	case ".heic", ".avif":
		at := bytes.Index(data, []byte("ispe")) + 8
		w := binary.BigEndian.Uint32(data[at:])
		for _, other := range []uint32{w - 8, w + 100, 4, 30_000} {
			change(at, binary.BigEndian.AppendUint32(nil, other))
		}
	case ".webp":
		if at := bytes.Index(data, []byte("ANMF")); at > 0 {
			w := uint32(data[at+14]) | uint32(data[at+15])<<8
			change(at+14, []byte{byte(w - 2), byte((w - 2) >> 8)})
		}
	}
	return all
}

// A frame that says another size than its pixels have is told as such.
func TestTheReasonIsTold(t *testing.T) {
	dir := t.TempDir()
	png, heic := filepath.Join(dir, "s.png"), filepath.Join(dir, "s.heic")
	reference.Run(t, "convert", "-size", "64x48", "gradient:", png)
	reference.Run(t, "heif-enc", png, "-o", heic)
	data, err := os.ReadFile(heic)
	require.NoError(t, err)
	_, err = facts.Read(bytes.NewReader(lies("s.heic", data)[3]))
	require.Error(t, err)
	assert.ErrorContains(t, err, "another size than it says")
	assert.True(t, errors.Is(err, facts.ErrDamaged))
}
