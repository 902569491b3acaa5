package raster_test

import (
	"bytes"
	"encoding/binary"
	"hash/crc32"
	"image"
	"image/color"
	"image/gif"
	"image/jpeg"
	"image/png"
	"math"
	"math/rand/v2"
	"os"
	"runtime"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/raster"
)

var limits = raster.Limits{Side: 30_000, Pixels: 120_000_000}

func source(t *testing.T, m image.Image, o facts.Orientation) *raster.Source {
	t.Helper()
	var b bytes.Buffer
	require.NoError(t, png.Encode(&b, m))
	f, err := facts.Read(bytes.NewReader(b.Bytes()))
	require.NoError(t, err)
	f.Orientation = o
	s, err := raster.Decode(bytes.NewReader(b.Bytes()), f, limits)
	require.NoError(t, err)
	return s
}

// Half the light of black and white is 0.5, which sRGB writes as 188
// (IEC 61966-2-1); averaging code values would give 128.
func TestCheckerboardIsHalvedInLinearLight(t *testing.T) {
	m := image.NewGray(image.Rect(0, 0, 64, 64))
	for y := range 64 {
		for x := range 64 {
			m.SetGray(x, y, color.Gray{uint8(255 * ((x + y) % 2))})
		}
	}
	for _, m := range []image.Image{m, toRGBA(m)} {
		cut := source(t, m, facts.Upright).Cut(m.Bounds(), fit.Size{W: 32, H: 32})
		for y := 4; y < 28; y++ {
			for x := 4; x < 28; x++ {
				r, _, _, a := cut.At(x, y).RGBA()
				require.InDelta(t, 187.5, float64(r>>8), 1, "at %d,%d", x, y)
				require.EqualValues(t, 0xffff, a)
			}
		}
	}
}

func toRGBA(m image.Image) *image.NRGBA {
	out := image.NewNRGBA(m.Bounds())
	for y := range m.Bounds().Dy() {
		for x := range m.Bounds().Dx() {
			out.Set(x, y, m.At(x, y))
		}
	}
	return out
}

// numbered has a colour of its own at every pixel.
func numbered(w, h int) *image.NRGBA {
	m := image.NewNRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			m.SetNRGBA(x, y, color.NRGBA{uint8(10 + 7*x), uint8(20 + 9*y), uint8(5*x + 3*y), 255})
		}
	}
	return m
}

func TestSameSizeKeepsEveryPixel(t *testing.T) {
	m := numbered(20, 15)
	cut := source(t, m, facts.Upright).Cut(image.Rect(3, 2, 13, 12), fit.Size{W: 10, H: 10})
	for y := range 10 {
		for x := range 10 {
			assert.Equal(t, color.RGBAModel.Convert(m.At(x+3, y+2)), cut.At(x, y))
		}
	}
}

// The tag's definition (CIPA DC-008, memory), written out once more: where each
// upright pixel lies among the stored ones.
func TestEveryOrientationStandsUpright(t *testing.T) {
	const w, h = 12, 8
	m := numbered(w, h)
	at := map[facts.Orientation]func(x, y int) (int, int){
		1: func(x, y int) (int, int) { return x, y },
		2: func(x, y int) (int, int) { return w - 1 - x, y },
		3: func(x, y int) (int, int) { return w - 1 - x, h - 1 - y },
		4: func(x, y int) (int, int) { return x, h - 1 - y },
		5: func(x, y int) (int, int) { return y, x },
		6: func(x, y int) (int, int) { return y, h - 1 - x },
		7: func(x, y int) (int, int) { return w - 1 - y, h - 1 - x },
		8: func(x, y int) (int, int) { return w - 1 - y, x },
	}
	for o, stored := range at {
		s := source(t, m, o)
		size := s.Upright()
		cut := s.Cut(size.Rect(), size)
		for y := range size.H {
			for x := range size.W {
				sx, sy := stored(x, y)
				require.Equal(t, color.RGBAModel.Convert(m.At(sx, sy)), cut.At(x, y), "orientation %d at %d,%d", o, x, y)
			}
		}
	}
}

// White with alpha 0 beside red: the white must not bleed into the rim.
func TestTransparentPixelsDoNotBleed(t *testing.T) {
	m := image.NewNRGBA(image.Rect(0, 0, 40, 40))
	for y := range 40 {
		for x := range 40 {
			c := color.NRGBA{255, 255, 255, 0}
			if x < 21 {
				c = color.NRGBA{200, 0, 0, 255}
			}
			m.SetNRGBA(x, y, c)
		}
	}
	cut := source(t, m, facts.Upright).Cut(m.Bounds(), fit.Size{W: 10, H: 10}).(*image.NRGBA)
	rim := cut.NRGBAAt(5, 5)
	assert.Greater(t, rim.A, uint8(20))
	assert.Less(t, rim.A, uint8(235))
	assert.Equal(t, [3]uint8{200, 0, 0}, [3]uint8{rim.R, rim.G, rim.B})
}

