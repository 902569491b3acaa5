package light

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
)

// Pixels are those that Code gives value by value, for every step of light, beyond both ends, and for lines
// of any length; nothing beyond the line is written.
func TestPixelsAreCodes(t *testing.T) {
	check := func(line []float32) {
		t.Helper()
		pix := make([]uint8, 4*(len(line)/3)+8)
		for i := range pix {
			pix[i] = 77
		}
		Pixels(pix, line)
		for i, l := range line {
			if want := Code(l); pix[i/3*4+i%3] != want {
				t.Fatalf("light %v of value %d of %d is %d, and not %d", l, i, len(line), pix[i/3*4+i%3], want)
			}
		}
		for x := range len(line) / 3 {
			assert.Equal(t, uint8(255), pix[4*x+3])
		}
		for _, v := range pix[4*(len(line)/3):] {
			assert.Equal(t, uint8(77), v, "beyond a line of %d", len(line))
		}
	}
	var all []float32
	for i := -70000; i < 140000; i++ {
		all = append(all, float32(i)/lightest, (float32(i)+0.499)/lightest, (float32(i)+0.501)/lightest)
	}
	check(all)
	inf := float32(math.Inf(1))
	check([]float32{inf, -inf, float32(math.NaN()), 1e30, -1e30, 3e4, 1, 0, -0.5, 32767, 32768, 40000, inf, inf, inf, 0, 0, 0, 1, 1, 1, 2, 2, 2})
	for n := range 30 {
		check(all[len(all)/3:][:3*n])
	}
}
