package ruler

import (
	"cmp"
	"math"
	"slices"
)

// Column is a column that was seen on a screenshot, in device px.
type Column struct {
	Left, Right int
	Top, Bottom int
	// Rough tells that its right edge is where its text ends, and not a line.
	Rough bool
	score float64
}

// Width is how wide the column is, in device px.
func (c Column) Width() int { return c.Right - c.Left }

// What can be a column, in CSS px.
const (
	leastColumn = 120
	mostColumn  = 2400
	leastTall   = 40
)

// Columns proposes the columns of a screenshot with scale device px for each
// CSS px, the most telling first, each width once. A column shows by what fills
// it: pictures, boxes and rules that begin and end at the same two edges; else
// by lines of text that begin at one edge.
func (s *Sheet) Columns(scale float64) []Column {
	all := s.boxes(scale)
	all = append(all, s.texts(scale)...)
	slices.SortStableFunc(all, func(a, b Column) int { return cmp.Compare(b.score, a.score) })
	var out []Column
	for _, c := range all {
		if slices.ContainsFunc(out, func(o Column) bool {
			near := max(1, int(scale))
			return abs(o.Width()-c.Width()) <= near || c.Rough && abs(o.Left-c.Left) <= 4*near && o.Right >= c.Right-4*near
		}) {
			continue
		}
		if out = append(out, c); len(out) == mostProposed {
			break
		}
	}
	return out
}

const mostProposed = 8

// boxes pairs upright lines that begin and end at about the same height, with
// level lines between them that close the box.
func (s *Sheet) boxes(scale float64) []Column {
	tall := int(leastTall * scale)
	var long []Edge
	for _, l := range s.upright {
		if l.Length() >= tall && (l.before || l.after) { // inside a photo it is neither
			long = append(long, l)
		}
	}
	// Of hundreds of lines in a drawing only the longest can be columns.
	slices.SortStableFunc(long, func(a, b Edge) int { return b.Length() - a.Length() })
	long = long[:min(len(long), 400)]
	slices.SortStableFunc(long, func(a, b Edge) int { return a.At - b.At })
	var all []Column
	for i, l := range long {
		if !l.before {
			continue
		}
		for _, r := range long[i+1:] {
			if !r.after {
				continue
			}
			w := float64(r.At-l.At) / scale
			if w < leastColumn {
				continue
			}
			if w > mostColumn {
				break
			}
			top, bottom := max(l.From, r.From), min(l.To, r.To)
			both := bottom - top
			if float64(both) < 0.8*float64(max(l.Length(), r.Length())) {
				continue
			}
			closed := s.closing(l.At, r.At, top) + s.closing(l.At, r.At, bottom)
			if closed < 0.8 {
				continue
			}
			all = append(all, Column{l.At, r.At, top, bottom, false, closed * math.Sqrt(float64(both)*float64(r.At-l.At))})
		}
	}
	return s.together(all)
}

// together adds up the scores of boxes with the same two edges: a column that
// is filled again and again is one.
func (s *Sheet) together(all []Column) []Column {
	sums := map[[2]int]Column{}
	for _, c := range all {
		key := [2]int{c.Left, c.Right}
		if o, ok := sums[key]; ok {
			c.score += o.score
			c.Top, c.Bottom = min(c.Top, o.Top), max(c.Bottom, o.Bottom)
		}
		sums[key] = c
	}
	out := make([]Column, 0, len(sums))
	for _, c := range sums {
		out = append(out, c)
	}
	slices.SortFunc(out, func(a, b Column) int { return cmp.Or(a.Left-b.Left, a.Right-b.Right) })
	return out
}

// closing is how much of the stretch between two edges a level line covers at
// about a height, from 0 to 1.
func (s *Sheet) closing(left, right, at int) float64 {
	best := 0.0
	for y := max(1, at-3); y <= min(s.H-1, at+3); y++ {
		n := 0
		for x := left; x < right; x++ {
			if s.differ(x, y, 0, 1) >= step {
				n++
			}
		}
		best = math.Max(best, float64(n)/float64(right-left))
	}
	return best
}

// texts finds groups of text lines that begin at one edge.
func (s *Sheet) texts(scale float64) []Column {
	apart := int(28 * scale) // wider gaps part columns
	type run struct{ left, right, rows int }
	byLeft := map[int]*run{}
	for y := range s.H {
		for _, r := range s.inked(y, apart) {
			if w := float64(r[1]-r[0]) / scale; w < leastColumn*0.8 || w > mostColumn {
				continue
			}
			key := r[0] / max(1, int(2*scale))
			g := byLeft[key]
			if g == nil {
				g = &run{left: r[0]}
				byLeft[key] = g
			}
			g.left, g.right, g.rows = min(g.left, r[0]), max(g.right, r[1]), g.rows+1
		}
	}
	var all []Column
	for _, g := range byLeft {
		if float64(g.rows) < 30*scale || float64(g.right-g.left)/scale < leastColumn {
			continue
		}
		all = append(all, Column{g.left, g.right, 0, s.H, true, math.Sqrt(float64(g.rows)*float64(g.right-g.left)) / 4})
	}
	slices.SortFunc(all, func(a, b Column) int { return cmp.Or(a.Left-b.Left, a.Right-b.Right) })
	return all
}

// inked returns the stretches of a row that have ink, where gaps of up to apart
// do not count.
func (s *Sheet) inked(y, apart int) [][2]int {
	row := s.luma[y*s.W : (y+1)*s.W]
	paper := row[0]
	var all [][2]int
	from, last := -1, -1
	for x, v := range row {
		if abs(int(v)-int(paper)) < 40 {
			if from >= 0 && x-last > apart {
				all = append(all, [2]int{from, last + 1})
				from = -1
			}
			continue
		}
		if from < 0 {
			from = x
		}
		last = x
	}
	if from >= 0 {
		all = append(all, [2]int{from, last + 1})
	}
	return all
}

func abs(v int) int {
	if v < 0 {
		return -v
	}
	return v
}
