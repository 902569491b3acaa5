package jpegenc

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What the processor works out eight at a time is what it works out one by one, to the bit.
func TestWideIsPlain(t *testing.T) {
	if !wide {
		t.Skip("this processor has no wide registers: plain is all there is")
	}
	r := rand.New(rand.NewPCG(1, 2))
	somePixels := func(n int) []byte {
		row := make([]byte, 4*n)
		for i := range row {
			row[i] = byte(r.Uint32())
			if r.IntN(4) == 0 {
				row[i] = byte(r.IntN(2)) * 255
			}
		}
		return row
	}
	of := func(n int) []float32 { return make([]float32, n) }
	for _, n := range []int{1, 2, 7, 8, 9, 15, 16, 17, 641, 1280} {
		row, below := somePixels(n), somePixels(n)
		luma, blue, red := of(n), of(n), of(n)
		singles(row, luma, blue, red)
		var each [3][]float32
		for x := range n { // a pixel by itself is worked out plainly
			one := [3][]float32{of(1), of(1), of(1)}
			singles(row[4*x:4*x+4], one[0], one[1], one[2])
			for i := range each {
				each[i] = append(each[i], one[i]...)
			}
		}
		assert.Equal(t, each, [3][]float32{luma, blue, red}, "%d pixels", n)

		half := (n + 1) / 2
		upper, lower, blue, red := of(n), of(n), of(half), of(half)
		quads(row, below, upper, lower, blue, red)
		var four [4][]float32
		for x := 0; x < n; x += 2 {
			few := min(2, n-x)
			some := [4][]float32{of(few), of(few), of(1), of(1)}
			quads(row[4*x:4*(x+few)], below[4*x:4*(x+few)], some[0], some[1], some[2], some[3])
			for i := range four {
				four[i] = append(four[i], some[i]...)
			}
		}
		assert.Equal(t, four, [4][]float32{upper, lower, blue, red}, "%d pixels in two rows", n)
	}

	steps := map[int16]bool{}
	for _, step := range []int{8, 24, 1280} {
		from := of(7*step + 8)
		for range 500 {
			for i := range from {
				from[i] = r.Float32()*256 - 128
				if r.IntN(3) == 0 {
					from[i] = float32(r.IntN(2)*255 - 128)
				}
			}
			var got, want [64]float32
			forward(&got, from, step)
			forwardPlain(&want, from, step)
			require.Equal(t, want, got, "rows %d apart", step)

			divisors := new([64]float32)
			for i := range divisors {
				divisors[i] = 1 / float32(1+r.IntN(60)) / 8
			}
			var wide, plain block
			wide.quantise(&got, divisors)
			plain.quantisePlain(&got, divisors)
			require.Equal(t, plain, wide)
			for _, v := range wide.at[1:] {
				steps[v] = true
			}
		}
	}
	assert.Greater(t, len(steps), 300)

	for range 2000 {
		var got, want [64]float32
		for i := range got {
			if r.IntN(3) == 0 {
				got[i] = (r.Float32() - 0.5) * float32(r.IntN(90))
			}
		}
		got[0] = r.Float32()*300 - 150
		if r.IntN(4) == 0 { // halves, and what is next to them
			got = [64]float32{float32(r.IntN(256)-128) + 0.5}
			if r.IntN(2) == 0 {
				got[0] = math.Nextafter32(got[0], -200)
			}
		}
		want = got
		values(&got)
		valuesPlain(&want)
		require.Equal(t, want, got)
	}

	// Steps are cut off at the most that a file can hold, but for the first; none is nothing that is more.
	for _, v := range []float32{0, 0.49, 0.5, 0.51, 1, 1022.6, 1023.4, 1024, 1500, 2047, 2048} {
		var from, ones [64]float32
		for i := range from {
			from[i], ones[i] = v, 1
			if i%2 == 1 {
				from[i] = -v
			}
		}
		var wide, plain block
		wide.quantise(&from, &ones)
		plain.quantisePlain(&from, &ones)
		assert.Equal(t, plain, wide, "%v", v)
	}
}
