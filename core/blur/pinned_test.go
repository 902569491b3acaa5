package blur_test

import (
	"image"
	"image/color"
	"math/rand/v2"
	"testing"

	"mivlet/core/blur"
	"mivlet/internal/pinned"
)

// sheet is a small document by chance: lines of bars on a ground, and a box over some of them that was made soft, near the
// limits of what counts as blurred words.
func sheet(seed uint64) *image.Gray {
	n := rand.New(rand.NewPCG(seed, 71))
	w, h := 150+n.IntN(200), 110+n.IntN(150)
	m := image.NewGray(image.Rect(0, 0, w, h))
	paper, ink, noise := 150+n.IntN(100), 10+n.IntN(140), 1+n.IntN(4)
	if n.IntN(4) == 0 {
		paper, ink = ink, paper
	}
	for i := range m.Pix {
		m.Pix[i] = uint8(min(255, paper+n.IntN(noise)))
	}
	tall, gap, wide, indent := 8+n.IntN(30), 4+n.IntN(24), 2+n.IntN(5), 8+n.IntN(24)
	for top := 8; top+tall < h; top += tall + gap {
		for x := indent; x < w-10; x += wide * (1 + n.IntN(3)) {
			for y := top; y < top+tall; y++ {
				for u := x; u < min(x+wide-1, w-8); u++ {
					m.SetGray(u, y, color.Gray{uint8(min(255, ink+n.IntN(noise)))})
				}
			}
		}
	}
	line := 8 + (tall+gap)*n.IntN(max(1, (h-16)/(tall+gap)))
	box := image.Rect(indent+n.IntN(20)-10, line-n.IntN(8), indent+30+n.IntN(w), line+tall+n.IntN(8)).Intersect(m.Rect)
	for range 1 + n.IntN(4) {
		soften(m, box, 1+n.IntN(4))
	}
	return m
}

// soften has each pixel of a box be the mean of those around it.
func soften(m *image.Gray, box image.Rectangle, away int) {
	was := image.NewGray(m.Rect)
	copy(was.Pix, m.Pix)
	for y := box.Min.Y; y < box.Max.Y; y++ {
		for x := box.Min.X; x < box.Max.X; x++ {
			sum, all := 0, 0
			for v := max(box.Min.Y, y-away); v <= min(box.Max.Y-1, y+away); v++ {
				for u := max(box.Min.X, x-away); u <= min(box.Max.X-1, x+away); u++ {
					sum += int(was.GrayAt(u, v).Y)
					all++
				}
			}
			m.SetGray(x, y, color.Gray{uint8(sum / all)})
		}
	}
}

// The limits of what counts as blurred words, which no standard states, are where they were.
func TestLimitsStay(t *testing.T) {
	t.Parallel()
	found := 0
	pinned.Hold(t, "words", 400, func(seed uint64) any {
		all := blur.Find(sheet(seed))
		if len(all) > 0 {
			found++
		}
		return all
	})
	if found < 60 || found > 340 {
		t.Errorf("%d of 400 are found: they lie on one side of the limits", found)
	}
}
