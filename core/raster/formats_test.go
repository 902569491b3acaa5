package raster_test

import (
	"bytes"
	"encoding/binary"
	"errors"
	"fmt"
	"hash/crc32"
	"image"
	"image/color"
	"image/draw"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"runtime"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/raster"
	"mivlet/internal/reference"
)

// The PngSuite pictures that Go's own image/png tests carry (PngSuite, W. van
// Schaik), with their gamma, as ImageMagick turns them into sRGB.
func TestPngSuiteAgainstImageMagick(t *testing.T) {
	root, err := exec.Command("go", "env", "GOROOT").Output()
	require.NoError(t, err)
	names, err := filepath.Glob(filepath.Join(strings.TrimSpace(string(root)), "src/image/png/testdata/pngsuite/*.png"))
	require.NoError(t, err)
	require.Greater(t, len(names), 25)
	want := filepath.Join(t.TempDir(), "want.png")
	for _, name := range names {
		reference.Run(t, "convert", name, "-colorspace", "sRGB", "-depth", "8", "PNG32:"+want)
		s := fromFile(t, name)
		over := func(m image.Image) image.Image { // where nothing is to be seen, colours do not count
			grey := image.NewRGBA(m.Bounds())
			draw.Draw(grey, grey.Rect, image.NewUniform(color.Gray{128}), image.Point{}, draw.Src)
			draw.Draw(grey, grey.Rect, m, m.Bounds().Min, draw.Over)
			return grey
		}
		d := compare(t, over(reference.PNG(t, want)), over(whole(s)))
		assert.LessOrEqual(t, d.largest, 2.0, "%s: %+v", filepath.Base(name), d)
	}
}

// Display P3 as vips writes it, turned into sRGB as ImageMagick does it with lcms.
func TestDisplayP3AgainstLcms(t *testing.T) {
	dir := t.TempDir()
	at := func(name string) string { return filepath.Join(dir, name) }
	reference.Run(t, "convert", "../../demo/pictures/P1040860.JPG", "-strip", "-resize", "300x", at("s.png"))
	reference.Run(t, "vips", "icc_transform", at("s.png"), at("p3.png"), "p3", "--input-profile", "srgb")
	reference.Run(t, "convert", at("p3.png"), "-profile", "/usr/share/color/icc/sRGB.icc", "-depth", "8", at("want.png"))
	d := compare(t, reference.PNG(t, at("want.png")), whole(fromFile(t, at("p3.png"))))
	assert.Less(t, d.mean, 1.0, "%+v", d)
	assert.Less(t, d.largest, 3.0, "%+v", d)
	dropped := compare(t, reference.PNG(t, at("want.png")), reference.PNG(t, at("p3.png")))
	assert.Greater(t, dropped.mean, 2.0, "without the conversion it would be another picture")
}

// An animated PNG with frames of their own size, all ways of disposal and both
// of blending, as apngdis takes it apart.
func TestAnimatedPNGAgainstItsTools(t *testing.T) {
	dir := t.TempDir()
	at := func(name string) string { return filepath.Join(dir, name) }
	for i, c := range []string{"red", "green", "blue", "yellow"} {
		reference.Run(t, "convert", "-size", "60x40", "xc:none", "-fill", c, "-draw", fmt.Sprintf("rectangle %d,%d %d,%d", 4+9*i, 3+5*i, 24+9*i, 16+5*i), "PNG32:"+at(fmt.Sprintf("f%d.png", i)))
	}
	reference.Run(t, "apngasm", at("a.png"), at("f0.png"), at("f1.png"), at("f2.png"), at("f3.png"), "3", "25", "-l2")
	known, a := animation(t, at("a.png"))
	assert.Equal(t, 4, known.Frames)
	assert.Equal(t, 2, known.Loop)
	assert.EqualValues(t, 480, known.DurationMS, "4 × 3/25 s")
	assert.True(t, known.KeepsMotion())
	reference.Run(t, "apngdis", at("a.png"))
	for i, s := range a.Frames {
		want, got := reference.PNG(t, at(fmt.Sprintf("apngframe%d.png", i+1))), whole(s)
		for y := range 40 {
			for x := range 60 {
				p, q := color.NRGBAModel.Convert(want.At(x, y)).(color.NRGBA), color.NRGBAModel.Convert(got.At(x, y)).(color.NRGBA)
				if p.A == 0 && q.A == 0 {
					continue
				}
				require.Equal(t, p, q, "frame %d at %d,%d", i+1, x, y)
			}
		}
	}
}

