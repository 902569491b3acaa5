package face

import (
	"image"
	"math/rand/v2"
	"testing"

	"mivlet/internal/pinned"
)

// What looks agree on, and what is made of it, stays as it was, for boxes by chance near the
// limits of what counts.
func TestLooksByChance(t *testing.T) {
	t.Parallel()
	told := func(all []found) (out [][6]float64) {
		for _, f := range all {
			out = append(out, [6]float64{f.x0, f.y0, f.x1, f.y1, f.score, float64(f.look)})
		}
		return out
	}
	one := func(n *rand.Rand) found {
		x, y, side := 40*float64(n.IntN(4))+9*n.Float64(), 40*float64(n.IntN(3))+9*n.Float64(), 20+30*n.Float64()
		return found{x, y, x + side, y + side*(0.8+0.4*n.Float64()), n.Float64() * 1.05, n.IntN(6)}
	}
	several := func(n *rand.Rand) (all []found) {
		for range n.IntN(14) {
			all = append(all, one(n))
		}
		return all
	}
	pinned.Hold(t, "agreed", 260, func(seed uint64) any {
		n := rand.New(rand.NewPCG(seed, 31))
		all, bounds := several(n), image.Rect(n.IntN(9), n.IntN(9), 90+n.IntN(90), 80+n.IntN(80))
		sure := agreed(append([]found(nil), all...))
		faces := asFaces(append([]found(nil), all...), bounds)
		more := asFaces(several(n), bounds)
		x, y, ok := Middle(faces, bounds.Size())
		together := Together(faces, more)
		var rounds []image.Rectangle
		var names []string
		for _, f := range together {
			rounds, names = append(rounds, f.Round()), append(names, f.ID())
		}
		moved := one(n).moved(1+n.Float64(), image.Pt(n.IntN(90), n.IntN(90)))
		return []any{told(sure), told(surest(append([]found(nil), all...), same)), faces, together, rounds, names, x, y, ok, told([]found{moved}), moved.middle(), shared(one(n), one(n)), inCommon(one(n), one(n))}
	})
	pinned.Hold(t, "cells", 120, func(seed uint64) any {
		n := rand.New(rand.NewPCG(seed, 32))
		a := newPlane(2+n.IntN(5), 2+n.IntN(5), 5*len(anchors), 0)
		for i := range a.v {
			a.v[i] = float32(n.NormFloat64() * 2)
		}
		return []any{told(boxes(a, n.Float64())), toCells(n.IntN(500))}
	})
	pinned.Hold(t, "sizes", 60, func(seed uint64) any {
		n := rand.New(rand.NewPCG(seed, 33))
		m := image.NewRGBA(image.Rect(0, 0, 1+n.IntN(30), 1+n.IntN(30)))
		for i := range m.Pix {
			m.Pix[i] = uint8(n.Uint32())
		}
		return [][]uint8{halved(m).Pix, doubled(m).Pix}
	})
}

// Which parts of a large picture are looked at, and in which size, stays as it was.
func TestTilesByChance(t *testing.T) {
	t.Parallel()
	pinned.Hold(t, "tiles", 40, func(seed uint64) any {
		n := rand.New(rand.NewPCG(seed, 34))
		var asked [][2]any
		found := Closer(image.Pt(300+n.IntN(6000), 300+n.IntN(4000)), func(part image.Rectangle, size image.Point) image.Image {
			asked = append(asked, [2]any{part, size})
			return image.NewRGBA(image.Rect(0, 0, 32, 32)) // nobody
		})
		return []any{asked, found}
	})
}
