package jpegdec_test

import (
	"bytes"
	"errors"
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"image/jpeg"
	"io"
	"math"
	"math/rand/v2"
	"os"
	"path/filepath"
	"reflect"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/fit"
	"mivlet/core/jpegdec"
	"mivlet/core/jpegenc"
	"mivlet/internal/reference"
)

// scene is an invented picture with what makes decoding hard: fine leaves before a bright sky,
// a gradient, hard edges and colour.
func scene(w, h int) *image.RGBA {
	m := image.NewRGBA(image.Rect(0, 0, w, h))
	r := rand.New(rand.NewPCG(4, 7))
	for y := range h {
		for x := range w {
			c := color.RGBA{uint8(255 * x / w), uint8(255 * y / h), 160, 255}
			switch {
			case y < h/3 && r.IntN(10) < 4:
				c = color.RGBA{20, 35, 12, 255}
			case y < h/3:
				c = color.RGBA{200, 220, 250, 255}
			case (x/5+y/7)%9 == 0:
				c = color.RGBA{250, 30, 40, 255}
			}
			m.SetRGBA(x, y, c)
		}
	}
	return m
}

// written returns a picture as cjpeg of libjpeg-turbo writes it.
func written(t *testing.T, m image.Image, args ...string) string {
	t.Helper()
	dir := t.TempDir()
	in, out := filepath.Join(dir, "in.ppm"), filepath.Join(dir, "out.jpg")
	b := m.Bounds()
	data := fmt.Appendf(nil, "P6 %d %d 255\n", b.Dx(), b.Dy())
	for y := b.Min.Y; y < b.Max.Y; y++ {
		for x := b.Min.X; x < b.Max.X; x++ {
			c := color.RGBAModel.Convert(m.At(x, y)).(color.RGBA)
			data = append(data, c.R, c.G, c.B)
		}
	}
	require.NoError(t, os.WriteFile(in, data, 0o600))
	reference.Run(t, "cjpeg", append(append([]string{"-outfile", out}, args...), in)...)
	return out
}

func read(t *testing.T, name string, wanted fit.Size) *jpegdec.Picture {
	t.Helper()
	data, err := os.ReadFile(name)
	require.NoError(t, err)
	p, err := jpegdec.Decode(bytes.NewReader(data), wanted)
	require.NoError(t, err, name)
	return p
}

var scales = []int{1, 2, 4, 8} // eighths

// atScale asks for just so much that N eighths are decoded.
func atScale(t *testing.T, name string, n int) *jpegdec.Picture {
	t.Helper()
	full := read(t, name, fit.Size{}).Stored
	wanted := fit.Size{W: full.W * n / 16, H: 1}
	p := read(t, name, wanted)
	require.Equal(t, n, p.N, name)
	return p
}

// kinds are the ways of writing a file that are told apart.
var kinds = map[string][]string{
	"4:2:0":                    {"-quality", "85", "-sample", "2x2"},
	"4:2:2":                    {"-quality", "90", "-sample", "2x1"},
	"4:4:0":                    {"-quality", "90", "-sample", "1x2"},
	"4:4:4":                    {"-quality", "95", "-sample", "1x1"},
	"coarse":                   {"-quality", "20"},
	"fine":                     {"-quality", "100", "-sample", "1x1"},
	"grey":                     {"-quality", "85", "-grayscale"},
	"own tables":               {"-quality", "85", "-optimize"},
	"restarts":                 {"-quality", "85", "-restart", "3B"},
	"restarts by rows":         {"-quality", "85", "-restart", "1"},
	"progressive":              {"-quality", "85", "-progressive"},
	"progressive, 4:4:4":       {"-quality", "85", "-progressive", "-sample", "1x1"},
	"progressive, restarts":    {"-quality", "85", "-progressive", "-restart", "2B"},
	"progressive grey, coarse": {"-quality", "30", "-progressive", "-grayscale"},
}

// all is every kind in sizes that end within a unit, and in a unit alone.
func all(t *testing.T, check func(t *testing.T, name string)) {
	for kind, args := range kinds {
		for _, size := range []fit.Size{{W: 203, H: 117}, {W: 64, H: 48}, {W: 5, H: 9}} {
			t.Run(fmt.Sprintf("%s/%d", kind, size.W), func(t *testing.T) {
				t.Parallel()
				check(t, written(t, scene(size.W, size.H), args...))
			})
		}
	}
}

