package album

import (
	"math"

	"mivlet/core/fit"
)

// Row is pictures of one height beside each other.
type Row struct {
	First  int     // which picture it begins with, counted from 0
	Widths []int   // CSS px
	Height float64 // CSS px
	Full   bool    // it fills the width: all do but the last, and those whose pictures are too small
}

// Room is where rows stand, in CSS px.
type Room struct {
	Width  int
	Height float64 // that rows would best have
	Most   float64 // that a row has at most
	Gap    int     // between two pictures
}

// A row of a height that is far from the best is disliked by the square of how many times it
// is too high or too low; one that does not fill the width, more than any other.
const unfilled = 1e6

// Rows puts pictures into rows of one height each that fill the width, without cropping and in
// their order; sizes are the largest that each may be shown, in CSS px, and none is shown
// larger. Of all ways to break them it takes the one whose rows are nearest to the best
// height, all together (as lines of a paragraph are broken: Knuth and Plass, 1981, without
// hyphens). A row's widths and gaps add up to the width exactly; each picture is at most 1 px
// wider or narrower than its proportions.
func Rows(sizes []fit.Size, room Room) []Row {
	n := len(sizes)
	best := make([]float64, n+1) // the least dislike of all rows from here on
	next := make([]int, n)
	for i := n - 1; i >= 0; i-- {
		best[i] = math.Inf(1)
		for j := i + 1; j <= n; j++ {
			row, ok := room.row(sizes, i, j)
			if !ok && j > i+1 {
				break // too many
			}
			d := row.dislike(room, j == n) + best[j]
			if d < best[i] {
				best[i], next[i] = d, j
			}
		}
	}
	var rows []Row
	for i := 0; i < n; i = next[i] {
		row, _ := room.row(sizes, i, next[i])
		rows = append(rows, row)
	}
	return rows
}

// least is the part of the best height below which no row is tried.
const least = 0.4

// row makes a row of the pictures from i up to j; false where they are too many for one.
func (room Room) row(sizes []fit.Size, i, j int) (Row, bool) {
	aspects, most := 0.0, room.Most
	for _, s := range sizes[i:j] {
		aspects += float64(s.W) / float64(s.H)
		most = min(most, float64(s.H))
	}
	within := room.Width - (j-i-1)*room.Gap
	row := Row{First: i, Height: float64(within) / aspects, Full: true}
	if row.Height > most {
		row.Height, row.Full = min(most, room.Height), false
	}
	edge, at := 0.0, 0
	for _, s := range sizes[i:j] { // edges are rounded, not widths: what is left over does not gather
		edge += row.Height * float64(s.W) / float64(s.H)
		to := int(math.Round(edge))
		if row.Full {
			to = min(to, within)
		}
		row.Widths = append(row.Widths, max(1, to-at))
		at = max(at+1, to)
	}
	return row, within > 0 && (row.Height >= least*room.Height || !row.Full)
}

// dislike is how far a row is from the best.
func (r Row) dislike(room Room, last bool) float64 {
	if !r.Full && !last {
		return unfilled
	}
	if !r.Full { // the last may be short
		return 0.25
	}
	off := math.Log2(r.Height / room.Height)
	return off * off
}
