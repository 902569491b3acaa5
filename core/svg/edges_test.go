package svg

import (
	"bytes"
	"compress/gzip"
	"image/color"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/fit"
	"mivlet/internal/reference"
)

const open = `<svg xmlns="http://www.w3.org/2000/svg" `

// A side that is not said is that of CSS (2.2, 10.3.2): 300 px wide, 150 px high. What is no length is not said.
func TestSidesThatAreNotSaid(t *testing.T) {
	t.Parallel()
	for head, want := range map[string]fit.Size{
		``:                                {W: 300, H: 150},
		`width="77"`:                      {W: 77, H: 150},
		`height="33"`:                     {W: 300, H: 33},
		`width="0" height="33"`:           {W: 300, H: 33},
		`width="-5" height="33"`:          {W: 300, H: 33},
		`width="1000000" height="33"`:     {W: 300, H: 33}, // more than anything is drawn at
		`width="999999" height="33"`:      {W: 999999, H: 33},
		`width="20" viewBox="0 0 0 40"`:   {W: 20, H: 150}, // a box without room is none (SVG 2, 8.6)
		`width="20" viewBox="0 0 40 0"`:   {W: 20, H: 150},
		`width="20" viewBox="0 0 40 -1"`:  {W: 20, H: 150},
		`width="20" viewBox="0 0 40"`:     {W: 20, H: 150},
		`width="20" viewBox="0 0 40 1 9"`: {W: 20, H: 150},
		`width="20" viewBox="0 0 40 x"`:   {W: 20, H: 150},
		`viewBox="0 0 0.001 0.001"`:       {W: 1, H: 1},
	} {
		h, err := Read(strings.NewReader(open + head + `/>`))
		require.NoError(t, err, head)
		assert.Equal(t, want, h.Size, head)
	}
}

// A drawing that ends in its middle is told as cut off; what is no XML is refused.
func TestDrawingsThatEnd(t *testing.T) {
	t.Parallel()
	whole := open + `width="20" height="10"><g><title>Pier</title><rect width="5" height="5"/></g></svg>`
	for n := strings.Index(whole, "<g>"); n < len(whole); n++ {
		h, err := Read(strings.NewReader(whole[:n]))
		require.NoError(t, err, whole[:n])
		assert.True(t, h.CutOff, whole[:n])
		assert.Equal(t, fit.Size{W: 20, H: 10}, h.Size)
	}
	h, err := Read(strings.NewReader(whole))
	require.NoError(t, err)
	assert.False(t, h.CutOff)
	_, err = Read(strings.NewReader(open + `><g <>></svg>`))
	assert.ErrorIs(t, err, ErrDrawing)
}

// Words are taken as far as there is room for them, and files as far as they are read.
func TestHowMuchIsRead(t *testing.T) {
	t.Parallel()
	for n, want := range map[int]int{most: most, most + 1: 0} {
		h, err := Read(strings.NewReader(open + `><title>` + strings.Repeat("x", n) + `</title></svg>`))
		require.NoError(t, err)
		assert.Len(t, h.Title, want)
	}
	drawing := open + `width="20" height="10"></svg>`
	_, err := asUTF8([]byte(drawing + strings.Repeat(" ", maxBytes-len(drawing))))
	require.NoError(t, err)
	_, err = asUTF8([]byte(drawing + strings.Repeat(" ", maxBytes-len(drawing)+1)))
	assert.ErrorIs(t, err, ErrDrawing)
}

