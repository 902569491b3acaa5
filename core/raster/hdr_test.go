package raster_test

import (
	"bytes"
	"encoding/binary"
	"fmt"
	"hash/crc32"
	"image"
	"image/color"
	"image/png"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/hdr"
	"mivlet/core/raster"
	"mivlet/internal/reference"
)

// An AVIF of ten bits that follows PQ or HLG, as avifenc writes it, is told as such, and shows greys as
// they are meant; so does a PNG with cICP (W3C PNG, third edition, 11.3.2.6). Read as sRGB, they would
// be far off.
func TestPicturesOfBrighterLights(t *testing.T) {
	dir := t.TempDir()
	lights := []float64{1, 20, 80, 203, 600}
	m := image.NewNRGBA64(image.Rect(0, 0, 32*len(lights), 32))
	for x := range m.Rect.Dx() {
		for y := range 32 {
			v := uint16(hdr.Value(lights[x/32])*65535 + 0.5)
			m.SetNRGBA64(x, y, color.NRGBA64{v, v, v, 0xFFFF})
		}
	}
	var b bytes.Buffer
	require.NoError(t, png.Encode(&b, m))
	plain, coded := filepath.Join(dir, "m.png"), filepath.Join(dir, "m.avif")
	require.NoError(t, os.WriteFile(plain, b.Bytes(), 0o600))
	reference.Run(t, "avifenc", "--depth", "10", "--cicp", "9/16/9", "--min", "0", "--max", "4", "-s", "9", plain, coded)
	avif, err := os.ReadFile(coded)
	require.NoError(t, err)
	for name, data := range map[string][]byte{"avif": avif, "png": withChunk(b.Bytes(), "cICP", []byte{9, 16, 0, 1})} {
		known := factsOf(t, data)
		require.Equal(t, "Rec. 2020 PQ", known.Profile, name)
		assert.True(t, known.HDR(), name)
		s, err := raster.Decode(bytes.NewReader(data), known, limits)
		require.NoError(t, err)
		got := whole(s)
		for i, l := range lights {
			r, g, bl, _ := got.At(32*i+16, 16).RGBA()
			want := color.Gray{Y: hdr.Convert(m, "Rec. 2020 PQ").NRGBAAt(32*i+16, 16).R}
			for _, v := range []uint32{r, g, bl} {
				assert.InDelta(t, int(want.Y), int(v>>8), 3, fmt.Sprint(name, l))
			}
		}
	}
	other := factsOf(t, withChunk(b.Bytes(), "cICP", []byte{9, 18, 0, 1}))
	assert.Equal(t, "Rec. 2020 HLG", other.Profile)
	assert.False(t, factsOf(t, b.Bytes()).HDR())
}

// withChunk is a PNG with a chunk behind its head (W3C PNG, 5.3).
func withChunk(file []byte, kind string, body []byte) []byte {
	const head = 8 + 25
	chunk := append([]byte(kind), body...)
	out := binary.BigEndian.AppendUint32(append([]byte(nil), file[:head]...), uint32(len(body)))
	out = append(out, chunk...)
	out = binary.BigEndian.AppendUint32(out, crc32.ChecksumIEEE(chunk))
	return append(out, file[head:]...)
}
