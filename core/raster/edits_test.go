package raster_test

import (
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"image/png"
	"math/rand/v2"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/raster"
	"mivlet/core/veil"
	"mivlet/internal/reference"
)

func save(t *testing.T, name string, m image.Image) {
	t.Helper()
	f, err := os.Create(name)
	require.NoError(t, err)
	require.NoError(t, png.Encode(f, m))
	require.NoError(t, f.Close())
}

func TestStraighteningAgainstImageMagick(t *testing.T) {
	dir := t.TempDir()
	src, want := filepath.Join(dir, "s.png"), filepath.Join(dir, "w.png")
	reference.Run(t, "convert", "../../demo/pictures/P1040860.JPG", "-strip", "-resize", "1200x800!", src)
	// Turned by 5° about the middle, and the middle of it brought down to a quarter.
	reference.Run(t, "convert", src, "-virtual-pixel", "edge", "-colorspace", "RGB", "-distort", "SRT", "5", "-crop", "800x480+200+160", "+repage",
		"-filter", "Lanczos", "-resize", "200x120!", "-colorspace", "sRGB", "-depth", "8", want)
	s := fromFile(t, src)
	got := s.Do(raster.Transform{From: image.Rect(200, 160, 1000, 640), Size: fit.Size{W: 200, H: 120}, Straighten: 5, Turn: facts.Upright})
	d := compare(t, reference.PNG(t, want), got)
	assert.Greater(t, d.psnr, 30.0, "%+v", d)
	other := s.Do(raster.Transform{From: image.Rect(200, 160, 1000, 640), Size: fit.Size{W: 200, H: 120}, Straighten: -5, Turn: facts.Upright})
	assert.Less(t, compare(t, reference.PNG(t, want), other).psnr, 25.0, "the other way round is another picture")
}

func TestTurningAgainstImageMagick(t *testing.T) {
	dir := t.TempDir()
	src := filepath.Join(dir, "s.png")
	reference.Run(t, "convert", "../../demo/pictures/P1040860.JPG", "-strip", "-resize", "90x60!", src)
	s := fromFile(t, src)
	for turn, args := range map[facts.Orientation][]string{
		facts.Turn90Clockwise: {"-rotate", "90"}, facts.Turn180: {"-rotate", "180"}, facts.Turn90AntiClocks: {"-rotate", "270"},
		facts.MirrorLeftRight: {"-flop"}, facts.MirrorTopBottom: {"-flip"}, facts.Transpose: {"-transpose"}, facts.Transverse: {"-transverse"},
	} {
		want := filepath.Join(dir, "w.png")
		reference.Run(t, "convert", append(append([]string{src}, args...), want)...)
		size := s.Upright()
		if turn.Swaps() {
			size = fit.Size{W: size.H, H: size.W}
		}
		got := s.Do(raster.Transform{From: s.Upright().Rect(), Size: size, Turn: turn})
		assert.Zero(t, compare(t, reference.PNG(t, want), got).largest, "%v", args)
	}
}

// Two files of two scenes that differ only where a veil lies give the same cut, to the last
// bit: as PNG, and as JPEG however the colour is thinned out, turned and straightened.
func TestTheCutDoesNotDependOnWhatIsHidden(t *testing.T) {
	if testing.Short() {
		t.Skip("slow")
	}
	noise := rand.New(rand.NewPCG(7, 7))
	one := image.NewRGBA(image.Rect(0, 0, 403, 301))
	for i := range one.Pix {
		one.Pix[i] = uint8(noise.IntN(256)) | 3*uint8(i%4/3)*85
	}
	place := image.Rect(97, 60, 297, 180)
	other := image.NewRGBA(one.Rect)
	copy(other.Pix, one.Pix)
	draw.Draw(other, place, image.NewUniform(color.RGBA{10, 200, 30, 255}), image.Point{}, draw.Src)
	dir := t.TempDir()
	files := map[string][2]*raster.Source{}
	for i, m := range []image.Image{one, other} {
		name := filepath.Join(dir, fmt.Sprint(i))
		save(t, name+".png", m)
		for kind, args := range map[string][]string{"png": nil, "420.jpg": {"-sampling-factor", "4:2:0"}, "422.jpg": {"-sampling-factor", "4:2:2"}, "444.jpg": {"-sampling-factor", "4:4:4"}, "grey.jpg": {"-colorspace", "gray"}} {
			file := name + "." + kind
			if kind != "png" {
				reference.Run(t, "convert", append(append([]string{name + ".png", "-quality", "80"}, args...), file)...)
			}
			two := files[kind]
			two[i] = fromFile(t, file)
			files[kind] = two
		}
	}
	for kind, two := range files {
		for _, v := range []veil.Veil{
			{Shape: veil.Rect, Bounds: place, Style: veil.Cover, Reason: veil.Number},
			{Shape: veil.Rect, Bounds: place, Style: veil.Colour, Fill: "#336699"},
			{Shape: veil.Rect, Bounds: place, Style: veil.Figure, Reason: veil.Face},
			{Shape: veil.Polygon, Points: []image.Point{{96, 59}, {298, 59}, {298, 181}, {96, 181}}, Style: veil.Cover, Reason: veil.Person},
			{Shape: veil.Ellipse, Bounds: place.Inset(-60), Style: veil.Figure, Reason: veil.Face},
		} {
			for _, w := range []raster.Transform{
				{Size: fit.Size{W: 403, H: 301}, Turn: facts.Upright}, {Size: fit.Size{W: 130, H: 98}, Turn: facts.Turn180}, {Size: fit.Size{W: 50, H: 38}, Turn: facts.MirrorLeftRight}, {Size: fit.Size{W: 100, H: 76}, Turn: facts.Upright, Straighten: 4},
			} {
				w.From, w.Veils = one.Rect, []veil.Veil{v}
				require.Equal(t, two[0].Do(w), two[1].Do(w), "%s %+v at %v", kind, v, w.Size)
			}
		}
		w := raster.Transform{From: one.Rect, Size: fit.Size{W: 50, H: 38}, Turn: facts.Upright}
		require.NotEqual(t, two[0].Do(w), two[1].Do(w), "%s: without the veil they differ", kind)
	}
}

