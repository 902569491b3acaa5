package raster

import (
	"image"
	"image/color"
	"math/rand/v2"
	"runtime"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What is passed over as alike would not have counted: pixels at the ends of the range that is allowed,
// in all ways, and others within it.
func TestWhatIsAlikeDoesNotStandOut(t *testing.T) {
	t.Parallel()
	r := rand.New(rand.NewPCG(2, 22))
	passed := 0
	check := func(at func(i, c int) byte) {
		m := image.NewRGBA(image.Rect(0, 0, 2, 2))
		for i := range 4 {
			m.SetRGBA(i%2, i/2, color.RGBA{at(i, 0), at(i, 1), at(i, 2), 255})
		}
		if !alike((*[8]byte)(m.Pix), (*[8]byte)(m.Pix[m.Stride:])) {
			return
		}
		passed++
		var sums, squares [3]float64
		for i := range 4 {
			c := m.RGBAAt(i%2, i/2)
			y, cb, cr := color.RGBToYCbCr(c.R, c.G, c.B) // by the standard library
			for j, v := range [3]uint8{y, cb, cr} {
				sums[j] += float64(v)
				squares[j] += float64(v) * float64(v)
			}
		}
		chroma := squares[1] - sums[1]*sums[1]/4 + squares[2] - sums[2]*sums[2]/4
		require.LessOrEqual(t, chroma, float64(squaresAlone))
	}
	for ends := range 1 << 12 {
		base := [3]byte{byte(r.IntN(256 - aloneFrom)), byte(r.IntN(256 - aloneFrom)), byte(r.IntN(256 - aloneFrom))}
		check(func(i, c int) byte { return base[c] + byte(aloneFrom*(ends>>(3*i+c)&1)) })
	}
	for range 20_000 {
		base := byte(r.IntN(256 - aloneFrom - 4))
		check(func(int, int) byte { return base + byte(r.IntN(aloneFrom+4)) })
	}
	assert.Greater(t, passed, 10_000)
}

// Areas are counted alike on any number of cores: the letters lie in as many as were written.
func TestAreasByColour(t *testing.T) {
	for _, high := range []int{16, 17, 100, 203} {
		m := image.NewRGBA(image.Rect(0, 0, 320, high))
		for i := range m.Pix {
			m.Pix[i] = 255
		}
		for y := range high { // red and green of one luma, in turns, in every third area along
			for x := range 320 {
				c := color.RGBA{150, 110, 110, 255}
				if x/32%3 == 0 && (x+y)%2 == 0 {
					c = color.RGBA{40, 140, 200, 255}
				} else if x/32%3 == 0 {
					c = color.RGBA{240, 90, 40, 255}
				}
				m.SetRGBA(x, y, c)
			}
		}
		full := 4 * (high / 16) // 0, 3, 6 and 9 of ten along
		if high%16 >= 2*(manyAlone/areaWide+1) {
			full += 4
		}
		for _, cores := range []int{1, 2, 5} {
			before := runtime.GOMAXPROCS(cores)
			assert.Equal(t, full, areasByColour(m), "%d rows on %d cores", high, cores)
			runtime.GOMAXPROCS(before)
		}
	}
}
