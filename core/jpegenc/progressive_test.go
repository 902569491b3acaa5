package jpegenc

import (
	"bytes"
	"fmt"
	"image"
	"image/draw"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// inScans returns m as a file of one scan and as one of several.
func inScans(t *testing.T, m image.Image, quality int, c Colour) (one, several []byte) {
	t.Helper()
	p, luma, chroma, err := prepare(m, quality, c, false)
	require.NoError(t, err)
	return p.single().write(luma, chroma), p.progressive(luma, chroma)
}

// However the coefficients are parted, the pixels are the same: by the standard library, and by
// the tools of libjpeg-turbo, which also take the scans together to one without a warning.
func TestScansHoldTheSamePixels(t *testing.T) {
	dir := t.TempDir()
	grey := image.NewGray(image.Rect(0, 0, 77, 50))
	for i := range grey.Pix {
		grey.Pix[i] = uint8(rand.IntN(256))
	}
	still := image.NewRGBA(image.Rect(0, 0, 2400, 1900)) // nothing but ends of blocks, more than a run can count
	for i := range still.Pix {
		still.Pix[i] = 255
	}
	for name, m := range map[string]image.Image{"scene": scene(333, 217, 1), "even": scene(320, 256, 2), "narrow": scene(1, 300, 3), "flat": scene(300, 1, 4), "dot": scene(1, 1, 5), "grey": grey, "still": still} {
		qualities := []int{1, 40, 75, 95, 100}
		if name == "still" {
			qualities = qualities[2:3]
		}
		for i, quality := range qualities {
			colour := Colour(i % 2)
			one, several := inScans(t, m, quality, colour)
			what := fmt.Sprint(name, " at quality ", quality, ", colour ", colour)
			require.True(t, bytes.Equal(pixels(decoded(t, one)), pixels(decoded(t, several))), what)
			at := filepath.Join(dir, "several.jpg")
			require.NoError(t, os.WriteFile(at, several, 0o600))
			theirs, err := exec.Command("djpeg", "-strict", "-ppm", at).CombinedOutput()
			require.NoError(t, err, "%s: %s", what, theirs)
			cmd := exec.Command("djpeg", "-strict", "-ppm")
			cmd.Stdin = bytes.NewReader(one)
			again, err := cmd.CombinedOutput()
			require.NoError(t, err, what)
			require.True(t, bytes.Equal(again, theirs), what)
		}
	}
}

// Every scan that can be tried holds what it is to hold: the coefficients come together again,
// wherever they are parted and however many low bits come later.
func TestEveryWayOfPartingHoldsTheSamePixels(t *testing.T) {
	p, luma, chroma, err := prepare(scene(203, 120, 7), 92, FourToOne, false)
	require.NoError(t, err)
	want := pixels(decoded(t, p.single().write(luma, chroma)))
	for _, border := range []int{63, 1, 5, 9, 62} {
		for low := range 4 {
			scans := []*scan{p.first()}
			for c := range 3 {
				scans = append(scans, p.split(c, border, low)...)
			}
			for bit := low - 1; bit >= 0; bit-- {
				for c := range 3 {
					scans = append(scans, p.refined(c, 1, 63, bit))
				}
			}
			out := p.head(luma, chroma, startOfProgressive)
			sum := len(out)
			for _, s := range scans {
				out = s.write(out, []byte{1, 2, 3})
				sum += s.bytes
			}
			out = append(out, 0xFF, endOfImage)
			require.True(t, bytes.Equal(want, pixels(decoded(t, out))), "parted behind %d, %d low bits later", border, low)
			assert.InEpsilon(t, len(out), sum, 0.02, "what a scan takes is told beforehand")
		}
	}
}

// pixels are those that are seen: what fills blocks up beyond the edges may differ.
func pixels(m image.Image) []byte {
	seen := image.NewRGBA(m.Bounds())
	draw.Draw(seen, seen.Rect, m, m.Bounds().Min, draw.Src)
	return seen.Pix
}

// Files from 10 kB are lighter in several scans than in one, and than those of libjpeg-turbo with
// codes made for them and several scans; smaller ones have one scan.
func TestScansAreLighter(t *testing.T) {
	m := scene(640, 427, 6)
	for _, quality := range []int{50, 75, 90} {
		one, err := Encode(m, quality)
		require.NoError(t, err)
		small, err := EncodeSmall(m, quality, FourToOne)
		require.NoError(t, err)
		theirs := cjpeg(t, m, "-optimize", "-progressive", "-quality", fmt.Sprint(quality))
		assert.Less(t, len(small), len(one), "quality %d", quality)
		assert.LessOrEqual(t, len(small), len(theirs), "quality %d", quality)
		t.Log(quality, len(one), len(small), len(theirs))
	}
	small, err := EncodeSmall(scene(90, 60, 6), 60, FourToOne)
	require.NoError(t, err)
	assert.Less(t, len(small), worthScans)
	assert.Contains(t, string(small), string([]byte{0xFF, startOfFrame}))
	large := image.NewRGBA(image.Rect(0, 0, 2600, 2600))
	for i := range large.Pix {
		large.Pix[i] = uint8(i * i >> 9)
	}
	data, err := EncodeSmall(large, 40, FourToOne)
	require.NoError(t, err)
	assert.Greater(t, len(data), worthScans)
	assert.Contains(t, string(data[:1024]), string([]byte{0xFF, startOfFrame}), "too large for several scans")
}

// cjpeg returns m as libjpeg-turbo writes it.
func cjpeg(t *testing.T, m image.Image, args ...string) []byte {
	t.Helper()
	b := m.Bounds()
	ppm := fmt.Appendf(nil, "P6 %d %d 255\n", b.Dx(), b.Dy())
	for y := range b.Dy() {
		for x := range b.Dx() {
			r, g, bl, _ := m.At(x, y).RGBA()
			ppm = append(ppm, byte(r>>8), byte(g>>8), byte(bl>>8))
		}
	}
	cmd := exec.Command("cjpeg", args...)
	cmd.Stdin = bytes.NewReader(ppm)
	out, err := cmd.Output()
	require.NoError(t, err)
	return out
}

// What a file of one scan takes is known before it is written, but for what is stuffed behind bytes that
// are all ones.
func TestTheWeightOfOneScanIsForetold(t *testing.T) {
	for _, quality := range []int{30, 75, 95} {
		for _, c := range []Colour{FourToOne, OneToOne} {
			p, luma, chroma, err := prepare(scene(333, 217, 1), quality, c, true)
			require.NoError(t, err)
			one := p.single()
			file := one.write(luma, chroma)
			stuffed := bytes.Count(file, []byte{0xFF, 0})
			assert.InDelta(t, len(file)-stuffed, one.bytes, 20, "quality %d", quality)
		}
	}
}