func animation(t *testing.T, name string) (facts.Facts, *raster.Animation) {
	t.Helper()
	f, err := os.Open(name)
	require.NoError(t, err)
	defer f.Close()
	known, err := facts.Read(f)
	require.NoError(t, err)
	a, err := raster.DecodeAnimation(f, known, limits)
	require.NoError(t, err)
	return known, a
}

// A resized animation keeps its frames, delays and loops, as ImageMagick sees
// them.
func TestResizedAnimationAgainstImageMagick(t *testing.T) {
	dir := t.TempDir()
	src, cut := filepath.Join(dir, "s.gif"), filepath.Join(dir, "cut.gif")
	reference.Run(t, "convert", "-size", "80x60", "-delay", "8", "xc:red", "-delay", "20", "xc:green", "-delay", "5", "xc:blue", "-loop", "3", src)
	_, a := animation(t, src)
	e, err := a.Encode(raster.Transform{From: image.Rect(0, 0, 80, 60), Size: fit.Size{W: 40, H: 30}, Turn: facts.Upright}, raster.Options{Format: raster.GIF})
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(cut, e.Data, 0o600))
	assert.Equal(t, "8 40x30;20 40x30;5 40x30;", reference.Run(t, "identify", "-format", "%T %wx%h;", cut))
	known, _ := animation(t, cut)
	was, _ := animation(t, src)
	assert.Equal(t, was.Loop, known.Loop)
	assert.Equal(t, was.DurationMS, known.DurationMS)
}

// Structural similarity as vips works it out from its definition (Wang, Bovik,
// Sheikh, Simoncelli, IEEE TIP 13(4), 2004), in floating point, one operation
// at a time.
func TestSSIMAgainstVips(t *testing.T) {
	if testing.Short() {
		t.Skip("slow")
	}
	dir := t.TempDir()
	at := func(name string) string { return filepath.Join(dir, name) }
	vips := func(args ...string) string {
		for i, a := range args[1:] {
			if strings.HasSuffix(a, ".v") || strings.HasSuffix(a, ".png") {
				args[i+1] = at(a)
			}
		}
		return reference.Run(t, "vips", args...)
	}
	reference.Run(t, "convert", "../../demo/pictures/P1040860.JPG", "-strip", "-resize", "240x160!", "-colorspace", "Gray", "-depth", "8", at("a.png"))
	vips("gaussmat", "g.v", "1.5", "0.003", "--precision", "float")
	for _, quality := range []string{"10", "85"} {
		reference.Run(t, "convert", at("a.png"), "-quality", quality, at("b.jpg"))
		reference.Run(t, "convert", at("b.jpg"), "-colorspace", "Gray", "-depth", "8", at("b.png"))
		blur := func(in, out string) {
			vips("conv", in, "w.v", "g.v", "--precision", "float")
			vips("extract_area", "w.v", out, "5", "5", "230", "150")
		}
		for _, n := range []string{"a", "b"} {
			vips("cast", n+".png", n+".v", "float")
			blur(n+".v", "m"+n+".v")
			vips("multiply", n+".v", n+".v", "sq.v")
			blur("sq.v", "q"+n+".v")
			vips("multiply", "m"+n+".v", "m"+n+".v", "p"+n+".v")
			vips("subtract", "q"+n+".v", "p"+n+".v", "v"+n+".v")
		}
		vips("multiply", "a.v", "b.v", "ab.v")
		blur("ab.v", "qab.v")
		vips("multiply", "ma.v", "mb.v", "pab.v")
		vips("subtract", "qab.v", "pab.v", "cov.v")
		vips("linear", "pab.v", "n1.v", "2", "6.5025") // C1 = (0.01·255)²
		vips("linear", "cov.v", "n2.v", "2", "58.5225")
		vips("add", "pa.v", "pb.v", "s.v")
		vips("linear", "s.v", "d1.v", "1", "6.5025")
		vips("add", "va.v", "vb.v", "s.v")
		vips("linear", "s.v", "d2.v", "1", "58.5225")
		vips("multiply", "n1.v", "n2.v", "n.v")
		vips("multiply", "d1.v", "d2.v", "d.v")
		vips("divide", "n.v", "d.v", "ssim.v")
		want, err := strconv.ParseFloat(strings.TrimSpace(vips("avg", "ssim.v")), 64)
		require.NoError(t, err)
		assert.InDelta(t, want, raster.SSIM(reference.PNG(t, at("a.png")), reference.PNG(t, at("b.png"))), 0.002, "quality %s", quality)
	}
}

