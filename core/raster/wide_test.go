package raster

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
)

// What the processor works out eight at a time is what it works out one by one, to the bit.
func TestWideIsPlain(t *testing.T) {
	if !wide {
		t.Skip("this processor has no wide registers: plain is all there is")
	}
	r := rand.New(rand.NewPCG(1, 2))
	random := func(n int) []float32 {
		v := make([]float32, n+1)
		for i := range v {
			v[i] = r.Float32()*3 - 1
		}
		return v[:n]
	}
	for _, c := range []struct{ from, to int }{{1, 1}, {2, 1}, {9, 9}, {37, 11}, {640, 300}, {641, 427}, {1023, 1000}} {
		cols := tapsFor(side{0, float64(c.from), c.from, 1}, c.to, lobes)
		for _, ch := range []int{3, 4} {
			src := random(c.from * ch)
			got, want := make([]float32, c.to*ch), make([]float32, c.to*ch)
			narrow(got, src, cols, ch)
			if ch == 3 {
				narrowOpaque(want, src, cols)
			} else {
				narrowAlpha(want, src, cols)
			}
			assert.Equal(t, want, got, "%d to %d, %d channels", c.from, c.to, ch)
		}
	}
	for _, n := range []int{1, 7, 8, 9, 100} {
		got, a, b := random(n), random(n), random(n)
		want := append([]float32(nil), got...)
		addTwo(got, a, b, 0.3, -0.7)
		for i := range want {
			want[i] += 0.3*a[i] + -0.7*b[i]
		}
		assert.Equal(t, want, got, "%d values", n)

		got = random(n)
		want = append([]float32(nil), got...)
		leastOf(got, a, b)
		for i := range want {
			want[i] = min(want[i], a[i], b[i])
		}
		assert.Equal(t, want, got, "the least of %d values", n)
		line := random(n)
		want = append([]float32(nil), line...)
		atLeast(line, got)
		for i := range want {
			want[i] = max(want[i], got[i])
		}
		assert.Equal(t, want, line, "at least %d values", n)
	}
}