// Colours that let something through are their own, as librsvg writes them, and not darkened by that.
func TestColoursThatLetThrough(t *testing.T) {
	t.Parallel()
	text := open + `width="60" height="10"><rect width="10" height="10" fill="#c86432" fill-opacity="0.5"/><rect x="10" width="10" height="10" fill="#fff" fill-opacity="0.1"/><rect x="20" width="10" height="10" fill="#0a0b0c"/></svg>`
	m, err := Draw([]byte(text), fit.Size{W: 60, H: 10})
	require.NoError(t, err)
	file := filepath.Join(t.TempDir(), "c.svg")
	require.NoError(t, os.WriteFile(file, []byte(text), 0o600))
	reference.Run(t, "rsvg-convert", "-o", file+".png", file)
	theirs := reference.PNG(t, file+".png")
	for _, x := range []int{5, 15, 25, 40} {
		want, got := color.NRGBAModel.Convert(theirs.At(x, 5)).(color.NRGBA), m.NRGBAAt(x, 5)
		for i, pair := range [][2]uint8{{want.R, got.R}, {want.G, got.G}, {want.B, got.B}, {want.A, got.A}} {
			assert.InDelta(t, pair[0], pair[1], 3, "pixel %d, channel %d: %v and %v", x, i, want, got)
		}
	}
	assert.InDelta(t, 200, m.NRGBAAt(5, 5).R, 1)
	assert.Equal(t, color.NRGBA{R: 10, G: 11, B: 12, A: 255}, m.NRGBAAt(25, 5))
}

// Exactly its own box fills a drawing whose size was rounded by less than a hundredth; one that is to keep its
// proportions in another size stands in the middle (SVG 2, 8.10: xMidYMid meet).
func TestProportionsAreKept(t *testing.T) {
	t.Parallel()
	for _, box := range []string{"5 5 3 7.01", "0 0 301 77.2", "0 0 299.6 100"} {
		f := strings.Fields(box)
		text := open + `viewBox="` + box + `"><rect x="` + f[0] + `" y="` + f[1] + `" width="` + f[2] + `" height="` + f[3] + `" fill="#147"/></svg>`
		h, err := Read(strings.NewReader(text))
		require.NoError(t, err)
		m, err := Draw([]byte(text), Drawn(h.Size))
		require.NoError(t, err)
		assert.True(t, m.Opaque(), box)
	}
	m, err := Draw([]byte(open+`width="100" height="100" viewBox="0 0 200 100"><rect width="200" height="100" fill="#147"/></svg>`), fit.Size{W: 100, H: 100})
	require.NoError(t, err)
	assert.Zero(t, m.NRGBAAt(50, 20).A)
	assert.Equal(t, uint8(255), m.NRGBAAt(50, 30).A)
	assert.Equal(t, uint8(255), m.NRGBAAt(50, 70).A)
	assert.Zero(t, m.NRGBAAt(50, 80).A)
}

// A compressed drawing is what it is without that: drawn alike, cut off where it ends too early, and
// no larger than others may be, however little it takes.
func TestCompressedDrawings(t *testing.T) {
	t.Parallel()
	packed := func(text string) []byte {
		var b bytes.Buffer
		w := gzip.NewWriter(&b)
		_, err := w.Write([]byte(text))
		require.NoError(t, err)
		require.NoError(t, w.Close())
		return b.Bytes()
	}
	text := open + `width="20" height="10"><title>Pier</title><rect width="5" height="5" fill="#c83"/></svg>`
	file := packed(text)
	h, err := Read(bytes.NewReader(file))
	require.NoError(t, err)
	assert.Equal(t, Head{Size: fit.Size{W: 20, H: 10}, Title: "Pier", Packed: true}, h)
	got, err := Draw(file, h.Size)
	require.NoError(t, err)
	want, err := Draw([]byte(text), h.Size)
	require.NoError(t, err)
	assert.Equal(t, want.Pix, got.Pix)

	_, err = Read(bytes.NewReader(packed(text + strings.Repeat(" ", maxBytes))))
	assert.ErrorIs(t, err, ErrDrawing, "20 MB out of 20 kB")
	for n := range len(file) {
		h, err := Read(bytes.NewReader(file[:n]))
		out, _ := unpacked(file[:n])
		assert.True(t, err != nil || h.CutOff || string(out) == text, "%d of %d bytes", n, len(file))
	}
	broken := bytes.Clone(file)
	broken[len(broken)-6] ^= 0xff
	_, err = Read(bytes.NewReader(broken))
	assert.ErrorIs(t, err, ErrDrawing, "its sum is another (RFC 1952, 2.3.1)")
}
