package jpegdec

import (
	"image"
	"math/rand/v2"
	"testing"

	"mivlet/internal/pinned"
)

// What blocks by chance are drawn as, dark ones and bright ones, flat and full of contrast, stays as it was: which of
// them are averaged as light, too.
func TestBlocksByChance(t *testing.T) {
	t.Parallel()
	pinned.Hold(t, "blocks", 240, func(seed uint64) any {
		r := rand.New(rand.NewPCG(seed, 27))
		var drawn [][]byte
		contrast := float32(r.IntN(60))
		var b block
		b.at[0] = float32(8 * (r.IntN(280) - 140))
		for k := 1; k < 64; k += 1 + r.IntN(6) {
			b.put(k, contrast*(2*r.Float32()-1))
		}
		for _, n := range []int{1, 2, 4, 8} {
			for _, luma := range []bool{true, false} {
				c := &component{nh: n, nv: n, kept: image.Rect(0, 0, 1, 1), stride: n + 8, luma: luma}
				c.plane = make([]byte, c.stride*n)
				var w brush
				w.drawWithin(c, &b, 0, 0, 1)
				drawn = append(drawn, c.plane)
			}
		}
		return drawn
	})
}
