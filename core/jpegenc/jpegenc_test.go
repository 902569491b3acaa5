package jpegenc

import (
	"bytes"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"math"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// scene has skies, edges, fine structure and some noise, as photos have.
func scene(w, h int, seed uint64) *image.RGBA {
	r := rand.New(rand.NewPCG(seed, 1))
	m := image.NewRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			sky := 120 + 90*math.Sin(float64(x)/37)*math.Cos(float64(y)/53)
			v := sky
			if (x-w/3)*(x-w/3)+(y-h/2)*(y-h/2) < w*h/16 {
				v = 60 + 40*math.Sin(float64(x*y)/400)
			}
			n := r.Float64()*12 - 6
			at := func(f float64) uint8 { return uint8(min(max(f+n, 0), 255)) }
			m.SetRGBA(x, y, color.RGBA{R: at(v), G: at(v*0.8 + 20), B: at(255 - v), A: 255})
		}
	}
	return m
}

func decoded(t *testing.T, data []byte) image.Image {
	t.Helper()
	m, err := jpeg.Decode(bytes.NewReader(data))
	require.NoError(t, err)
	return m
}

// noise is the mean square error of luma and of both chroma.
func noise(a, b image.Image) (luma, chroma float64) {
	size := a.Bounds()
	for y := range size.Dy() {
		for x := range size.Dx() {
			r, g, bl, _ := a.At(x, y).RGBA()
			y0, cb0, cr0 := color.RGBToYCbCr(uint8(r>>8), uint8(g>>8), uint8(bl>>8))
			r, g, bl, _ = b.At(x, y).RGBA()
			y1, cb1, cr1 := color.RGBToYCbCr(uint8(r>>8), uint8(g>>8), uint8(bl>>8))
			square := func(p, q uint8) float64 { d := float64(p) - float64(q); return d * d }
			luma += square(y0, y1)
			chroma += (square(cb0, cb1) + square(cr0, cr1)) / 2
		}
	}
	n := float64(size.Dx() * size.Dy())
	return luma / n, chroma / n
}

// Beside the standard library's encoder, at the same quality: as near to the picture, and
// lighter, as its codes are made for it.
func TestAsNearAndLighterThanTheStandardLibrary(t *testing.T) {
	m := scene(501, 333, 1)
	for _, quality := range []int{1, 10, 40, 62, 75, 82, 95, 100} {
		ours, err := Encode(m, quality)
		require.NoError(t, err)
		var theirs bytes.Buffer
		require.NoError(t, jpeg.Encode(&theirs, m, &jpeg.Options{Quality: quality}))
		luma, chroma := noise(m, decoded(t, ours))
		lumaOfTheirs, chromaOfTheirs := noise(m, decoded(t, theirs.Bytes()))
		// Theirs rounds luma to whole values before, as this measure does, once more than ours.
		assert.LessOrEqual(t, luma, lumaOfTheirs*1.01+0.15, "quality %d", quality)
		assert.LessOrEqual(t, chroma, chromaOfTheirs*1.02+0.1, "quality %d", quality)
		assert.Less(t, len(ours), theirs.Len()*99/100, "quality %d", quality)
	}
}

// Sizes that fill no block, kinds of picture, and pictures that are part of larger ones.
func TestEverySizeAndKind(t *testing.T) {
	whole := scene(80, 80, 2)
	for w := 1; w <= 35; w += 3 {
		for _, h := range []int{1, 2, 7, 8, 9, 16, 17, 33} {
			from := image.Rect(5, 3, 5+w, 3+h)
			grey := image.NewGray(image.Rect(0, 0, w, h))
			rgba := image.NewRGBA(image.Rect(0, 0, w, h))
			nrgba := image.NewNRGBA(image.Rect(0, 0, w, h))
			deep := image.NewRGBA64(image.Rect(0, 0, w, h))
			for y := range h {
				for x := range w {
					c := whole.RGBAAt(5+x, 3+y)
					grey.Set(x, y, c)
					rgba.Set(x, y, c)
					nrgba.Set(x, y, c)
					deep.Set(x, y, c)
				}
			}
			first, err := Encode(rgba, 90)
			require.NoError(t, err)
			for _, m := range []image.Image{whole.SubImage(from), nrgba, deep} {
				again, err := Encode(m, 90)
				require.NoError(t, err)
				require.Equal(t, first, again, "%T %d × %d", m, w, h)
			}
			luma, _ := noise(rgba, decoded(t, first))
			assert.Less(t, luma, 12.0, "%d × %d", w, h)
			data, err := Encode(grey, 90)
			require.NoError(t, err)
			back := decoded(t, data)
			require.IsType(t, grey, back)
			require.Equal(t, grey.Bounds(), back.Bounds())
			luma, chroma := noise(grey, back)
			assert.Less(t, luma, 12.0, "grey %d × %d", w, h)
			assert.Zero(t, chroma)
		}
	}
}