func TestCutOffPhoto(t *testing.T) {
	data, err := os.ReadFile("../../demo/pictures/IMG_2101.JPG")
	require.NoError(t, err)
	for _, part := range []int{2, 4} {
		half := data[:len(data)/part]
		f, err := facts.Read(bytes.NewReader(half))
		require.NoError(t, err, "the head is still whole")
		_, err = raster.Decode(bytes.NewReader(half), f, limits)
		assert.ErrorIs(t, err, raster.ErrCutOff)
	}
}

// claim writes a PNG header for a size, and nothing else.
func claim(w, h uint32) []byte {
	var b bytes.Buffer
	b.WriteString("\x89PNG\r\n\x1a\n")
	ihdr := append([]byte("IHDR"), binary.BigEndian.AppendUint32(binary.BigEndian.AppendUint32(nil, w), h)...)
	ihdr = append(ihdr, 8, 2, 0, 0, 0)
	_ = binary.Write(&b, binary.BigEndian, uint32(13))
	b.Write(ihdr)
	_ = binary.Write(&b, binary.BigEndian, crc32.ChecksumIEEE(ihdr))
	return b.Bytes()
}

func TestAHeaderThatClaimsTooMuchAllocatesNothing(t *testing.T) {
	f, err := facts.Read(bytes.NewReader(claim(60_000, 60_000)))
	require.NoError(t, err)
	var before, after runtime.MemStats
	runtime.ReadMemStats(&before)
	_, err = raster.Decode(bytes.NewReader(claim(60_000, 60_000)), f, limits)
	runtime.ReadMemStats(&after)
	var limit *raster.LimitError
	require.ErrorAs(t, err, &limit)
	assert.Equal(t, "side", limit.What)
	assert.EqualValues(t, 60_000, limit.Value)
	assert.Less(t, after.TotalAlloc-before.TotalAlloc, uint64(1<<20))

	assert.ErrorAs(t, limits.Check(fit.Size{W: 20_000, H: 20_000}), &limit)
	assert.Equal(t, "pixels", limit.What)
}

func TestFormatFollowsThePixels(t *testing.T) {
	for name, want := range map[string]string{
		"DSC_0417.JPG":              "image/jpeg",
		"Logo NEW.png":              "image/png",
		"Screenshot 2026-11-02.png": "image/png",
		"cartoon final (2).png":     "image/png",
	} {
		s := open(t, name)
		e, err := raster.Encode(s.Cut(s.Upright().Rect(), fit.ByWidth(s.Upright(), 640)), raster.Options{})
		require.NoError(t, err)
		assert.Equal(t, want, e.MediaType, "%s: %s", name, e.Why)
		cfg, _, err := image.DecodeConfig(bytes.NewReader(e.Data))
		require.NoError(t, err)
		assert.Equal(t, 640, cfg.Width)
	}
}

func TestQualityIsTheLowestThatLooksTheSame(t *testing.T) {
	s := open(t, "DSC_0430.JPG")
	cut := s.Cut(s.Upright().Rect(), fit.Size{W: 640, H: 427})
	e, err := raster.Encode(cut, raster.Options{})
	require.NoError(t, err)
	assert.GreaterOrEqual(t, e.SSIM, raster.SameToTheEye)
	less, err := raster.Encode(cut, raster.Options{Quality: e.Quality - 1})
	require.NoError(t, err)
	assert.Less(t, less.SSIM, raster.SameToTheEye, "one step less is seen")
	back, err := jpeg.Decode(bytes.NewReader(e.Data))
	require.NoError(t, err)
	assert.InDelta(t, raster.SSIM(cut, back), e.SSIM, 0.015, "judged by a sample, near the whole")
}

func TestBudgetIsMetOrSaid(t *testing.T) {
	if testing.Short() {
		t.Skip("slow")
	}
	s := open(t, "DSC_0417.JPG")
	cut := s.Cut(s.Upright().Rect(), fit.Size{W: 640, H: 427})
	for _, format := range []raster.Format{raster.JPEG, raster.WebP} {
		free, err := raster.Encode(cut, raster.Options{Format: format})
		require.NoError(t, err)
		budget := int64(len(free.Data)) * 9 / 10
		tight, err := raster.Encode(cut, raster.Options{Format: format, MaxBytes: budget})
		require.NoError(t, err)
		assert.LessOrEqual(t, int64(len(tight.Data)), budget, "%s", format)
		assert.Empty(t, tight.OverBudget)
		more, err := raster.Encode(cut, raster.Options{Format: format, Quality: tight.Quality + 1})
		require.NoError(t, err)
		assert.Greater(t, int64(len(more.Data)), budget, "the highest that meets it")
	}
	never, err := raster.Encode(cut, raster.Options{MaxBytes: 1000})
	require.NoError(t, err)
	assert.Contains(t, never.OverBudget, "would meet the budget")
}

// ofT871 is a pixel of a JPEG file as ITU-T T.871 (7) defines it: full range,
// rounded to whole code values.
func ofT871(c color.YCbCr) color.RGBA {
	y, cb, cr := float64(c.Y), float64(c.Cb)-128, float64(c.Cr)-128
	code := func(v float64) uint8 { return uint8(min(max(math.Floor(v+0.5), 0), 255)) }
	return color.RGBA{code(y + 1.402*cr), code(y - 0.344136*cb - 0.714136*cr), code(y + 1.772*cb), 255}
}

