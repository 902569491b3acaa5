package heif

import (
	"bytes"
	"image"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/internal/reference"
)

// The planes of a picture with odd sides are, byte for byte, those that heif-convert writes as Y4M: so
// each row is taken from where the decoder has it.
func TestPlanesAgainstHeifConvert(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	at := func(name string) string { return filepath.Join(dir, name) }
	for _, size := range []string{"91x61", "5x9", "64x2", "65x67", "130x33"} {
		reference.Run(t, "convert", "-size", size, "-seed", "5", "plasma:", "-blur", "0x2", "-depth", "8", at("s.png"))
		reference.Run(t, "heif-enc", "-q", "90", "-p", "chroma=420", "-o", at("s.heic"), at("s.png"))
		reference.Run(t, "heif-convert", at("s.heic"), at("s.y4m"))
		data, err := os.ReadFile(at("s.heic"))
		require.NoError(t, err)
		m, err := Decode(bytes.NewReader(data))
		require.NoError(t, err)
		p := m.(*image.YCbCr)
		w, h := p.Rect.Dx(), p.Rect.Dy()
		var got []byte
		for y := range h {
			got = append(got, p.Y[y*p.YStride:][:w]...)
		}
		for _, plane := range [][]byte{p.Cb, p.Cr} {
			for y := range (h + 1) / 2 {
				got = append(got, plane[y*p.CStride:][:(w+1)/2]...)
			}
		}
		want, err := os.ReadFile(at("s.y4m"))
		require.NoError(t, err)
		assert.True(t, bytes.HasSuffix(want, append([]byte("FRAME\n"), got...)), size)
	}
}

// How large planes are: rows are as wide as the decoder has them, and chroma of an odd number of pixels is
// rounded up.
func TestSizesOfPlanes(t *testing.T) {
	t.Parallel()
	assert.Equal(t, []int{64, 64, 64, 80, 80, 128, 256, 272}, []int{stride(1, 1), stride(64, 1), stride(63, 1), stride(65, 1), stride(80, 1), stride(1, 2), stride(1, 4), stride(65, 4)})
	for _, c := range []struct {
		a    about
		want []int
	}{
		{about{101, 51, inYCbCr, chroma420, 0}, []int{112 * 51, 64 * 26, 64 * 26}},
		{about{301, 51, inYCbCr, chroma420, 0}, []int{304 * 51, 160 * 26, 160 * 26}},
		{about{300, 50, inYCbCr, chroma420, 0}, []int{304 * 50, 160 * 25, 160 * 25}},
		{about{301, 51, inYCbCr, chroma422, 0}, []int{304 * 51, 160 * 51, 160 * 51}},
		{about{301, 51, inYCbCr, chroma444, 0}, []int{304 * 51, 304 * 51, 304 * 51}},
		{about{301, 51, inGrey, 0, 0}, []int{304 * 51}},
		{about{301, 51, inRGB, 0, 0}, []int{1216 * 51}},
		{about{301, 51, inRGB, 0, 1}, []int{1216 * 51}},
		{about{1 << 16, 1, inGrey, 0, 0}, []int{1 << 16}},
		{about{1, 1 << 16, inGrey, 0, 0}, []int{64 << 16}},
		{about{1, 1, inGrey, 0, 0}, []int{64}},
	} {
		m, planes, err := c.a.picture()
		require.NoError(t, err, "%v", c.a)
		assert.Equal(t, image.Rect(0, 0, int(c.a.width), int(c.a.height)), m.Bounds())
		var sizes []int
		for _, p := range planes {
			sizes = append(sizes, len(*p))
		}
		assert.Equal(t, c.want, sizes, "%v", c.a)
		switch m := m.(type) {
		case *image.RGBA:
			assert.EqualValues(t, 1, c.a.premultiplied)
			assert.Equal(t, 1216, m.Stride)
		case *image.NRGBA:
			assert.EqualValues(t, 0, c.a.premultiplied)
			assert.Equal(t, 1216, m.Stride)
		case *image.Gray:
			assert.Equal(t, stride(int(c.a.width), 1), m.Stride)
		}
	}
	for _, none := range []about{{0, 5, inGrey, 0, 0}, {5, 0, inGrey, 0, 0}, {1<<16 + 1, 1, inGrey, 0, 0}, {1, 1<<16 + 1, inGrey, 0, 0}, {1 << 16, 8193, inGrey, 0, 0}, {5, 5, 77, 0, 0}, {5, 5, inYCbCr, 77, 0}} {
		_, _, err := none.picture()
		assert.ErrorIs(t, err, ErrDecode, "%v", none)
	}
}