// At its full size a file gives what the decoder of the standard library gives, within one step.
// That one refuses progressive files with restart markers; for them libjpeg-turbo says what the
// luma is.
func TestAllOfItIsWhatTheStandardLibraryGives(t *testing.T) {
	all(t, func(t *testing.T, name string) {
		got := read(t, name, fit.Size{})
		assert.Equal(t, 8, got.N)
		data, err := os.ReadFile(name)
		require.NoError(t, err)
		want, err := jpeg.Decode(bytes.NewReader(data))
		if err != nil {
			require.ErrorContains(t, err, "missing 0xff00 sequence")
			assertNear(t, byLibjpeg(t, name, 8), luma(got.Planes), 1)
			return
		}
		require.Equal(t, want.Bounds(), got.Planes.Bounds())
		switch want := want.(type) {
		case *image.Gray:
			assertNear(t, plane{want.Pix, want.Stride, want.Rect.Dx(), want.Rect.Dy()}, luma(got.Planes), 1)
		case *image.YCbCr:
			m := got.Planes.(*image.YCbCr)
			require.Equal(t, want.SubsampleRatio, m.SubsampleRatio)
			assert.Equal(t, want.SubsampleRatio, got.Sampling)
			assertNear(t, luma(want), luma(m), 1)
			w, h := chromaSize(want)
			assertNear(t, plane{want.Cb, want.CStride, w, h}, plane{m.Cb, m.CStride, w, h}, 1)
			assertNear(t, plane{want.Cr, want.CStride, w, h}, plane{m.Cr, m.CStride, w, h}, 1)
		}
	})
}

type plane struct {
	pix          []byte
	stride, w, h int
}

func luma(m image.Image) plane {
	switch m := m.(type) {
	case *image.Gray:
		return plane{m.Pix, m.Stride, m.Rect.Dx(), m.Rect.Dy()}
	case *image.YCbCr:
		return plane{m.Y, m.YStride, m.Rect.Dx(), m.Rect.Dy()}
	}
	panic("neither grey nor colour")
}

func chromaSize(m *image.YCbCr) (w, h int) {
	w, h = m.Rect.Dx(), m.Rect.Dy()
	if m.SubsampleRatio == image.YCbCrSubsampleRatio420 || m.SubsampleRatio == image.YCbCrSubsampleRatio422 {
		w = (w + 1) / 2
	}
	if m.SubsampleRatio == image.YCbCrSubsampleRatio420 || m.SubsampleRatio == image.YCbCrSubsampleRatio440 {
		h = (h + 1) / 2
	}
	return w, h
}

func assertNear(t *testing.T, want, got plane, most int) {
	t.Helper()
	require.Equal(t, [2]int{want.w, want.h}, [2]int{got.w, got.h})
	for y := range want.h {
		for x := range want.w {
			a, b := int(want.pix[y*want.stride+x]), int(got.pix[y*got.stride+x])
			if a-b > most || b-a > most {
				require.Failf(t, "pixels differ", "at %d, %d: %d, not %d", x, y, b, a)
			}
		}
	}
}

// smooth is an invented picture of which nothing is seen to be left out: no block of it has
// much of high frequencies.
func smooth(w, h int) image.Image {
	m := image.NewRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			v := 128 + 90*math.Sin(float64(x)/23)*math.Cos(float64(y)/31)
			m.SetRGBA(x, y, color.RGBA{uint8(v), uint8(v), uint8(v), 255})
		}
	}
	return m
}

// At every scale the luma is what djpeg of libjpeg-turbo gives at that scale, within one step
// for the arithmetic of its own.
func TestEveryScaleAgainstLibjpeg(t *testing.T) {
	for _, kind := range []string{"4:4:4", "4:2:0", "grey", "progressive", "restarts"} {
		name := written(t, smooth(235, 150), kinds[kind]...)
		for _, n := range scales {
			assertNear(t, byLibjpeg(t, name, n), luma(atScale(t, name, n).Planes), 1)
		}
	}
}

func byLibjpeg(t *testing.T, name string, n int) plane {
	t.Helper()
	out := filepath.Join(t.TempDir(), "out.pgm")
	reference.Run(t, "djpeg", "-grayscale", "-scale", fmt.Sprintf("%d/8", n), "-outfile", out, name)
	return readPGM(t, out)
}