// The fast path for photographs gives what the standard says.
func TestPhotographsAreReadExactly(t *testing.T) {
	noise := rand.New(rand.NewPCG(3, 1))
	for _, ratio := range []image.YCbCrSubsampleRatio{image.YCbCrSubsampleRatio420, image.YCbCrSubsampleRatio422, image.YCbCrSubsampleRatio444, image.YCbCrSubsampleRatio440} {
		m := image.NewYCbCr(image.Rect(0, 0, 39, 21), ratio)
		for _, plane := range [][]uint8{m.Y, m.Cb, m.Cr} {
			for i := range plane {
				plane[i] = uint8(noise.IntN(256))
			}
		}
		got := raster.FromImage(m).Cut(image.Rect(2, 1, 39, 20), fit.Size{W: 37, H: 19})
		for y := range 19 {
			for x := range 37 {
				require.Equal(t, ofT871(m.YCbCrAt(x+2, y+1)), got.At(x, y), "%v at %d,%d", ratio, x, y)
			}
		}
		// Folded in blocks, it is the same light as one by one.
		even := image.Rect(0, 0, 38, 20) // and in the quickest way of all
		for _, part := range []image.Rectangle{m.Rect, even} {
			small := raster.FromImage(m).Cut(part, fit.Size{W: 7, H: 4})
			plain := image.NewRGBA(m.Rect)
			for y := range 21 {
				for x := range 39 {
					plain.Set(x, y, ofT871(m.YCbCrAt(x, y)))
				}
			}
			want := raster.FromImage(plain).Cut(part, fit.Size{W: 7, H: 4})
			for y := range 4 {
				for x := range 7 {
					require.Equal(t, want.At(x, y), small.At(x, y), "%v %v", ratio, part)
				}
			}
		}
	}
}

// SSIM(x, x) = 1; and for two flat pictures it is worked by hand:
// (2·100·120 + C1) / (100² + 120² + C1) with C1 = (0.01·255)².
func TestSSIM(t *testing.T) {
	flat := func(v uint8) image.Image {
		m := image.NewGray(image.Rect(0, 0, 40, 30))
		for i := range m.Pix {
			m.Pix[i] = v
		}
		return m
	}
	assert.InDelta(t, 1, raster.SSIM(numbered(40, 30), numbered(40, 30)), 1e-6)
	c1 := 0.01 * 255 * 0.01 * 255
	assert.InDelta(t, (2*100*120+c1)/(100*100+120*120+c1), raster.SSIM(flat(100), flat(120)), 1e-4)
	assert.Less(t, raster.SSIM(numbered(40, 30), flat(100)), 0.5)
	assert.Zero(t, raster.SSIM(flat(1), numbered(8, 8)), "two sizes have nothing in common")
}

func open(t *testing.T, name string) *raster.Source {
	t.Helper()
	data, err := os.ReadFile("../../demo/pictures/" + name)
	require.NoError(t, err)
	f, err := facts.Read(bytes.NewReader(data))
	require.NoError(t, err)
	s, err := raster.Decode(bytes.NewReader(data), f, limits)
	require.NoError(t, err)
	return s
}

func FuzzDecode(f *testing.F) {
	m := numbered(9, 7)
	for _, encode := range []func(*bytes.Buffer) error{
		func(b *bytes.Buffer) error { return jpeg.Encode(b, m, nil) },
		func(b *bytes.Buffer) error { return png.Encode(b, m) },
		func(b *bytes.Buffer) error { return gif.Encode(b, m, nil) },
	} {
		var b bytes.Buffer
		if err := encode(&b); err != nil {
			f.Fatal(err)
		}
		f.Add(b.Bytes())
	}
	f.Fuzz(func(t *testing.T, data []byte) {
		got, err := facts.Read(bytes.NewReader(data))
		if err != nil {
			return
		}
		s, err := raster.Decode(bytes.NewReader(data), got, raster.Limits{Side: 2000, Pixels: 1_000_000})
		if err == nil {
			s.Cut(s.Upright().Rect(), fit.Size{W: 1, H: 1})
		}
	})
}

// A glance is quicker, not another picture.
func TestAGlanceLooksLikeTheCut(t *testing.T) {
	s := open(t, "DSC_0421.JPG") // stored on its side
	size := fit.Inside(s.Upright(), fit.Size{W: 400, H: 400})
	glance := s.Glance(size)
	assert.Equal(t, size, glance.Upright())
	cut := s.Cut(s.Upright().Rect(), size).(*image.RGBA)
	other := glance.Image().(*image.RGBA)
	sum := 0.0
	for i := range cut.Pix {
		d := float64(cut.Pix[i]) - float64(other.Pix[i])
		sum += d * d
	}
	assert.Less(t, math.Sqrt(sum/float64(len(cut.Pix))), 4.0, "root mean square difference in 8-bit steps")
}
