package raster_test

import (
	"bytes"
	"image"
	"image/color"
	"image/jpeg"
	"math"
	"math/rand/v2"
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/raster"
	"mivlet/core/veil"
)

// hard are invented pictures that a decoder which leaves out high frequencies may spoil. They are
// softened as a lens and a sensor do it: no camera draws a single pixel (common practice).
var hard = map[string]func(x, y int, r *rand.Rand) color.RGBA{
	"fine leaves before the sky": func(x, y int, r *rand.Rand) color.RGBA {
		if r.IntN(5) < 2 {
			return color.RGBA{24, 40, 16, 255}
		}
		return color.RGBA{190, 215, 250, 255}
	},
	"noise": func(x, y int, r *rand.Rand) color.RGBA {
		n := uint8(r.IntN(40))
		return color.RGBA{uint8(x/16%160) + n, uint8(y/16%160) + n, 90 + n, 255}
	},
	"stars": func(x, y int, r *rand.Rand) color.RGBA {
		if r.IntN(900) == 0 {
			return color.RGBA{255, 250, 230, 255}
		}
		return color.RGBA{8, 9, 20, 255}
	},
	"a zone plate": func(x, y int, _ *rand.Rand) color.RGBA {
		v := uint8(127.5 + 120*math.Cos(float64((x-3000)*(x-3000)+(y-350)*(y-350))/4200))
		return color.RGBA{v, v, v, 255}
	},
}

// jpegOf is a picture as a camera would write it, with its facts.
func jpegOf(t *testing.T, w, h int, at func(x, y int, r *rand.Rand) color.RGBA) ([]byte, facts.Facts) {
	t.Helper()
	m, r := image.NewRGBA(image.Rect(0, 0, w, h)), rand.New(rand.NewPCG(3, 5))
	for y := range h {
		for x := range w {
			m.SetRGBA(x, y, at(x, y, r))
		}
	}
	var b bytes.Buffer
	require.NoError(t, jpeg.Encode(&b, softened(m), &jpeg.Options{Quality: 92}))
	return b.Bytes(), factsOf(t, b.Bytes())
}

// softened is a picture of which each pixel takes in its neighbours: 1, 2, 1 along both sides.
func softened(m *image.RGBA) *image.RGBA {
	out := image.NewRGBA(m.Rect)
	w, h := m.Rect.Dx(), m.Rect.Dy()
	for y := range h {
		for x := range w {
			var sum [4]int
			for j := -1; j <= 1; j++ {
				for i := -1; i <= 1; i++ {
					from := m.Pix[m.PixOffset(min(max(x+i, 0), w-1), min(max(y+j, 0), h-1)):]
					for c := range sum {
						sum[c] += int(from[c]) * (2 - i*i) * (2 - j*j)
					}
				}
			}
			for c := range sum {
				out.Pix[out.PixOffset(x, y)+c] = uint8((sum[c] + 8) / 16)
			}
		}
	}
	return out
}

func factsOf(t *testing.T, data []byte) facts.Facts {
	t.Helper()
	f, err := facts.Read(bytes.NewReader(data))
	require.NoError(t, err)
	return f
}

// A cut of what was decoded at a part of its size looks like one of all pixels.
func TestFewerPixelsLookTheSame(t *testing.T) {
	files := map[string][]byte{}
	for name, at := range hard {
		files[name], _ = jpegOf(t, 6000, 700, at) // as wide as from a camera of 24 megapixels
	}
	photos := []string{"DSC_0430.JPG", "IMG_2140.JPG"}
	if testing.Short() {
		photos = nil
	}
	for _, name := range photos {
		data, err := os.ReadFile("../../demo/pictures/" + name)
		require.NoError(t, err)
		files[name] = data
	}
	for name, data := range files {
		known := factsOf(t, data)
		all, err := raster.Decode(bytes.NewReader(data), known, limits)
		require.NoError(t, err)
		for _, width := range []int{300, 640, 1280} {
			size := fit.ByWidth(all.Upright(), width)
			if raster.Scale(known, size) == 8 {
				continue // all of them
			}
			fewer, err := raster.DecodeFor(bytes.NewReader(data), known, limits, size)
			require.NoError(t, err)
			require.Equal(t, all.Upright(), fewer.Upright())
			require.Less(t, fewer.Bytes(), all.Bytes(), "%s at %d", name, width)
			want, got := all.Cut(all.Upright().Rect(), size), fewer.Cut(all.Upright().Rect(), size)
			ssim, blue := raster.SSIM(want, got), bluePSNR(want, got)
			alike, near := 0.99, 40.0
			if name == "a zone plate" && width == 640 {
				alike, near = 0.9, 37.5 // where nothing is left of it but grey, a little comes back
			}
			assert.GreaterOrEqual(t, ssim, alike, "%s at %d", name, width)
			assert.GreaterOrEqual(t, blue, near, "%s at %d", name, width)
		}
	}
}

