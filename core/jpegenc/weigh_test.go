package jpegenc

import (
	"math"
	"math/bits"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/t81"
)

// priceOf is what a block costs: the squares of what is lost, in steps, and its bits.
func priceOf(b *block, real *[64]float64, cost *[256]float32) float64 {
	lost, bought, run := 0.0, 0.0, 0
	for k := 1; k < 64; k++ {
		v := int(b.at[k])
		lost += (real[k] - float64(v)) * (real[k] - float64(v))
		if v == 0 {
			run++
			continue
		}
		for ; run > 15; run -= 16 {
			bought += float64(cost[sixteenZeros])
		}
		bought += float64(cost[run<<4|bits.Len(uint(max(v, -v)))])
		run = 0
	}
	if run > 0 {
		bought += float64(cost[endOfBlock])
	}
	return lost + dear*bought
}

// Of all ways to write a block with each coefficient as it is, one step lower, or away, none costs
// less than the one that is taken: they are all gone through.
func TestTheCheapestBlockIsTaken(t *testing.T) {
	r := rand.New(rand.NewPCG(8, 8))
	var ones [64]float32
	for k := range ones {
		ones[k] = 1
	}
	lighter := 0
	var w weigher
	for range 400 {
		var from [64]float32
		var real [64]float64
		var spots []int
		for range 1 + r.IntN(7) {
			k := 1 + r.IntN(63)
			real[k] = r.NormFloat64() * 2.5
			from[t81.Zigzag[k]] = float32(real[k])
			spots = append(spots, k)
		}
		cost := usualBits[r.IntN(2)]
		var plain, got block
		plain.quantise(&from, &ones)
		w.weigh(&got, &from, &ones, cost)
		require.LessOrEqual(t, bits.OnesCount64(got.mask), bits.OnesCount64(plain.mask))
		if bits.OnesCount64(got.mask) < bits.OnesCount64(plain.mask) {
			lighter++
		}
		best := math.Inf(1)
		var try func(i int, b block)
		try = func(i int, b block) {
			if i == len(spots) {
				best = min(best, priceOf(&b, &real, cost))
				return
			}
			k := spots[i]
			for _, v := range []int16{plain.at[k], toward(plain.at[k]), 0} {
				b.at[k] = v
				try(i+1, b)
			}
		}
		try(0, plain)
		require.InDelta(t, best, priceOf(&got, &real, cost), 1e-3)
		for k, v := range got.at {
			require.Equal(t, v != 0, got.mask>>k&1 == 1)
		}
	}
	assert.Greater(t, lighter, 50)
}

// toward is one step nearer to nothing.
func toward(v int16) int16 {
	switch {
	case v > 0:
		return v - 1
	case v < 0:
		return v + 1
	}
	return 0
}
