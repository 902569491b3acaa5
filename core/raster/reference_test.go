package raster_test

import (
	"bytes"
	"errors"
	"fmt"
	"image"
	"image/color"
	"math"
	"os"
	"os/exec"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/raster"
	"mivlet/internal/reference"
)

// These tests hold the engine against independent tools: ImageMagick (with
// lcms), vips, libheif and libavif. scripts/test installs them.

func fromFile(t *testing.T, name string) *raster.Source {
	t.Helper()
	f, err := os.Open(name)
	require.NoError(t, err)
	defer f.Close()
	known, err := facts.Read(f)
	require.NoError(t, err, name)
	s, err := raster.Decode(f, known, limits)
	require.NoError(t, err, name)
	return s
}

// apart is how far two pictures differ, in 8-bit steps.
type apart struct {
	mean, largest, psnr float64
}

func compare(t *testing.T, a, b image.Image) apart {
	t.Helper()
	require.Equal(t, a.Bounds().Size(), b.Bounds().Size())
	var d apart
	sum, squares, n := 0.0, 0.0, 0.0
	for y := range a.Bounds().Dy() {
		for x := range a.Bounds().Dx() {
			p := color.NRGBAModel.Convert(a.At(a.Bounds().Min.X+x, a.Bounds().Min.Y+y)).(color.NRGBA)
			q := color.NRGBAModel.Convert(b.At(b.Bounds().Min.X+x, b.Bounds().Min.Y+y)).(color.NRGBA)
			for _, v := range [][2]uint8{{p.R, q.R}, {p.G, q.G}, {p.B, q.B}} {
				diff := math.Abs(float64(v[0]) - float64(v[1]))
				d.largest = max(d.largest, diff)
				sum, squares, n = sum+diff, squares+diff*diff, n+1
			}
		}
	}
	d.mean = sum / n
	d.psnr = 10 * math.Log10(255*255/(squares/n+1e-9))
	return d
}

func whole(s *raster.Source) image.Image { return s.Cut(s.Upright().Rect(), s.Upright()) }

func TestOrientationsAgainstImageMagick(t *testing.T) {
	dir := t.TempDir()
	plain := filepath.Join(dir, "plain.png")
	reference.Run(t, "convert", "../../demo/pictures/P1040860.JPG", "-strip", "-resize", "90x60!", plain)
	for o := 1; o <= 8; o++ {
		tagged, upright := filepath.Join(dir, fmt.Sprintf("%d.tif", o)), filepath.Join(dir, fmt.Sprintf("%d.png", o))
		names := []string{"", "TopLeft", "TopRight", "BottomRight", "BottomLeft", "LeftTop", "RightTop", "RightBottom", "LeftBottom"}
		reference.Run(t, "convert", plain, "-orient", names[o], tagged)
		reference.Run(t, "convert", tagged, "-auto-orient", upright)
		s := fromFile(t, tagged)
		d := compare(t, reference.PNG(t, upright), whole(s))
		assert.Zero(t, d.largest, "orientation %d, pixel for pixel", o)
	}
}

func TestResizingAgainstVips(t *testing.T) {
	if testing.Short() {
		t.Skip("slow")
	}
	dir := t.TempDir()
	for _, name := range []string{"IMG_2140.JPG", "P1040860.JPG"} {
		// A lossless source, so that only the resizing is compared.
		src, want := filepath.Join(dir, name+".png"), filepath.Join(dir, name+"-640.png")
		reference.Run(t, "convert", "../../demo/pictures/"+name, "-strip", "-define", "png:compression-level=1", src)
		reference.Run(t, "vipsthumbnail", src, "--size", "640x", "--linear", "-o", want+"[strip]")
		s := fromFile(t, src)
		d := compare(t, reference.PNG(t, want), s.Cut(s.Upright().Rect(), fit.ByWidth(s.Upright(), 640)))
		assert.GreaterOrEqual(t, d.psnr, 40.0, "%s: %+v", name, d)
	}
}

