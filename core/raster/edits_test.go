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
	got := s.Do(raster.Work{From: image.Rect(200, 160, 1000, 640), Size: fit.Size{W: 200, H: 120}, Straighten: 5, Turn: facts.Upright})
	d := compare(t, readPNG(t, want), got)
	assert.Greater(t, d.psnr, 30.0, "%+v", d)
	other := s.Do(raster.Work{From: image.Rect(200, 160, 1000, 640), Size: fit.Size{W: 200, H: 120}, Straighten: -5, Turn: facts.Upright})
	assert.Less(t, compare(t, readPNG(t, want), other).psnr, 25.0, "the other way round is another picture")
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
		got := s.Do(raster.Work{From: s.Upright().Rect(), Size: size, Turn: turn})
		assert.Zero(t, compare(t, readPNG(t, want), got).largest, "%v", args)
	}
}

// The proof that nothing but the averages gets through: other pixels under the
// veil with the same cell averages give the same cut, to the last bit.
func TestAVeilLetsNothingThroughButItsAverages(t *testing.T) {
	noise := rand.New(rand.NewPCG(7, 7))
	base := image.NewRGBA(image.Rect(0, 0, 400, 300))
	for i := range base.Pix {
		base.Pix[i] = uint8(noise.IntN(256)) | 3*uint8(i%4/3)*85
	}
	for i := 3; i < len(base.Pix); i += 4 {
		base.Pix[i] = 255
	}
	for _, v := range []veil.Veil{
		{Shape: veil.Rect, Bounds: image.Rect(97, 60, 297, 180), Style: veil.Soft, Cells: 4},
		{Shape: veil.Rect, Bounds: image.Rect(97, 60, 297, 180), Style: veil.Blocks, Cells: 3},
		{Shape: veil.Rect, Bounds: image.Rect(97, 60, 297, 180), Style: veil.Solid, Cells: 1},
		{Shape: veil.Ellipse, Bounds: image.Rect(97, 60, 297, 180), Style: veil.Soft, Cells: 4},
	} {
		// Shuffling the pixels of each cell changes all of them and no average.
		shuffled := image.NewRGBA(base.Rect)
		copy(shuffled.Pix, base.Pix)
		cells := v.Cells
		if v.Style == veil.Solid {
			cells = 1
		}
		side := 120.0 / float64(cells)
		cols, rows := int(200/side+0.5), cells
		byCell := map[int][]image.Point{}
		for y := 60; y < 180; y++ {
			for x := 97; x < 297; x++ {
				nx, ny := (float64(x)+0.5-197)/100, (float64(y)+0.5-120)/60
				if v.Shape == veil.Ellipse && nx*nx+ny*ny > 1 {
					continue
				}
				cell := (y-60)*rows/120*cols + (x-97)*cols/200
				byCell[cell] = append(byCell[cell], image.Pt(x, y))
			}
		}
		for _, points := range byCell {
			order := noise.Perm(len(points))
			for i, p := range points {
				q := points[order[i]]
				shuffled.SetRGBA(p.X, p.Y, base.RGBAAt(q.X, q.Y))
			}
		}
		for _, size := range []fit.Size{{W: 400, H: 300}, {W: 130, H: 98}, {W: 50, H: 38}} {
			w := raster.Work{From: base.Rect, Size: size, Turn: facts.Upright, Veils: []veil.Veil{v}}
			a := source(t, base, facts.Upright).Do(w).(*image.RGBA)
			b := source(t, shuffled, facts.Upright).Do(w).(*image.RGBA)
			assert.Equal(t, a.Pix, b.Pix, "%+v at %v", v, size)
			w.Veils = nil
			assert.NotEqual(t, source(t, base, facts.Upright).Do(w).(*image.RGBA).Pix, source(t, shuffled, facts.Upright).Do(w).(*image.RGBA).Pix, "without the veil they differ")
		}
	}
}

// Outside its rim a veil changes nothing.
func TestAVeilStaysInItsPlace(t *testing.T) {
	m := numbered(200, 160)
	s := source(t, m, facts.Turn90Clockwise) // 160 × 200 as it stands
	v := veil.Veil{Shape: veil.Rect, Bounds: image.Rect(40, 50, 100, 90), Style: veil.Solid, Cells: 1}
	plain := s.Do(raster.Work{From: s.Upright().Rect(), Size: s.Upright(), Turn: facts.Upright}).(*image.RGBA)
	veiled := s.Do(raster.Work{From: s.Upright().Rect(), Size: s.Upright(), Turn: facts.Upright, Veils: []veil.Veil{v}}).(*image.RGBA)
	one := veiled.RGBAAt(60, 60)
	for y := range 200 {
		for x := range 160 {
			p := image.Pt(x, y)
			switch {
			case p.In(v.Bounds):
				require.Equal(t, one, veiled.RGBAAt(x, y), "one colour at %v", p)
			case !p.In(v.Bounds.Inset(-4)):
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
	rota := fromFile(t, "../../demo/pictures/Screenshot 2026-11-02.png")
	size := rota.Upright()
	everything := raster.Work{From: size.Rect(), Size: size, Turn: facts.Upright}
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
	for _, v := range []struct {
		style veil.Style
		cells int
	}{{veil.Soft, 1}, {veil.Soft, veil.TextCells}, {veil.Blocks, 1}, {veil.Blocks, veil.TextCells}, {veil.Solid, 1}} {
		w := everything
		for _, l := range lines {
			w.Veils = append(w.Veils, veil.Veil{Shape: veil.Rect, Bounds: l, Style: v.style, Cells: v.cells})
		}
		veiled := rota.Do(w)
		style := fmt.Sprintf("%s, %d across", v.style, v.cells)
		assert.NotRegexp(t, secrets, read(t, veiled), "%s", style)
		save(t, filepath.Join(dir, "v.png"), veiled)
		reference.Run(t, "convert", filepath.Join(dir, "v.png"), "-crop", "1100x420+340+160", "+repage", "-resize", "200%", "-sharpen", "0x2", "-normalize", filepath.Join(dir, "big.png"))
		assert.NotRegexp(t, secrets, read(t, readPNG(t, filepath.Join(dir, "big.png"))), "%s, enlarged and sharpened", style)
	}
	assert.Contains(t, strings.ToLower(before), "rota")
}

func TestVeilsOverlapAndReachOverTheEdge(t *testing.T) {
	m := image.NewRGBA(image.Rect(0, 0, 100, 80))
	draw.Draw(m, m.Rect, image.NewUniform(color.RGBA{200, 30, 30, 255}), image.Point{}, draw.Src)
	s := source(t, m, facts.Upright)
	got := s.Do(raster.Work{From: m.Rect, Size: fit.Size{W: 100, H: 80}, Turn: facts.Upright, Veils: []veil.Veil{
		{Shape: veil.Ellipse, Bounds: image.Rect(-30, -30, 60, 60), Style: veil.Soft, Cells: 3},
		{Shape: veil.Polygon, Points: []image.Point{{X: 40, Y: 10}, {X: 150, Y: 40}, {X: 50, Y: 70}}, Style: veil.Blocks, Cells: 2},
		{Shape: veil.Rect, Bounds: image.Rect(500, 500, 600, 600), Style: veil.Solid, Cells: 1},
	}}).(*image.RGBA)
	for i := 0; i < len(got.Pix); i += 4 {
		require.InDelta(t, 200, int(got.Pix[i]), 1, "a flat picture stays flat")
		require.InDelta(t, 30, int(got.Pix[i+1]), 1)
	}
}