// big says where a file of each kind tells its size, and how a lie is told.
func lie(kind string, data []byte, w, h int) []byte {
	d := bytes.Clone(data)
	be, le := binary.BigEndian, binary.LittleEndian
	box := func(name string, at int) {
		if i := bytes.Index(d, []byte(name)); i >= 0 {
			be.PutUint32(d[i+at:], uint32(w))
			be.PutUint32(d[i+at+4:], uint32(h))
		}
	}
	switch kind {
	case "png":
		box("IHDR", 4)
		be.PutUint32(d[29:], crc32.ChecksumIEEE(d[12:29]))
	case "jpg":
		i := bytes.Index(d, []byte{0xFF, 0xC0})
		be.PutUint16(d[i+5:], uint16(h))
		be.PutUint16(d[i+7:], uint16(w))
	case "gif":
		le.PutUint16(d[6:], uint16(w))
		le.PutUint16(d[8:], uint16(h))
	case "bmp":
		le.PutUint32(d[18:], uint32(w))
		le.PutUint32(d[22:], uint32(h))
	case "webp":
		i := bytes.Index(d, []byte{0x9d, 0x01, 0x2a})
		le.PutUint16(d[i+3:], uint16(w)&0x3FFF)
		le.PutUint16(d[i+5:], uint16(h)&0x3FFF)
	case "tif": // the first directory: entries of 12 bytes
		at := int(le.Uint32(d[4:]))
		for i := range int(le.Uint16(d[at:])) {
			entry := d[at+2+12*i:]
			switch le.Uint16(entry) {
			case 256:
				le.PutUint16(entry[2:], 4)
				le.PutUint32(entry[8:], uint32(w))
			case 257:
				le.PutUint16(entry[2:], 4)
				le.PutUint32(entry[8:], uint32(h))
			}
		}
	case "heic", "avif":
		box("ispe", 8)
	}
	return d
}