// Letters that their colour alone sets off (red on a green as light) keep it where each pixel has
// its own, and lose it where four share one: both the standard library and libjpeg-turbo read so.
func TestEachPixelKeepsItsColour(t *testing.T) {
	m := image.NewRGBA(image.Rect(0, 0, 61, 43))
	for y := range 43 {
		for x := range 61 {
			c := color.RGBA{R: 60, G: 140, B: 60, A: 255} // luma 107
			if x%2 == 0 {
				c = color.RGBA{R: 205, G: 66, B: 61, A: 255} // luma 107
			}
			m.SetRGBA(x, y, c)
		}
	}
	both := map[Colour]float64{}
	for _, c := range []Colour{FourToOne, OneToOne} {
		data, err := EncodeSmall(m, 95, c)
		require.NoError(t, err)
		_, both[c] = noise(m, decoded(t, data))
		at := filepath.Join(t.TempDir(), "a.jpg")
		require.NoError(t, os.WriteFile(at, data, 0o600))
		theirs, err := exec.Command("djpeg", "-strict", "-nosmooth", "-ppm", at).Output()
		require.NoError(t, err)
		ours := decoded(t, data)
		head := len(theirs) - 3*61*43
		for i := range 61 * 43 {
			r, g, b, _ := ours.At(i%61, i/61).RGBA()
			for j, v := range []uint32{r, g, b} {
				require.InDelta(t, v>>8, theirs[head+3*i+j], 4, "colour %v, pixel %d", c, i)
			}
		}
	}
	assert.Less(t, both[OneToOne], 4.0)
	assert.Greater(t, both[FourToOne], 500.0)
}

// Chequers of black and white in single pixels, where coefficients are as large as can be.
func TestTheHardestPictures(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 3))
	chequers, random := image.NewRGBA(image.Rect(0, 0, 64, 64)), image.NewRGBA(image.Rect(0, 0, 64, 64))
	for y := range 64 {
		for x := range 64 {
			v := uint8((x + y) % 2 * 255)
			chequers.SetRGBA(x, y, color.RGBA{R: v, G: v, B: v, A: 255})
			random.SetRGBA(x, y, color.RGBA{R: uint8(r.UintN(2) * 255), G: uint8(r.UintN(2) * 255), B: uint8(r.UintN(2) * 255), A: 255})
		}
	}
	for name, m := range map[string]image.Image{"chequers": chequers, "random": random} {
		for _, quality := range []int{1, 50, 100} {
			data, err := Encode(m, quality)
			require.NoError(t, err)
			back := decoded(t, data)
			if quality == 100 {
				luma, _ := noise(m, back)
				// What chroma loses by being averaged clamps colours, and that is seen in luma.
				assert.Less(t, luma, map[string]float64{"chequers": 2, "random": 1500}[name], name)
			}
		}
	}
}

// Another decoder reads the same pixels, within what its own transform rounds to.
func TestImageMagickReadsIt(t *testing.T) {
	m := scene(203, 155, 4)
	grey := image.NewGray(m.Bounds())
	for i := range grey.Pix {
		grey.Pix[i] = m.Pix[4*i]
	}
	for name, m := range map[string]image.Image{"colour": m, "grey": grey} {
		data, err := Encode(m, 85)
		require.NoError(t, err)
		dir := t.TempDir()
		require.NoError(t, os.WriteFile(filepath.Join(dir, "a.jpg"), data, 0o600))
		out, err := exec.Command("/usr/bin/convert", filepath.Join(dir, "a.jpg"), filepath.Join(dir, "a.png")).CombinedOutput()
		require.NoError(t, err, string(out))
		assert.Empty(t, string(out), "warnings")
		f, err := os.Open(filepath.Join(dir, "a.png"))
		require.NoError(t, err)
		read, err := png.Decode(f)
		require.NoError(t, err)
		require.NoError(t, f.Close())
		luma, chroma := noise(decoded(t, data), read)
		assert.Less(t, luma, 0.5, name)
		assert.Less(t, chroma, 12.0, name) // it smooths chroma between pixels, ours is repeated
	}
}

