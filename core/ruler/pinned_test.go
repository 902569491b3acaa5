package ruler_test

import (
	"image"
	"image/color"
	"image/draw"
	"math/rand/v2"
	"testing"

	"mivlet/core/ruler"
	"mivlet/internal/pinned"
)

// chance is a sheet by chance: boxes, columns of text, pale lines, some with gaps, and noise, near
// the limits of what counts.
func chance(seed uint64) (*image.RGBA, *rand.Rand) {
	n := rand.New(rand.NewPCG(seed, 11))
	m := sheet(160+n.IntN(260), 160+n.IntN(220), 255)
	w, h := m.Rect.Dx(), m.Rect.Dy()
	part := func(least, most int) image.Rectangle {
		x, y := n.IntN(w-least), n.IntN(h-least)
		return image.Rect(x, y, x+least+n.IntN(most), y+least+n.IntN(most)).Intersect(m.Rect)
	}
	for range 1 + n.IntN(4) {
		switch at := part(14, 140); n.IntN(6) {
		case 0, 1:
			draw.Draw(m, at, image.NewUniform(color.Gray{uint8(244 + n.IntN(8))}), image.Point{}, draw.Src)
		case 2:
			inkedText(m, at, uint8(n.IntN(250)))
		case 3: // a frame of one pixel, with gaps
			for x := at.Min.X; x < at.Max.X; x++ {
				if n.IntN(24) > 0 {
					m.Set(x, at.Min.Y, color.Gray{uint8(236 + n.IntN(14))})
					m.Set(x, at.Max.Y-1, color.Gray{uint8(236 + n.IntN(14))})
				}
			}
			for y := at.Min.Y; y < at.Max.Y; y++ {
				if n.IntN(24) > 0 {
					m.Set(at.Min.X, y, color.Gray{uint8(236 + n.IntN(14))})
					m.Set(at.Max.X-1, y, color.Gray{uint8(236 + n.IntN(14))})
				}
			}
		case 4: // a photo
			for y := at.Min.Y; y < at.Max.Y; y++ {
				for x := at.Min.X; x < at.Max.X; x++ {
					m.Set(x, y, color.RGBA{uint8(90 + n.IntN(14)), uint8(60 + x%40 + n.IntN(9)), uint8(y), 255})
				}
			}
		default: // lines of words of unlike lengths
			for y := at.Min.Y; y+8 < at.Max.Y; y += 11 + n.IntN(9) {
				inkedText(m, image.Rect(at.Min.X+n.IntN(3), y, at.Max.X-n.IntN(30), y+10), uint8(n.IntN(120)))
			}
		}
	}
	return m, n
}

// What is seen on sheets by chance, and where a hand snaps to, stays as it was.
func TestSheetsByChance(t *testing.T) {
	t.Parallel()
	pinned.Hold(t, "sheets", 160, func(seed uint64) any {
		m, n := chance(seed)
		s := ruler.Read(m)
		scale := []float64{1, 1, 1.5, 2}[n.IntN(4)]
		told := struct {
			Upright, Level []ruler.Edge
			Columns        []ruler.Column
			Snapped        []int
			Scales         []float64
			Needs          []int
		}{Upright: s.Upright(), Level: s.Level(), Columns: s.Columns(scale)}
		for range 40 {
			told.Snapped = append(told.Snapped, s.Snap(n.IntN(s.W), n.IntN(s.H), n.IntN(14), n.IntN(2) == 0))
		}
		for range 12 {
			css := 20 + n.Float64()*900
			told.Scales = append(told.Scales, ruler.ScaleFrom(int(css*(1+n.Float64()*2)), css))
			told.Needs = append(told.Needs, ruler.Between(n.IntN(900), n.IntN(900), 1+n.Float64()).Needs(1+n.Float64()*2, n.IntN(4)))
		}
		return told
	})
}
