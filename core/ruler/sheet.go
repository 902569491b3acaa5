// Package ruler measures columns on a screenshot of a page: it finds the strong
// upright and level lines in it, snaps to them, and proposes the columns it
// sees. Positions are edges between device pixels: edge 10 lies between pixels
// 9 and 10, so that the length between two edges is their difference.
package ruler

import (
	"image"
	"math"
	"slices"
)

// Sheet is a screenshot ready to be measured: its luma and its lines.
type Sheet struct {
	W, H    int
	luma    []uint8
	upright []Edge
	level   []Edge
}

// Edge is a straight edge in the picture.
type Edge struct {
	At   int `json:"at"`   // edge across the line
	From int `json:"from"` // where it begins along itself
	To   int `json:"to"`   // where it ends; not part of it
	// Weight tells how much a line is one: long, with paper on one of its sides.
	Weight float64 `json:"weight"`
	before bool    // the pixels before it are of one tone
	after  bool    // the pixels after it are
}

// Length is how long the line is, in device px.
func (l Edge) Length() int { return l.To - l.From }

const (
	// step is the least difference in luma that counts as an edge: a pale line
	// on white paper has about as much.
	step = 8
	// shortest line that is kept, in device px.
	shortest = 16
	// gap that a line may have, in device px: a rounded corner, a letter.
	gap = 2
)

// Read makes a screenshot ready.
func Read(m image.Image) *Sheet {
	b := m.Bounds()
	s := &Sheet{W: b.Dx(), H: b.Dy(), luma: make([]uint8, b.Dx()*b.Dy())}
	for y := range s.H {
		for x := range s.W {
			r, g, bl, _ := m.At(b.Min.X+x, b.Min.Y+y).RGBA()
			s.luma[y*s.W+x] = uint8((299*r + 587*g + 114*bl) / 257 / 1000)
		}
	}
	s.upright = lines(s.W, s.H, func(at, along int) int { return s.differ(at, along, 1, 0) })
	s.level = lines(s.H, s.W, func(at, along int) int { return s.differ(along, at, 0, 1) })
	for i := range s.upright {
		s.weigh(&s.upright[i], func(across, along int) uint8 { return s.luma[along*s.W+across] })
	}
	for i := range s.level {
		s.weigh(&s.level[i], func(across, along int) uint8 { return s.luma[across*s.W+along] })
	}
	return s
}

// weigh looks at both sides of a line.
func (s *Sheet) weigh(l *Edge, at func(across, along int) uint8) {
	even := func(across int) bool {
		n := 0
		for i := l.From + 1; i < l.To; i++ {
			if d := int(at(across, i)) - int(at(across, i-1)); d >= -3 && d <= 3 {
				n++
			}
		}
		return float64(n) >= 0.93*float64(l.Length()-1)
	}
	l.before, l.after = even(l.At-1), even(l.At)
	l.Weight = math.Sqrt(float64(l.Length()))
	if l.before || l.after {
		l.Weight *= beyondPhotos
	}
}

// beyondPhotos is how much more a line counts that has paper on one side than
// one inside a photo.
const beyondPhotos = 12

// differ is the step in luma at pixel x, y from the one before it.
func (s *Sheet) differ(x, y, dx, dy int) int {
	d := int(s.luma[y*s.W+x]) - int(s.luma[(y-dy)*s.W+x-dx])
	if d < 0 {
		return -d
	}
	return d
}

// lines finds runs of steps along each edge across.
func lines(across, along int, differ func(at, along int) int) []Edge {
	var all []Edge
	for at := 1; at < across; at++ {
		from, last := -1, -1
		end := func() {
			if from >= 0 && last+1-from >= shortest {
				all = append(all, Edge{At: at, From: from, To: last + 1})
			}
			from = -1
		}
		for i := range along {
			switch {
			case differ(at, i) >= step:
				if from < 0 {
					from = i
				}
				last = i
			case from >= 0 && i-last > gap:
				end()
			}
		}
		end()
	}
	return all
}

// Upright returns the upright lines from left to right.
func (s *Sheet) Upright() []Edge { return slices.Clone(s.upright) }

// Level returns the level lines from top to bottom.
func (s *Sheet) Level() []Edge { return slices.Clone(s.level) }

// Snap returns the edge near at that a hand most likely means: of the lines
// that pass the place along, within reach, the one that is longest for its
// distance. Without any it gives at itself.
func (s *Sheet) Snap(at, along, reach int, upright bool) int {
	all := s.level
	if upright {
		all = s.upright
	}
	best, most := at, 0.0
	for _, l := range all {
		d := l.At - at
		if d < 0 {
			d = -d
		}
		if d > reach || along < l.From-reach || along > l.To+reach {
			continue
		}
		if v := l.Weight / float64(1+d); v > most {
			best, most = l.At, v
		}
	}
	return best
}

// Length is a length that was read off a screenshot.
type Length struct {
	Device int     // device px
	CSS    float64 // CSS px
}

// Between is the length between two edges of a screenshot with scale device px
// for each CSS px.
func Between(from, to int, scale float64) Length {
	n := to - from
	if n < 0 {
		n = -n
	}
	return Length{n, float64(n) / scale}
}

// Needs returns how many pixels a picture needs for the length at a density,
// with a buffer in CSS px: round(css·density) + round(buffer·density).
func (l Length) Needs(density float64, buffer int) int {
	return int(math.Round(l.CSS*density)) + int(math.Round(float64(buffer)*density))
}

// ScaleFrom returns the scale of a screenshot on which a length is known to be
// css CSS px wide. Browsers use few scales: one that is near is taken.
func ScaleFrom(device int, css float64) float64 {
	if css <= 0 {
		return 1
	}
	scale := float64(device) / css
	for _, usual := range []float64{1, 1.25, 1.5, 1.75, 2, 2.5, 3, 4} {
		if math.Abs(scale-usual)*css < 1.5 {
			return usual
		}
	}
	return scale
}