// Every decoder with files that lie about their size, that would fill the
// memory, that hold nothing or noise: an error of a known kind, and no more
// memory than the limits allow.
func TestFilesThatLie(t *testing.T) {
	dir := t.TempDir()
	at := func(name string) string { return filepath.Join(dir, name) }
	reference.Run(t, "convert", "../../demo/pictures/IMG_2093.JPG", "-strip", "-resize", "120x80!", "-depth", "8", at("s.png"))
	for _, kind := range []string{"jpg", "gif", "bmp", "tif"} {
		reference.Run(t, "convert", at("s.png"), at("s."+kind))
	}
	reference.Run(t, "cwebp", "-quiet", at("s.png"), "-o", at("s.webp"))
	reference.Run(t, "heif-enc", at("s.png"), "-o", at("s.heic"))
	reference.Run(t, "avifenc", at("s.png"), at("s.avif"))
	tight := raster.Limits{Side: 16_000, Pixels: 20_000_000, Bytes: 1 << 20}
	noise := rand.New(rand.NewPCG(5, 5))
	for _, kind := range []string{"png", "jpg", "gif", "bmp", "tif", "webp", "heic", "avif"} {
		data, err := os.ReadFile(at("s." + kind))
		require.NoError(t, err)
		_, err = decodeBytes(data, tight)
		require.NoError(t, err, "%s as it is", kind)

		var limit *raster.LimitError
		_, err = decodeBytes(lie(kind, data, 15_000, 15_000), tight)
		if kind == "heic" || kind == "avif" { // the coded picture inside says otherwise
			require.ErrorIs(t, err, facts.ErrDamaged, kind)
		} else {
			require.ErrorAs(t, err, &limit, "%s: a bomb", kind)
			assert.Equal(t, "pixels", limit.What, kind)
		}

		// Within the limits, but not true: whatever is made of it, memory stays bounded.
		for _, size := range [][2]int{{3000, 3000}, {121, 80}, {7, 5}, {1, 4000}} {
			grown := allocated(func() { _, err = decodeBytes(lie(kind, data, size[0], size[1]), tight) })
			knownKind(t, err, "%s that says %v", kind, size)
			assert.Less(t, grown, uint64(400<<20), "%s that says %v", kind, size)
		}
		for range 30 { // noise in its middle
			d := bytes.Clone(data)
			for i := 40; i < len(d); i += 1 + noise.IntN(len(d)/8) {
				d[i] = byte(noise.IntN(256))
			}
			_, err = decodeBytes(d, tight)
			knownKind(t, err, "%s with noise", kind)
		}
		_, err = decodeBytes(append(bytes.Clone(data), make([]byte, 2<<20)...), tight)
		require.ErrorAs(t, err, &limit, kind)
		assert.Equal(t, "bytes", limit.What, kind)
	}
	frames := facts.Facts{MediaType: "image/gif", Stored: fit.Size{W: 1000, H: 1000}, Frames: 500, Bytes: 1000}
	var limit *raster.LimitError
	for limits, what := range map[raster.Limits]string{
		{FramePixels: 499_999_999}:   "pixels of all frames",
		{Frames: 499}:                "frames",
		{Memory: 1_999_999_999}:      "memory",
		{Pixels: 999_999}:            "pixels",
		{Pixels: 1_000_000, Side: 9}: "side",
	} {
		_, err := raster.DecodeAnimation(bytes.NewReader(nil), frames, limits)
		require.ErrorAs(t, err, &limit, "%+v", limits)
		assert.Equal(t, what, limit.What)
	}
	_, err := raster.DecodeAnimation(bytes.NewReader(nil), frames, raster.Limits{FramePixels: 500_000_000, Frames: 500, Memory: 2_000_000_000})
	assert.NotErrorAs(t, err, &limit, "just what is allowed")
}

func knownKind(t *testing.T, err error, format string, args ...any) {
	t.Helper()
	var limit *raster.LimitError
	var kind *facts.TypeError
	known := err == nil || errors.Is(err, facts.ErrDamaged) || errors.Is(err, raster.ErrCutOff) || errors.As(err, &limit) || errors.As(err, &kind)
	assert.True(t, known, "%s: %v", fmt.Sprintf(format, args...), err)
}

// allocated is how many bytes are asked for while something is done.
func allocated(do func()) uint64 {
	var before, after runtime.MemStats
	runtime.ReadMemStats(&before)
	do()
	runtime.ReadMemStats(&after)
	return after.TotalAlloc - before.TotalAlloc
}

func decodeBytes(data []byte, l raster.Limits) (*raster.Source, error) {
	known, err := facts.Read(bytes.NewReader(data))
	if err != nil {
		return nil, err
	}
	return raster.Decode(bytes.NewReader(data), known, l)
}
