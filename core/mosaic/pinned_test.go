package mosaic_test

import (
	"image"
	"image/color"
	"math/rand/v2"
	"testing"

	"mivlet/core/mosaic"
	"mivlet/internal/pinned"
)

// scrap is a small picture by chance: a ground that is flat, soft or noisy, and squares over a part of it, near the limits of
// what counts as a mosaic.
func scrap(seed uint64) *image.Gray {
	n := rand.New(rand.NewPCG(seed, 33))
	w, h := 90+n.IntN(240), 90+n.IntN(200)
	m := image.NewGray(image.Rect(0, 0, w, h))
	noise, slope := 1+n.IntN(24), n.Float64()
	for y := range h {
		for x := range w {
			m.SetGray(x, y, color.Gray{uint8(70 + slope*float64(x+y)/3 + float64(n.IntN(noise)))})
		}
	}
	side, tall := 3+n.IntN(16), 0
	if tall = side; n.IntN(4) == 0 {
		tall += n.IntN(3)
	}
	contrast, shades, specks := 3+n.IntN(16), 4+n.IntN(10), n.IntN(7)
	at := image.Rect(n.IntN(w/4), n.IntN(h/4), w-n.IntN(w/4), h-n.IntN(h/4))
	level := map[image.Point]int{}
	for y := at.Min.Y; y < at.Max.Y; y++ {
		for x := at.Min.X; x < at.Max.X; x++ {
			cell := image.Pt((x-at.Min.X)/side, (y-at.Min.Y)/tall)
			if _, known := level[cell]; !known {
				level[cell] = n.IntN(shades)
			}
			v := 40 + contrast*level[cell]
			if specks > 0 && n.IntN(200) < specks {
				v += 9
			}
			m.SetGray(x, y, color.Gray{uint8(v)})
		}
	}
	return m
}

// The limits of what counts as a mosaic, which no standard states, are where they were.
func TestLimitsStay(t *testing.T) {
	t.Parallel()
	found := 0
	pinned.Hold(t, "squares", 240, func(seed uint64) any {
		all := mosaic.Find(scrap(seed))
		if len(all) > 0 {
			found++
		}
		return all
	})
	if found < 40 || found > 200 {
		t.Errorf("%d of 240 are found: they lie on one side of the limits", found)
	}
}
