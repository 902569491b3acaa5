package jpegenc

import (
	"math/bits"

	"mivlet/core/t81"
)

// dear is how much a bit is worth, in squares of a step: what a coefficient is off by less is not
// bought. Found by trying on the demo's photos: at the same likeness, files are lightest with it.
const dear = 0.045

// place is a coefficient that is written: the best way to come there.
type place struct {
	k, before int
	steps     int16
	lost      float32 // if all up to this one were nothing; those that are anyway are left out
	sum       float32
}

// weigher weighs one block after the other.
type weigher struct{ places [128]place }

// weigh counts the coefficients in steps, as quantise does, but takes those down or away whose bits
// cost more than they are worth: of all ways to write the block the one with the least sum of
// squares of what is lost and dear times the bits. It is found as the shortest path through the
// coefficients that are something (Ramchandran and Vetterli, "Rate-distortion optimal fast
// thresholding with complete JPEG/MPEG decoder compatibility", 1994).
func (w *weigher) weigh(b *block, from *[64]float32, divisors *[64]float32, cost *[256]float32) {
	b.quantise(from, divisors)
	something := b.mask &^ 1
	if something == 0 {
		return
	}
	places := &w.places
	// The first place is the beginning. A coefficient of two steps or more stays: what is lost
	// without it, 2 at least, is more than all the bits that it and the next one take are worth.
	places[0] = place{}
	n, behind := 1, 0
	lost := float32(0)
	for mask := something; mask != 0; mask &= mask - 1 {
		k := bits.TrailingZeros64(mask) & 63
		v := from[t81.Zigzag[k]&63] * divisors[k]
		lost += v * v
	}
	all := lost
	best, last := all+dear*cost[endOfBlock], 0
	lost = 0
	for mask := something; mask != 0; mask &= mask - 1 {
		k := bits.TrailingZeros64(mask)
		most := b.at[k&63]
		most = max(most, -most)
		real := from[t81.Zigzag[k&63]&63] * divisors[k&63]
		real = max(real, -real)
		here, before := n, lost
		lost += real * real
		if most > 1 {
			best = 1e30
		}
		for _, steps := range [2]int16{most, most - 1} {
			if steps < most && most&steps != 0 || steps == 0 {
				continue // it would take as many bits
			}
			off := real - float32(steps)
			size := bits.Len16(uint16(steps))
			at := place{k: k, steps: steps, lost: lost, sum: 1e30}
			for i := behind; i < n && places[i].k < k; i++ {
				p := &places[i]
				run := k - p.k - 1
				c := p.sum + before - p.lost + dear*(cost[(run&15)<<4|size]+float32(run>>4)*cost[sixteenZeros])
				if c < at.sum {
					at.sum, at.before = c, i
				}
			}
			at.sum += off * off
			end := at.sum + all - lost
			if k < 63 {
				end += dear * cost[endOfBlock]
			}
			if end < best {
				best, last = end, n
			}
			places[n&127] = at
			n++
		}
		if most > 1 {
			behind = here
		}
	}
	b.mask &= 1
	was := b.at
	clear(b.at[1:])
	for i := last; i > 0; i = places[i].before {
		k, v := places[i].k, places[i].steps
		if was[k] < 0 {
			v = -v
		}
		b.at[k] = v
		b.mask |= 1 << k
	}
}