// Whether what is hidden was transparent is not told either.
func TestHiddenTransparencyIsNotTold(t *testing.T) {
	solid := image.NewNRGBA(image.Rect(0, 0, 60, 50))
	draw.Draw(solid, solid.Rect, image.NewUniform(color.RGBA{90, 120, 40, 255}), image.Point{}, draw.Src)
	clear := image.NewNRGBA(solid.Rect)
	copy(clear.Pix, solid.Pix)
	clear.SetNRGBA(30, 20, color.NRGBA{})
	w := raster.Transform{From: solid.Rect, Size: fit.Size{W: 30, H: 25}, Turn: facts.Upright, Veils: []veil.Veil{{Shape: veil.Rect, Bounds: image.Rect(25, 15, 35, 25), Style: veil.Cover, Reason: veil.Face}}}
	assert.Equal(t, raster.FromImage(solid).Do(w), raster.FromImage(clear).Do(w))
}

// A copy for the screen that was made before the veil was drawn tells nothing of it.
func TestACopyTellsNothingOfWhatIsHidden(t *testing.T) {
	for _, size := range []fit.Size{{W: 800, H: 600}, {W: 310, H: 233}} {
		var looks []image.Image
		for _, inside := range []uint8{0, 255} {
			m := numbered(800, 600)
			v := veil.Veil{Shape: veil.Rect, Bounds: image.Rect(333, 222, 467, 301), Style: veil.Cover, Reason: veil.Number}
			draw.Draw(m, v.Bounds, image.NewUniform(color.RGBA{inside, 255 - inside, 7, 255}), image.Point{}, draw.Src)
			data, err := raster.EncodeCopy(raster.FromImage(m).Glance(size).Image(), facts.Facts{MediaType: "image/jpeg"})
			require.NoError(t, err)
			name := filepath.Join(t.TempDir(), "copy")
			require.NoError(t, os.WriteFile(name, data, 0o600))
			kept := fromFile(t, name).CopyOf(fit.Size{W: 800, H: 600}, "image/jpeg")
			down := fit.ScaleOf(fit.Size{W: 800, H: 600}, size)
			looks = append(looks, kept.Do(raster.Transform{From: size.Rect(), Size: fit.Size{W: 200, H: 150}, Turn: facts.Upright, Veils: []veil.Veil{v.Scaled(down)}}))
		}
		assert.Equal(t, looks[0], looks[1], "%v", size)
	}
}

// Outside its rim a veil changes nothing.
func TestAVeilStaysInItsPlace(t *testing.T) {
	m := numbered(200, 160)
	s := source(t, m, facts.Turn90Clockwise) // 160 × 200 as it stands
	v := veil.Veil{Shape: veil.Rect, Bounds: image.Rect(40, 50, 100, 90), Style: veil.Colour, Reason: veil.Face}
	plain := s.Do(raster.Transform{From: s.Upright().Rect(), Size: s.Upright(), Turn: facts.Upright}).(*image.RGBA)
	veiled := s.Do(raster.Transform{From: s.Upright().Rect(), Size: s.Upright(), Turn: facts.Upright, Veils: []veil.Veil{v}}).(*image.RGBA)
	one := veiled.RGBAAt(60, 60)
	for y := range 200 {
		for x := range 160 {
			p := image.Pt(x, y)
			switch {
			case p.In(v.Bounds):
				require.Equal(t, one, veiled.RGBAAt(x, y), "one colour at %v", p)
			case !p.In(v.Bounds.Inset(-4 - 3)): // what it reaches over, and its rim
				require.Equal(t, plain.RGBAAt(x, y), veiled.RGBAAt(x, y), "untouched at %v", p)
			}
		}
	}
}