func bluePSNR(a, b image.Image) float64 {
	p, q := a.(*image.RGBA), b.(*image.RGBA)
	sum := 0.0
	for i := 2; i < len(p.Pix); i += 4 {
		d := float64(p.Pix[i]) - float64(q.Pix[i])
		sum += d * d
	}
	return 10 * math.Log10(255*255/(sum/float64(len(p.Pix)/4)+1e-9))
}

// A part of a picture lies where it lies in all pixels, however it is turned.
func TestAPartLiesWhereItIs(t *testing.T) {
	data, known := jpegOf(t, 1600, 1200, func(x, y int, _ *rand.Rand) color.RGBA {
		if x/100%2 == y/100%2 {
			return color.RGBA{uint8(x / 8), 40, 200, 255}
		}
		return color.RGBA{230, uint8(y / 6), 60, 255}
	})
	for o := facts.Orientation(1); o <= 8; o++ {
		known.Orientation = o
		all, err := raster.Decode(bytes.NewReader(data), known, limits)
		require.NoError(t, err)
		part := image.Rect(333, 217, 911, 803)
		for _, turn := range []facts.Orientation{1, 6, 3} {
			for _, straighten := range []float64{0, 2.5} {
				w := raster.Transform{From: part, Size: fit.Size{W: 72, H: 73}, Turn: turn, Straighten: straighten}
				if turn == 6 {
					w.Size = fit.Size{W: 73, H: 72}
				}
				fewer, err := raster.DecodeFor(bytes.NewReader(data), known, limits, w.Needs(all.Upright()))
				require.NoError(t, err)
				require.Less(t, fewer.Bytes(), all.Bytes())
				assert.GreaterOrEqual(t, raster.SSIM(all.Do(w), fewer.Do(w)), 0.99, "orientation %d, turned %d, by %v°", o, turn, straighten)
			}
		}
	}
}

// What is hidden asks for all pixels, and a source with fewer does not draw it.
func TestVeilsWantAllPixels(t *testing.T) {
	data, known := jpegOf(t, 800, 600, hard["noise"])
	w := raster.Transform{From: image.Rect(0, 0, 800, 600), Size: fit.Size{W: 100, H: 75}, Turn: facts.Upright}
	fewer, err := raster.DecodeFor(bytes.NewReader(data), known, limits, w.Needs(known.Upright()))
	require.NoError(t, err)
	assert.Equal(t, 2, raster.Scale(known, w.Needs(known.Upright())))
	assert.Equal(t, 8, raster.Scale(known, fit.Size{W: 400, H: 300}))
	w.Veils = []veil.Veil{{Shape: veil.Rect, Bounds: image.Rect(100, 100, 200, 200), Style: veil.Cover, Reason: veil.Face}}
	assert.Zero(t, w.Needs(known.Upright()), "all of them")
	assert.Equal(t, 8, raster.Scale(known, w.Needs(known.Upright())))
	assert.Panics(t, func() { fewer.Do(w) })
}

// At every scale the copy for the screen tells nothing of what a veil on it hides: two photos that
// differ only there look the same.
func TestNoScaleTellsWhatIsHidden(t *testing.T) {
	whole := fit.Size{W: 800, H: 600}
	v := veil.Veil{Shape: veil.Rect, Bounds: image.Rect(333, 222, 467, 301), Style: veil.Cover, Reason: veil.Number}
	photos := make([][]byte, 2)
	var known facts.Facts
	for i := range photos {
		photos[i], known = jpegOf(t, whole.W, whole.H, func(x, y int, r *rand.Rand) color.RGBA {
			c := hard["noise"](x, y, r)
			if i == 1 && image.Pt(x, y).In(v.Bounds) {
				c = color.RGBA{uint8(255 * (x % 2)), uint8(255 * (y % 2)), 7, 255}
			}
			return c
		})
	}
	for _, n := range []int{1, 2, 4, 8} {
		size := fit.Inside(whole, fit.Size{W: whole.W * n / 16, H: whole.H})
		var looks, bare []image.Image
		for _, data := range photos {
			src, err := raster.DecodeFor(bytes.NewReader(data), known, limits, size)
			require.NoError(t, err)
			written, err := raster.EncodeCopy(src.Glance(size).Image(), known)
			require.NoError(t, err)
			kept, err := raster.Decode(bytes.NewReader(written), factsOf(t, written), limits)
			require.NoError(t, err)
			kept = kept.CopyOf(whole, "image/jpeg")
			w := raster.Transform{From: size.Rect(), Size: fit.Inside(size, fit.Size{W: 70, H: 70}), Turn: facts.Upright}
			bare = append(bare, kept.Do(w))
			w.Veils = []veil.Veil{v.Scaled(fit.ScaleOf(whole, size))}
			looks = append(looks, kept.Do(w))
		}
		assert.Equal(t, looks[0].(*image.RGBA).Pix, looks[1].(*image.RGBA).Pix, "%d eighths", n)
		assert.NotEqual(t, bare[0].(*image.RGBA).Pix, bare[1].(*image.RGBA).Pix, "%d eighths: without the veil they differ", n)
	}
}
