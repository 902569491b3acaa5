package textline

import (
	"cmp"
	"image"
	"math"
	"slices"
)

// A chain is signs that follow each other along a line.
type chain []sign

// How signs follow each other, in heights of the larger one.
const (
	gap     = 1.1  // between neighbours, at most: a space is half of it
	similar = 0.45 // of the larger one the lower one is high, at least
	steep   = 0.25 // rise for each step to the right: fourteen degrees
)

// chains follows each sign to the nearest one on its right that may belong to it.
func chains(all []sign) []chain {
	slices.SortFunc(all, func(a, b sign) int { return cmp.Compare(a.box.Min.X, b.box.Min.X) })
	next, taken := make([]int, len(all)), make([]bool, len(all))
	for i, a := range all {
		next[i] = -1
		reach := a.box.Max.X + 2*highest
		best := math.Inf(1)
		for j := i + 1; j < len(all) && all[j].box.Min.X <= reach; j++ {
			if d, ok := follows(a, all[j]); ok && d < best && !taken[j] {
				best, next[i] = d, j
			}
		}
		if next[i] >= 0 {
			taken[next[i]] = true
		}
	}
	var found []chain
	for i := range all {
		if taken[i] {
			continue
		}
		var c chain
		for at := i; at >= 0; at = next[at] {
			c = append(c, all[at])
		}
		if len(c) > 1 {
			found = append(found, c)
		}
	}
	return found
}

// follows tells how far a sign follows another one, where it may.
func follows(a, b sign) (distance float64, ok bool) {
	ha, hb := float64(a.box.Dy()), float64(b.box.Dy())
	high := math.Max(ha, hb)
	apart := float64(b.box.Min.X - a.box.Max.X)
	if apart > gap*high || apart < -0.6*high || math.Min(ha, hb) < similar*high {
		return 0, false
	}
	// They stand beside each other: their heights overlap by half, but for the slope.
	slope := steep * math.Max(0, float64(b.box.Min.X+b.box.Max.X-a.box.Min.X-a.box.Max.X)/2)
	overlap := math.Min(float64(a.box.Max.Y), float64(b.box.Max.Y)) - math.Max(float64(a.box.Min.Y), float64(b.box.Min.Y))
	if overlap+math.Min(slope, 0.4*high) < 0.5*math.Min(ha, hb) {
		return 0, false
	}
	if d := math.Abs(a.level - b.level); d > 40 {
		return 0, false
	}
	if ta, tb := a.thick(), b.thick(); math.Max(ta, tb) > 2.6*math.Min(ta, tb)+1 {
		return 0, false
	}
	off := math.Abs(float64(a.box.Min.Y+a.box.Max.Y-b.box.Min.Y-b.box.Max.Y)) / 2
	return math.Max(apart, 0) + off, true
}

func (c chain) bounds() image.Rectangle {
	var b image.Rectangle
	for _, s := range c {
		b = b.Union(s.box)
	}
	return b
}

// middles of some values.
func median(v []float64) float64 {
	slices.Sort(v)
	return v[len(v)/2]
}

func (c chain) of(f func(sign) float64) []float64 {
	all := make([]float64, len(c))
	for i, s := range c {
		all[i] = f(s)
	}
	return all
}

// straight fits a line through the feet of the signs, and tells how far most of them lie
// off it, in heights.
func (c chain) straight() (slope, off float64) {
	n := float64(len(c))
	var sx, sy, sxx, sxy float64
	for _, s := range c {
		x, y := float64(s.box.Min.X+s.box.Max.X)/2, float64(s.box.Max.Y)
		sx, sy, sxx, sxy = sx+x, sy+y, sxx+x*x, sxy+x*y
	}
	if d := n*sxx - sx*sx; d > 0 {
		slope = (n*sxy - sx*sy) / d
	}
	base := (sy - slope*sx) / n
	var offs []float64
	for _, s := range c {
		offs = append(offs, math.Abs(float64(s.box.Max.Y)-base-slope*float64(s.box.Min.X+s.box.Max.X)/2))
	}
	high := median(c.of(func(s sign) float64 { return float64(s.box.Dy()) }))
	return slope, median(offs) / high
}

// figures reports whether nearly all signs are of one height, and of a number of
// signs that telephone numbers, plates and the like have.
func (c chain) figures() bool {
	if len(c) < 5 || len(c) > 24 {
		return false
	}
	middle := median(c.of(func(s sign) float64 { return float64(s.box.Dy()) }))
	same := 0
	for _, s := range c {
		if math.Abs(float64(s.box.Dy())-middle)*6 <= middle {
			same++
		}
	}
	return same*100 >= len(c)*85
}