// read asks tesseract what stands in a picture.
func read(t *testing.T, m image.Image) string {
	t.Helper()
	name := filepath.Join(t.TempDir(), "page.png")
	save(t, name, m)
	return reference.Output(t, "tesseract", name, "-", "--psm", "11")
}

// A number and an address that can be read before cannot be read after, in any
// style, also when the veiled cut is sharpened and enlarged.
func TestVeiledTextCannotBeRead(t *testing.T) {
	if testing.Short() {
		t.Skip("slow")
	}
	rota := fromFile(t, "../../demo/pictures/Screenshot 2026-11-02.png")
	size := rota.Upright()
	everything := raster.Transform{From: size.Rect(), Size: size, Turn: facts.Upright}
	before := read(t, rota.Do(everything))
	secrets := regexp.MustCompile(`(?i)01632|07700|9604|9001|9006|quill|odo|tamsin|varrow|brindlemere\.|@|example`)
	for _, word := range []string{"01632 960417", "odo.tamsin@brindlemere.example"} {
		require.Contains(t, before, word, "it can be read before")
	}
	lines := []image.Rectangle{}
	for y := 194; y < 550; y += 60 { // the rows of the table
		lines = append(lines, image.Rect(370, y, 1400, y+56))
	}
	dir := t.TempDir()
	for _, style := range []veil.Style{veil.Cover, veil.Colour} {
		w := everything
		for _, l := range lines {
			w.Veils = append(w.Veils, veil.Veil{Shape: veil.Rect, Bounds: l, Style: style, Reason: veil.Number})
		}
		veiled := rota.Do(w)
		assert.NotRegexp(t, secrets, read(t, veiled), "%s", style)
		save(t, filepath.Join(dir, "v.png"), veiled)
		reference.Run(t, "convert", filepath.Join(dir, "v.png"), "-crop", "1100x420+340+160", "+repage", "-resize", "200%", "-sharpen", "0x2", "-normalize", filepath.Join(dir, "big.png"))
		assert.NotRegexp(t, secrets, read(t, reference.PNG(t, filepath.Join(dir, "big.png"))), "%s, enlarged and sharpened", style)
	}
	assert.Contains(t, strings.ToLower(before), "rota")
}

func TestVeilsOverlapAndReachOverTheEdge(t *testing.T) {
	m := image.NewRGBA(image.Rect(0, 0, 100, 80))
	draw.Draw(m, m.Rect, image.NewUniform(color.RGBA{200, 30, 30, 255}), image.Point{}, draw.Src)
	s := source(t, m, facts.Upright)
	got := s.Do(raster.Transform{From: m.Rect, Size: fit.Size{W: 100, H: 80}, Turn: facts.Upright, Veils: []veil.Veil{
		{Shape: veil.Ellipse, Bounds: image.Rect(-30, -30, 60, 60), Style: veil.Cover, Reason: veil.Face},
		{Shape: veil.Polygon, Points: []image.Point{{X: 40, Y: 10}, {X: 150, Y: 40}, {X: 50, Y: 70}}, Style: veil.Cover, Reason: veil.Face},
		{Shape: veil.Rect, Bounds: image.Rect(500, 500, 600, 600), Style: veil.Colour},
	}}).(*image.RGBA)
	for i := 0; i < len(got.Pix); i += 4 {
		require.InDelta(t, 200, int(got.Pix[i]), 1, "a flat picture stays flat")
		require.InDelta(t, 30, int(got.Pix[i+1]), 1)
	}
}

// In an animation a veil follows what it hides: whatever that is, the frames are the same.
func TestAVeilFollowsThroughTheFrames(t *testing.T) {
	v := veil.Veil{Shape: veil.Rect, Bounds: image.Rect(10, 10, 30, 26), Style: veil.Cover, Reason: veil.Plate}
	v = v.Placed(4, image.Rect(90, 40, 110, 56))
	made := func(inside color.RGBA, drawn veil.Veil) []byte {
		a := &raster.Animation{}
		for n := range 5 {
			m := numbered(140, 90)
			draw.Draw(m, v.At(n).Bounds, image.NewUniform(inside), image.Point{}, draw.Src)
			a.Frames, a.Delays = append(a.Frames, raster.FromImage(m)), append(a.Delays, 50*time.Millisecond)
		}
		e, err := a.Encode(raster.Transform{From: image.Rect(0, 0, 140, 90), Size: fit.Size{W: 70, H: 45}, Turn: facts.Upright, Veils: []veil.Veil{drawn}}, raster.Options{Format: raster.GIF})
		require.NoError(t, err)
		return e.Data
	}
	red, blue := color.RGBA{255, 0, 0, 255}, color.RGBA{0, 0, 255, 255}
	assert.Equal(t, made(red, v), made(blue, v))
	still := v
	still.Path = nil
	assert.NotEqual(t, made(red, still), made(blue, still), "one that stands still loses what moves")
}
