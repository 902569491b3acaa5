package raster_test

import (
	"bytes"
	"encoding/binary"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/raster"
	"mivlet/internal/reference"
)

// brought brings a file as far as its pixels.
func brought(t *testing.T, name string) (facts.Facts, *raster.Source, error) {
	t.Helper()
	f, err := os.Open(name)
	require.NoError(t, err)
	defer f.Close()
	known, err := facts.Read(f)
	if err != nil {
		return known, nil, err
	}
	s, err := raster.Decode(f, known, limits)
	return known, s, err
}

// A picture that is whole, but written in a way that is not read, is never called damaged: the way
// is told. ImageMagick and cjpeg write them.
func TestAWholePictureIsNotCalledDamaged(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	at := func(name string) string { return filepath.Join(dir, name) }
	const scene = "plasma:red-blue"
	for name, c := range map[string]struct {
		way  string
		args []string
	}{
		"jpeg.tif":  {"JPEG inside", []string{"-compress", "JPEG"}},
		"zstd.tif":  {"Zstandard", []string{"-compress", "Zstd"}},
		"print.tif": {"CMYK", []string{"-colorspace", "CMYK"}},
		"big.tif":   {"BigTIFF", []string{}},
		"rle.bmp":   {"run lengths", []string{"-colors", "9", "-type", "Palette", "-compress", "RLE"}},
	} {
		to := at(name)
		if name == "big.tif" {
			to = "TIFF64:" + to
		}
		reference.Run(t, "convert", append(append([]string{"-size", "64x48", scene}, c.args...), to)...)
		_, _, err := brought(t, at(name))
		var told *facts.TypeError
		require.ErrorAs(t, err, &told, name)
		assert.ErrorIs(t, err, facts.ErrNotTaken, name)
		assert.NotErrorIs(t, err, facts.ErrDamaged, name)
		assert.Contains(t, told.Way, c.way, name)
	}
	reference.Run(t, "convert", "-size", "64x48", scene, at("s.ppm"))
	reference.Run(t, "vips", "cast", at("s.ppm"), at("float.tif"), "float")
	_, _, err := brought(t, at("float.tif"))
	require.ErrorIs(t, err, facts.ErrNotTaken)
	assert.ErrorContains(t, err, "decimal point")
	reference.Run(t, "cjpeg", "-arithmetic", "-outfile", at("a.jpg"), at("s.ppm"))
	_, _, err = brought(t, at("a.jpg"))
	require.ErrorIs(t, err, facts.ErrNotTaken)
	assert.ErrorContains(t, err, "arithmetic coding")

	// What is cut off is damaged, whatever it is written with; so is what says a kind of number that
	// there is not, though its decoder calls that unsupported.
	reference.Run(t, "convert", at("s.ppm"), "-compress", "none", at("plain.tif"))
	whole, err := os.ReadFile(at("plain.tif"))
	require.NoError(t, err)
	odd := bytes.Clone(whole)
	order := binary.ByteOrder(binary.LittleEndian)
	if odd[0] == 'M' {
		order = binary.BigEndian
	}
	order.PutUint16(odd[order.Uint32(odd[4:])+2+2:], 99) // of the first entry
	require.NoError(t, os.WriteFile(at("odd.tif"), odd, 0o600))
	_, _, err = brought(t, at("odd.tif"))
	assert.ErrorIs(t, err, facts.ErrDamaged)
	assert.NotErrorIs(t, err, facts.ErrNotTaken)
	require.NoError(t, os.WriteFile(at("cut.tif"), whole[:len(whole)/2], 0o600))
	_, _, err = brought(t, at("cut.tif"))
	assert.NotErrorIs(t, err, facts.ErrNotTaken)
	assert.Error(t, err)
}

// numberedFile writes a picture of which every pixel is another one.
func numberedFile(t *testing.T, name string, w, h int) image.Image {
	t.Helper()
	m := numbered(w, h)
	f, err := os.Create(name)
	require.NoError(t, err)
	require.NoError(t, png.Encode(f, m))
	require.NoError(t, f.Close())
	return m
}