func readPGM(t *testing.T, name string) plane {
	t.Helper()
	data, err := os.ReadFile(name)
	require.NoError(t, err)
	var w, h, most int
	_, err = fmt.Sscanf(string(data), "P5\n%d %d\n%d\n", &w, &h, &most)
	require.NoError(t, err)
	return plane{data[len(data)-w*h:], w, w, h}
}

// Chroma is decoded by the rule of luma, on its own grid.
func TestChromaHasEnoughOfItsOwn(t *testing.T) {
	name := written(t, scene(640, 480), kinds["4:2:0"]...)
	for _, c := range []struct {
		wanted int
		n      int
		ratio  image.YCbCrSubsampleRatio
	}{
		{60, 2, image.YCbCrSubsampleRatio444}, // 160 pixels of luma; 80 of chroma would not be enough
		{40, 1, image.YCbCrSubsampleRatio444},
		{160, 4, image.YCbCrSubsampleRatio444},
		{400, 8, image.YCbCrSubsampleRatio420}, // there is no more
		{640, 8, image.YCbCrSubsampleRatio420},
	} {
		p := read(t, name, fit.Size{W: c.wanted, H: c.wanted * 3 / 4})
		assert.Equal(t, c.n, p.N, "for %d", c.wanted)
		assert.Equal(t, c.ratio, p.Planes.(*image.YCbCr).SubsampleRatio, "for %d", c.wanted)
		assert.Equal(t, image.YCbCrSubsampleRatio420, p.Sampling)
	}
}

func TestEighths(t *testing.T) {
	for _, c := range []struct{ stored, wanted, n int }{{6000, 375, 1}, {6000, 376, 2}, {6000, 750, 2}, {6000, 751, 4}, {6000, 1500, 4}, {6000, 1501, 8}, {1000, 1000, 8}, {1000, 0, 8}} {
		assert.Equal(t, c.n, jpegdec.Eighths(fit.Size{W: c.stored, H: c.stored}, fit.Size{W: c.wanted, H: c.wanted}), "%+v", c)
	}
	assert.Equal(t, 4, jpegdec.Eighths(fit.Size{W: 800, H: 400}, fit.Size{W: 80, H: 100}), "the side that needs more counts")
}

// What is left to others is told before anything is drawn.
func TestOtherKindsAreLeftToOthers(t *testing.T) {
	dir := t.TempDir()
	at := func(name string) string { return filepath.Join(dir, name) }
	m := scene(40, 30)
	ppm := written(t, m, "-quality", "90")
	reference.Run(t, "convert", ppm, "-colorspace", "CMYK", at("cmyk.jpg"))
	reference.Run(t, "cjpeg", "-rgb", "-outfile", at("rgb.jpg"), filepath.Join(filepath.Dir(ppm), "in.ppm"))
	reference.Run(t, "cjpeg", "-arithmetic", "-outfile", at("arithmetic.jpg"), filepath.Join(filepath.Dir(ppm), "in.ppm"))
	reference.Run(t, "cjpeg", "-sample", "4x1", "-outfile", at("quarter.jpg"), filepath.Join(filepath.Dir(ppm), "in.ppm"))
	for _, name := range []string{"cmyk.jpg", "rgb.jpg", "arithmetic.jpg", "quarter.jpg"} {
		data, err := os.ReadFile(at(name))
		require.NoError(t, err)
		_, err = jpegdec.Decode(bytes.NewReader(data), fit.Size{})
		assert.ErrorIs(t, err, jpegdec.ErrOther, name)
	}
}

// A file that ends too soon says so wherever it ends, and one with damage does not end the program.
func TestWhatIsBrokenIsToldAsBroken(t *testing.T) {
	for _, kind := range []string{"4:2:0", "progressive", "restarts"} {
		data, err := os.ReadFile(written(t, scene(90, 70), kinds[kind]...))
		require.NoError(t, err)
		for cut := range data[:len(data)-2] {
			_, err := jpegdec.Decode(bytes.NewReader(data[:cut]), fit.Size{W: 20, H: 20})
			if !assert.ErrorIs(t, err, io.ErrUnexpectedEOF, "%s, cut at %d of %d", kind, cut, len(data)) {
				break
			}
		}
		r := rand.New(rand.NewPCG(1, 2))
		told := 0
		for range 2000 {
			broken := bytes.Clone(data)
			for range 1 + r.IntN(3) {
				broken[r.IntN(len(broken))] = byte(r.Uint32())
			}
			p, err := jpegdec.Decode(bytes.NewReader(broken), fit.Size{W: 20, H: 20})
			var damage jpegdec.DamageError
			if err != nil {
				told++
				assert.True(t, errors.As(err, &damage) || errors.Is(err, io.ErrUnexpectedEOF) || errors.Is(err, jpegdec.ErrOther), "%v", err)
			} else {
				assert.NotNil(t, p.Planes)
			}
		}
		assert.Greater(t, told, 200, "%s: some of the damage is seen", kind)
	}
	for _, junk := range []string{"", "\xFF", "\xFF\xD8", "\xFF\xD8\xFF\xD9", "GIF89a", "\xFF\xD8\xFF\xDA\x00\x02"} {
		_, err := jpegdec.Decode(bytes.NewReader([]byte(junk)), fit.Size{})
		assert.Error(t, err, "%q", junk)
	}
}

