package veil

import (
	"image"
	"math"
	"math/rand/v2"
	"testing"

	"mivlet/core/fit"
	"mivlet/internal/pinned"
)

// paper is a canvas in which light is the square of a code value.
func paper(w, h int, t Traces) Canvas {
	return Canvas{Bounds: image.Rect(0, 0, w, h), Channels: 3, Traces: t,
		Light: func(c [3]uint8) (l [3]float32) {
			for i, v := range c {
				l[i] = float32(v) * float32(v) / (255 * 255)
			}
			return l
		},
		SRGB: func(l []float32) (c [3]float64) {
			for i := range c {
				c[i] = math.Sqrt(float64(l[i]))
			}
			return c
		}}
}

// scenery is light that slopes, with steps and grain in it.
func scenery(n *rand.Rand, on Canvas) []float32 {
	w, h := on.Bounds.Dx(), on.Bounds.Dy()
	light := make([]float32, w*h*on.Channels)
	slope, edge := n.Float32(), n.IntN(w)
	for y := range h {
		for x := range w {
			for c := range on.Channels {
				v := slope*float32(x)/float32(w) + (1-slope)*float32(y*(c+1))/float32(4*h) + 0.1*n.Float32()
				if x > edge {
					v = 1 - v
				}
				light[(y*w+x)*on.Channels+c] = min(max(v, 0), 1)
			}
		}
	}
	return light
}

func boxWithin(n *rand.Rand, w, h int) image.Rectangle {
	x, y := n.IntN(w)-4, n.IntN(h)-4
	return image.Rect(x, y, x+2+n.IntN(w/2), y+2+n.IntN(h/2))
}

func oneVeil(n *rand.Rand, w, h int) Veil {
	v := Veil{ID: "v" + string(rune('a'+n.IntN(9))), Shape: []Shape{Rect, Ellipse, Polygon}[n.IntN(3)], Style: Styles[n.IntN(3)], Reason: Reasons[n.IntN(len(Reasons))]}
	v.Bounds = boxWithin(n, w, h)
	if v.Shape == Polygon {
		v.Bounds = image.Rectangle{}
		for range 3 + n.IntN(4) {
			v.Points = append(v.Points, image.Pt(n.IntN(w), n.IntN(h)))
		}
	}
	if n.IntN(2) == 0 {
		v.Letters = n.IntN(24)
	}
	switch v.Style {
	case Colour:
		v.Fill = []string{Grey, "#203040", "#f0e0d0"}[n.IntN(3)]
	case Figure:
		v.Cells = n.IntN(MostCells + 1)
	}
	return v
}

// asSteps are light values in thousandths: what is below makes no difference to anybody.
func asSteps(light []float32) []int {
	out := make([]int, len(light))
	for i, v := range light {
		out[i] = int(math.Round(float64(v) * 1000))
	}
	return out
}

// What veils draw, how far they reach and what they tell stays as it was, for veils by chance that overlap,
// touch and lie half outside.
func TestVeilsByChance(t *testing.T) {
	t.Parallel()
	pinned.Hold(t, "drawn", 90, func(seed uint64) any {
		n := rand.New(rand.NewPCG(seed, 61))
		w, h := 24+n.IntN(60), 24+n.IntN(50)
		on := paper(w, h, Traces{Block: image.Pt(1<<n.IntN(5), 1<<n.IntN(5)), Reach: n.IntN(3)})
		light := scenery(n, on)
		read := func(dst []float32, y, x0, x1 int) {
			copy(dst, light[(y*w+x0)*on.Channels:(y*w+x1)*on.Channels])
		}
		var veils []Veil
		var told []any
		for range 1 + n.IntN(3) {
			v := oneVeil(n, w, h)
			if v.Check() != nil {
				continue
			}
			v.Told = Sample(v, on, read, []byte("a secret of the house"))
			veils = append(veils, v)
			told = append(told, v.Told, v.Bits(), v.Patches(), v.Margin(), v.Reach(on.Bounds, on.Traces))
		}
		layers := Make(veils, on, read)
		drawn := append([]float32(nil), light...)
		x0 := n.IntN(5)
		for _, l := range layers {
			for y := range h {
				if l.Touches(y) {
					l.Draw(drawn[(y*w+x0)*on.Channels:(y+1)*w*on.Channels], y, x0)
				}
			}
		}
		mask, hidden := Mask(veils, on), 0
		for y := range h {
			for x := range w {
				if mask(x, y) {
					hidden += 1 + y*w + x
				}
			}
		}
		var hides []bool
		for range 12 {
			r := boxWithin(n, w, h)
			r.Max = r.Min.Add(image.Pt(1+n.IntN(9), 1+n.IntN(9)))
			hides = append(hides, Hide(veils, r))
		}
		return []any{asSteps(drawn), told, hidden, hides, len(layers)}
	})
	pinned.Hold(t, "moved", 120, func(seed uint64) any {
		n := rand.New(rand.NewPCG(seed, 62))
		v := oneVeil(n, 90, 70)
		v.Told = &Told{Cols: 1 + n.IntN(3), Rows: 1 + n.IntN(2)}
		for range 3 * v.Told.Cols * v.Told.Rows {
			v.Told.Levels = append(v.Told.Levels, n.IntN(levels))
		}
		for range n.IntN(4) {
			v = v.Placed(n.IntN(9), boxWithin(n, 90, 70))
		}
		var stands []Veil
		for frame := range 10 {
			stands = append(stands, v.At(frame))
		}
		turned := v.Map(func(p image.Point) image.Point { return image.Pt(70-p.Y, p.X) })
		scale := fit.Scale{X: 0.3 + 2*n.Float64(), Y: 0.3 + 2*n.Float64()}
		return []any{v, stands, AllAt([]Veil{v, oneVeil(n, 50, 50)}, 3), turned, v.Scaled(scale), v.Says(), v.Check() == nil}
	})
	pinned.Hold(t, "checked", 200, func(seed uint64) any {
		n := rand.New(rand.NewPCG(seed, 63))
		told := &Told{Cols: n.IntN(mostLong + 2), Rows: n.IntN(mostLong + 2)}
		for range 3*told.Cols*told.Rows + n.IntN(8)/7 {
			told.Levels = append(told.Levels, 0)
		}
		if len(told.Levels) > 0 {
			told.Levels[n.IntN(len(told.Levels))] = n.IntN(levels+2) - 1
		}
		v := oneVeil(n, 40, 40)
		v.Cells, v.Letters = n.IntN(MostCells+3)-1, n.IntN(4)-1
		v.Told = told
		says := func(err error) string {
			if err == nil {
				return ""
			}
			return err.Error()
		}
		far := []string{"1e7", "10000001", "-10000000", "-1.1e7", "3.9", "NaN"}[n.IntN(6)]
		parsed, err := Parse("ellipse:" + far + ",2,30,40" + []string{"", ":figure"}[n.IntN(2)])
		return []any{says(told.check()), says(v.Check()), v.Bits(), v.Patches(), parsed, says(err)}
	})
}