// What a trial tells is what the file holds.
func TestATrialIsTheFile(t *testing.T) {
	m := scene(77, 61, 5)
	grey := image.NewGray(m.Bounds())
	for i := range grey.Pix {
		grey.Pix[i] = m.Pix[4*i+1]
	}
	trial := NewTrial(grey)
	for _, quality := range []int{1, 25, 40, 62, 80, 95, 100} {
		data, err := EncodeSmall(grey, quality, FourToOne)
		require.NoError(t, err)
		back, told := decoded(t, data).(*image.Gray), trial.At(quality)
		far := 0
		for y := range 61 {
			for x := range 77 {
				d := told[y*77+x] + 128 - float32(back.GrayAt(x, y).Y)
				require.LessOrEqual(t, max(d, -d), float32(1), "quality %d at %d,%d", quality, x, y)
				if d != 0 {
					far++
				}
			}
		}
		assert.Less(t, far, 77*61/20, "quality %d: its transform rounds otherwise now and then", quality)
	}
}

// Lengths are those of the best code (the sum of all merges, Huffman 1952), never more than 16,
// and leave the code that is all ones to nobody.
func TestCodesAreTheBest(t *testing.T) {
	r := rand.New(rand.NewPCG(6, 6))
	free := 0
	for round := range 200 {
		var often counts
		n := 1 + r.IntN(200)
		for range n {
			often[r.IntN(256)] += 1 + r.IntN(1+round*round)
		}
		length := lengths(&often)
		cost, room := 0, 1.0
		var weights []int
		for s, l := range length {
			if often[s] == 0 {
				require.Zero(t, l)
				continue
			}
			require.True(t, l >= 1 && l <= longest)
			cost += often[s] * int(l)
			room -= math.Pow(2, -float64(l))
			weights = append(weights, often[s])
		}
		require.Greater(t, room, 0.0, "all ones is free")
		weights = append(weights, 1)
		best := 0
		for len(weights) > 1 { // merge the two smallest
			for i := range 2 {
				for j := i + 1; j < len(weights); j++ {
					if weights[j] < weights[i] {
						weights[i], weights[j] = weights[j], weights[i]
					}
				}
			}
			weights[1] += weights[0]
			weights = weights[1:]
			best += weights[0]
		}
		// The code for nobody, one of the longest, costs its own length in that sum.
		if deepest := int(slices.Max(length[:])); deepest < longest { // nothing had to be brought up
			require.Equal(t, best-deepest, cost)
			free++
		}
	}
	assert.Greater(t, free, 100)
}

// Weights that grow as Fibonacci's numbers want codes of any length; 16 is the most.
func TestCodesAreNeverTooLong(t *testing.T) {
	var often counts
	a, b := 1, 1
	for s := range 40 {
		often[s] = a
		a, b = b, a+b
	}
	c := codesFor(&often)
	room := 0.0
	for s := range 40 {
		require.True(t, c.bits[s] >= 1 && c.bits[s] <= longest)
		room += math.Pow(2, -float64(c.bits[s]))
		require.NotEqual(t, uint16(1<<c.bits[s]-1), c.code[s], "all ones")
	}
	assert.Less(t, room, 1.0)
}

func TestWhatIsNoPicture(t *testing.T) {
	for _, size := range []image.Rectangle{{}, image.Rect(0, 0, 65536, 1), image.Rect(0, 0, 1, 65536)} {
		_, err := Encode(image.NewRGBA(size), 80)
		assert.ErrorContains(t, err, "invalid size "+strconv.Itoa(size.Dx()))
	}
	wide := image.NewRGBA(image.Rect(0, 0, 65535, 1))
	data, err := Encode(wide, 200)
	require.NoError(t, err)
	assert.Equal(t, wide.Bounds(), decoded(t, data).Bounds())
}