func TestProfilesAgainstLcms(t *testing.T) {
	const profiles = "/usr/share/color/icc/"
	dir := t.TempDir()
	for name, profile := range map[string]string{"wide": "compatibleWithAdobeRGB1998.icc", "grey": "Gray.icc"} {
		src, want := filepath.Join(dir, name+".png"), filepath.Join(dir, name+"-srgb.png")
		args := []string{"../../demo/pictures/P1040860.JPG", "-strip", "-resize", "300x"}
		if name == "grey" {
			args = append(args, "-colorspace", "Gray")
		}
		reference.Run(t, "convert", append(args, "-profile", profiles+profile, "-depth", "8", src)...)
		reference.Run(t, "convert", src, "-profile", profiles+"sRGB.icc", "-depth", "8", want)
		d := compare(t, reference.PNG(t, want), whole(fromFile(t, src)))
		assert.Less(t, d.mean, 1.0, "%s: %+v", name, d)
		assert.Less(t, d.largest, 3.0, "%s: %+v", name, d)
	}
}

func TestFormatsAgainstTheirTools(t *testing.T) {
	if testing.Short() {
		t.Skip("slow")
	}
	dir := t.TempDir()
	at := func(name string) string { return filepath.Join(dir, name) }
	reference.Run(t, "convert", "../../demo/pictures/IMG_2093.JPG", "-strip", "-resize", "300x200!", "-depth", "8", at("s.png"))
	original := reference.PNG(t, at("s.png"))

	reference.Run(t, "convert", at("s.png"), at("s.bmp"))
	reference.Run(t, "convert", at("s.png"), "-compress", "lzw", at("s.tif"))
	reference.Run(t, "convert", at("s.png"), "-depth", "16", at("deep.png"))
	reference.Run(t, "cwebp", "-quiet", "-lossless", "-exact", at("s.png"), "-o", at("lossless.webp"))
	for _, name := range []string{"s.bmp", "s.tif", "deep.png", "lossless.webp"} {
		assert.Zero(t, compare(t, original, whole(fromFile(t, at(name)))).largest, "%s, pixel for pixel", name)
	}

	// Lossy ones differ from their own tools only by how chroma is spread.
	reference.Run(t, "cwebp", "-quiet", "-q", "95", at("s.png"), "-o", at("s.webp"))
	reference.Run(t, "dwebp", "-quiet", at("s.webp"), "-o", at("webp.png"))
	reference.Run(t, "heif-enc", "-q", "95", at("s.png"), "-o", at("s.heic"))
	reference.Run(t, "heif-convert", at("s.heic"), at("heic.png"))
	reference.Run(t, "avifenc", "--min", "2", "--max", "8", "-y", "444", at("s.png"), at("s.avif"))
	reference.Run(t, "avifdec", at("s.avif"), at("avif.png"))
	for _, kind := range []string{"webp", "heic", "avif"} {
		d := compare(t, reference.PNG(t, at(kind+".png")), whole(fromFile(t, at("s."+kind))))
		assert.Greater(t, d.psnr, 34.0, "%s: %+v", kind, d)
		assert.Less(t, d.mean, 2.5, "%s: %+v", kind, d)
	}

	// Turned by a box of the file (irot), not by a tag.
	reference.Run(t, "avifenc", "--irot", "1", "--min", "2", "--max", "8", "-y", "444", at("s.png"), at("turned.avif"))
	reference.Run(t, "convert", at("s.png"), "-rotate", "-90", at("turned.png"))
	assert.Greater(t, compare(t, reference.PNG(t, at("turned.png")), whole(fromFile(t, at("turned.avif")))).psnr, 34.0)
}

func TestProgressiveAndCMYK(t *testing.T) {
	dir := t.TempDir()
	for name, args := range map[string][]string{
		"progressive": {"-interlace", "Plane"},
		"cmyk":        {"-colorspace", "CMYK"},
	} {
		src, want := filepath.Join(dir, name+".jpg"), filepath.Join(dir, name+".png")
		reference.Run(t, "convert", append(append([]string{"../../demo/pictures/P1040860.JPG", "-strip", "-resize", "300x", "-quality", "95"}, args...), src)...)
		reference.Run(t, "convert", src, "-colorspace", "sRGB", "-depth", "8", want)
		d := compare(t, reference.PNG(t, want), whole(fromFile(t, src)))
		assert.Less(t, d.mean, 3.0, "%s: %+v", name, d)
		assert.Greater(t, d.psnr, 32.0, "%s: %+v", name, d)
	}
}

