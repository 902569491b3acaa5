package textline

import (
	"cmp"
	"image"
	"slices"
)

// leastInColumn is how many lines stand below each other in a column, at least.
const leastInColumn = 3

// Columns groups lines that stand below each other with the same left or right edge and
// letters of one height, as names, addresses and numbers do in a list: which lines, by
// their place in what is given, from top to bottom.
func Columns(lines []Line) [][]int {
	var all [][]int
	taken := make([]bool, len(lines))
	for _, edge := range []func(image.Rectangle) int{func(r image.Rectangle) int { return r.Min.X }, func(r image.Rectangle) int { return r.Max.X }} {
		for i := range lines {
			if taken[i] {
				continue
			}
			column := []int{i}
			for j := range lines {
				if j != i && !taken[j] && abs(edge(lines[i].Bounds)-edge(lines[j].Bounds)) <= lines[i].Height && alike(lines[i].Height, lines[j].Height) {
					column = append(column, j)
				}
			}
			slices.SortFunc(column, func(a, b int) int { return cmp.Compare(lines[a].Bounds.Min.Y, lines[b].Bounds.Min.Y) })
			column = together(lines, column, i)
			if len(column) < leastInColumn {
				continue
			}
			for _, n := range column {
				taken[n] = true
			}
			all = append(all, column)
		}
	}
	return all
}

// together keeps of a column what stands near the line i, without a wide gap between.
func together(lines []Line, column []int, i int) []int {
	at := slices.Index(column, i)
	from, to := at, at
	near := func(a, b int) bool {
		return lines[b].Bounds.Min.Y-lines[a].Bounds.Max.Y <= 7*lines[i].Height
	}
	for from > 0 && near(column[from-1], column[from]) {
		from--
	}
	for to+1 < len(column) && near(column[to], column[to+1]) {
		to++
	}
	return column[from : to+1]
}

func alike(a, b int) bool { return 3*abs(a-b) <= max(a, b) }

func abs(v int) int { return max(v, -v) }