// The clean aperture of an AVIF is all that is seen, turned and mirrored after it was cut out
// (MIAF, ISO/IEC 23000-22, memory): avifenc writes it, ImageMagick does the same to the pixels.
func TestACleanApertureIsAllThatIsSeen(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	at := func(name string) string { return filepath.Join(dir, name) }
	numberedFile(t, at("s.png"), 60, 40)
	for i, c := range []struct {
		avif, convert []string
	}{
		{[]string{}, []string{}},
		{[]string{"--irot", "1"}, []string{"-rotate", "-90"}},
		{[]string{"--imir", "1"}, []string{"-flop"}},
		{[]string{"--irot", "3", "--imir", "0"}, []string{"-rotate", "90", "-flip"}},
	} {
		name := at(fmt.Sprint(i, ".avif"))
		reference.Run(t, "avifenc", append(append([]string{"--lossless", "-s", "10", "--crop", "6,8,32,20"}, c.avif...), at("s.png"), name)...)
		reference.Run(t, "convert", append(append([]string{at("s.png"), "-crop", "32x20+6+8", "+repage"}, c.convert...), at("want.png"))...)
		known, s, err := brought(t, name)
		require.NoError(t, err)
		want := reference.PNG(t, at("want.png"))
		assert.Equal(t, fit.SizeOf(want.Bounds()), known.Upright(), "%v", c.avif)
		assert.Zero(t, compare(t, want, whole(s)).largest, "%v", c.avif)

		// All that is coded counts for the limits, however little of it is seen.
		f, err := os.Open(name)
		require.NoError(t, err)
		var limit *raster.LimitError
		_, err = raster.Decode(f, known, raster.Limits{Pixels: 60*40 - 1})
		assert.ErrorAs(t, err, &limit)
		assert.EqualValues(t, 60*40*8, raster.Cost(known, 1))
		require.NoError(t, f.Close())
	}
}

// An HEIC is seen as heif-convert shows it, in its first row, too.
func TestAnHEICAgainstItsTools(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	at := func(name string) string { return filepath.Join(dir, name) }
	for _, size := range []string{"9x5", "64x48", "301x77", "1000x640"} {
		reference.Run(t, "convert", "-size", size, "-seed", "5", "plasma:", "-blur", "0x2", "-depth", "8", at("s.png"))
		reference.Run(t, "heif-enc", "-q", "90", "-p", "chroma=444", "-o", at("s.heic"), at("s.png")) // else chroma is told apart by how it is enlarged
		reference.Run(t, "heif-convert", at("s.heic"), at("want.png"))
		known, s, err := brought(t, at("s.heic"))
		require.NoError(t, err)
		want := reference.PNG(t, at("want.png"))
		assert.Equal(t, fit.SizeOf(want.Bounds()), known.Upright())
		d := compare(t, want, whole(s))
		assert.Less(t, d.largest, 8.0, "%s: %+v", size, d)
	}
}

// The profile of a file is that of the picture that is meant, not that of another one in it.
func TestThePictureThatIsMeantDecides(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	at := func(name string) string { return filepath.Join(dir, name) }
	reference.Run(t, "convert", "-size", "64x64", "xc:red", "-strip", at("plain.png"))
	reference.Run(t, "vips", "icc_transform", at("plain.png"), at("p3.png"), "p3", "--input-profile", "srgb")
	reference.Run(t, "heif-enc", "-o", at("one.heic"), at("plain.png"), at("p3.png"))
	known, _, err := brought(t, at("one.heic"))
	require.NoError(t, err)
	assert.Empty(t, known.Profile, "the other picture has one")
	reference.Run(t, "heif-enc", "-o", at("two.heic"), at("p3.png"), at("plain.png"))
	known, _, err = brought(t, at("two.heic"))
	require.NoError(t, err)
	assert.Contains(t, known.Profile, "P3")
}

// An animation that says it has frames and has none is refused, and nothing panics.
func TestAnAnimationWithoutFrames(t *testing.T) {
	t.Parallel()
	chunk := func(kind string, body []byte) []byte {
		out := append(binary.LittleEndian.AppendUint32([]byte(kind), uint32(len(body))), body...)
		return append(out, make([]byte, len(body)%2)...)
	}
	webp := append([]byte("WEBP"), chunk("VP8X", []byte{2, 0, 0, 0, 9, 0, 0, 9, 0, 0})...)
	webp = append(webp, chunk("ANIM", make([]byte, 6))...)
	for kind, data := range map[string][]byte{
		"image/gif":  []byte("GIF89a\x0a\x00\x0a\x00\x00\x00\x00;"),
		"image/webp": chunk("RIFF", webp),
		"image/png":  []byte("\x89PNG\r\n\x1a\n"),
	} {
		r := bytes.NewReader(data)
		_, err := raster.DecodeAnimation(r, facts.Facts{MediaType: kind, Stored: fit.Size{W: 10, H: 10}, Frames: 3}, limits)
		assert.Error(t, err, kind)
		if known, err := facts.Read(r); err == nil {
			_, err = raster.Decode(r, known, limits)
			assert.Error(t, err, kind)
			_, err = raster.DecodeAnimation(r, known, limits)
			assert.Error(t, err, kind)
		}
	}
}

// A TIFF of several pages says how many, and its first one is read.
func TestATIFFOfSeveralPages(t *testing.T) {
	t.Parallel()
	name := filepath.Join(t.TempDir(), "pages.tif")
	for _, order := range []string{"MSB", "LSB"} {
		reference.Run(t, "convert", "-size", "30x20", "xc:red", "xc:green", "xc:blue", "-define", "tiff:endian="+strings.ToLower(order), name)
		known, s, err := brought(t, name)
		require.NoError(t, err)
		assert.Equal(t, 3, known.Pages, order)
		assert.Equal(t, color.RGBA{255, 0, 0, 255}, color.RGBAModel.Convert(whole(s).At(5, 5)), order)
	}
}