// Broken files of every kind give an error of a known kind, never a panic.
func TestBrokenFilesOfEveryKind(t *testing.T) {
	dir := t.TempDir()
	at := func(name string) string { return filepath.Join(dir, name) }
	reference.Run(t, "convert", "../../demo/pictures/IMG_2093.JPG", "-strip", "-resize", "120x80!", "-depth", "8", at("s.png"))
	reference.Run(t, "heif-enc", at("s.png"), "-o", at("s.heic"))
	reference.Run(t, "avifenc", at("s.png"), at("s.avif"))
	for _, kind := range []string{"jpg", "gif", "bmp", "tif", "webp"} {
		reference.Run(t, "convert", at("s.png"), at("s."+kind))
	}
	for _, kind := range []string{"png", "jpg", "gif", "bmp", "tif", "webp", "heic", "avif"} {
		data, err := os.ReadFile(at("s." + kind))
		require.NoError(t, err)
		for _, part := range []int{1, 12, len(data) / 3, len(data) / 2, len(data) - 200} {
			known, err := facts.Read(bytes.NewReader(data[:part]))
			if err == nil {
				_, err = raster.Decode(bytes.NewReader(data[:part]), known, limits)
			}
			if assert.Error(t, err, "%s cut off at %d of %d", kind, part, len(data)) {
				known := errors.Is(err, facts.ErrDamaged) || errors.Is(err, raster.ErrCutOff) || errors.Is(err, facts.ErrNotPicture) || errors.Is(err, facts.ErrNotTaken)
				assert.True(t, known, "%s at %d: %v", kind, part, err)
			}
		}
	}
}

// An animated WebP of ours as libwebp's own tools see it.
func TestAnimatedWebPAgainstItsTools(t *testing.T) {
	f, err := os.Open("../../demo/pictures/paddle-stroke.gif")
	require.NoError(t, err)
	defer f.Close()
	known, err := facts.Read(f)
	require.NoError(t, err)
	a, err := raster.DecodeAnimation(f, known, limits)
	require.NoError(t, err)
	require.Len(t, a.Frames, 24)
	e, err := a.Encode(raster.Transform{From: a.Frames[0].Upright().Rect(), Size: fit.Size{W: 200, H: 128}, Turn: facts.Upright}, raster.Options{})
	require.NoError(t, err)
	dir := t.TempDir()
	at := func(name string) string { return filepath.Join(dir, name) }
	require.NoError(t, os.WriteFile(at("a.webp"), e.Data, 0o600))
	reference.Run(t, "webpinfo", at("a.webp"))
	info, err := exec.Command("webpmux", "-info", at("a.webp")).Output()
	require.NoError(t, err)
	assert.Contains(t, string(info), "Canvas size: 200 x 128")
	assert.Contains(t, string(info), "Loop Count : 0")
	assert.Contains(t, string(info), "Number of frames: 24")
	// A frame of it, taken out by webpmux, shows what that frame shows.
	reference.Run(t, "webpmux", "-get", "frame", "13", at("a.webp"), "-o", at("13.webp"))
	reference.Run(t, "dwebp", "-quiet", at("13.webp"), "-o", at("13.png"))
	want := a.Frames[12].Cut(a.Frames[12].Upright().Rect(), fit.Size{W: 200, H: 128})
	assert.Greater(t, compare(t, want, reference.PNG(t, at("13.png"))).psnr, 28.0)
}

// Frames of a GIF with every kind of disposal, as ImageMagick composes them.
func TestGIFFramesAgainstImageMagick(t *testing.T) {
	dir := t.TempDir()
	src := filepath.Join(dir, "d.gif")
	reference.Run(t, "convert", "-size", "40x30", "-delay", "10", "-dispose", "None", "xc:red", "-dispose", "Background", "-page", "+5+5", "-size", "12x10", "xc:green",
		"-dispose", "Previous", "-page", "+20+12", "xc:blue", "-dispose", "None", "-page", "+2+18", "xc:yellow", "-loop", "0", src)
	reference.Run(t, "convert", src, "-coalesce", filepath.Join(dir, "f%d.png"))
	f, err := os.Open(src)
	require.NoError(t, err)
	defer f.Close()
	known, err := facts.Read(f)
	require.NoError(t, err)
	a, err := raster.DecodeAnimation(f, known, limits)
	require.NoError(t, err)
	require.Len(t, a.Frames, 4)
	for i, s := range a.Frames {
		want := reference.PNG(t, filepath.Join(dir, fmt.Sprintf("f%d.png", i)))
		got := whole(s)
		for y := range 30 {
			for x := range 40 {
				p, q := color.NRGBAModel.Convert(want.At(x, y)).(color.NRGBA), color.NRGBAModel.Convert(got.At(x, y)).(color.NRGBA)
				if p.A == 0 && q.A == 0 {
					continue
				}
				require.Equal(t, p, q, "frame %d at %d,%d", i, x, y)
			}
		}
	}
}