// A reader that hands out a byte at a time, or fails, changes nothing or is told.
func TestAnyReaderWillDo(t *testing.T) {
	data, err := os.ReadFile(written(t, scene(70, 50), kinds["restarts"]...))
	require.NoError(t, err)
	want, err := jpegdec.Decode(bytes.NewReader(data), fit.Size{})
	require.NoError(t, err)
	got, err := jpegdec.Decode(slow{bytes.NewReader(data)}, fit.Size{})
	require.NoError(t, err)
	assert.True(t, reflect.DeepEqual(want.Planes, got.Planes))
	broke := errors.New("the disk is gone")
	_, err = jpegdec.Decode(io.MultiReader(bytes.NewReader(data[:900]), failing{broke}), fit.Size{})
	assert.ErrorIs(t, err, broke)
}

type slow struct{ io.Reader }

func (s slow) Read(p []byte) (int, error) { return s.Reader.Read(p[:min(len(p), 1)]) }

type failing struct{ err error }

func (f failing) Read([]byte) (int, error) { return 0, f.err }

// Dark fine leaves before a bright sky come out as bright as the light of all of them is.
func TestLeavesBeforeTheSkyKeepTheirLight(t *testing.T) {
	m := image.NewRGBA(image.Rect(0, 0, 320, 320))
	draw.Draw(m, m.Rect, image.NewUniform(color.RGBA{230, 230, 230, 255}), image.Point{}, draw.Src)
	for y := range 320 {
		for x := range 320 {
			if (x+y)%2 == 0 {
				m.SetRGBA(x, y, color.RGBA{20, 20, 20, 255})
			}
		}
	}
	// Half of the light of 230 and half of that of 20 (IEC 61966-2-1): code value 170.
	want := 255 * encoded((linear(230.0/255)+linear(20.0/255))/2)
	for _, kind := range []string{"fine", "progressive, 4:4:4", "grey"} {
		name := written(t, m, kinds[kind]...)
		for _, n := range scales[:3] {
			p := luma(atScale(t, name, n).Planes)
			sum := 0
			for y := range p.h {
				for x := range p.w {
					sum += int(p.pix[y*p.stride+x])
				}
			}
			assert.InDelta(t, want, float64(sum)/float64(p.w*p.h), 2, "%s at %d/8; averaging code values gives 125", kind, n)
		}
	}
}

func linear(c float64) float64 {
	if c <= 0.04045 {
		return c / 12.92
	}
	return math.Pow((c+0.055)/1.055, 2.4)
}

func encoded(l float64) float64 { return 1.055*math.Pow(l, 1/2.4) - 0.055 }

func FuzzDecode(f *testing.F) {
	for _, name := range []string{"../../demo/pictures/IMG_2101.JPG"} {
		data, err := os.ReadFile(name)
		if err != nil {
			f.Fatal(err)
		}
		f.Add(data[:min(len(data), 3000)], 30)
	}
	several, err := jpegenc.EncodeSmall(scene(240, 180), 95, jpegenc.FourToOne) // of several scans
	if err != nil {
		f.Fatal(err)
	}
	f.Add(several, 40)
	f.Fuzz(func(t *testing.T, data []byte, wanted int) {
		if c, err := jpeg.DecodeConfig(bytes.NewReader(data)); err == nil && c.Width*c.Height > 1<<22 {
			t.Skip("too large to try many of")
		}
		p, err := jpegdec.Decode(bytes.NewReader(data), fit.Size{W: wanted, H: wanted})
		if err == nil && p.Planes.Bounds().Empty() {
			t.Error("a picture without pixels")
		}
	})
}
