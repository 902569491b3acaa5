// Package mosaic finds parts of a picture that somebody covered with a mosaic: squares of one colour each, in the
// place of what was there. Such a cover is weak. What lies below it can be told by trying: letters and digits of the
// right size, made into squares alike, show which ones they were (Hill, Zhou, Saul, Shacham: On the (In)effectiveness
// of Mosaicing and Blurring as Tools for Document Redaction, PoPETs 2016).
package mosaic

import (
	"image"
	"image/color"
	"slices"
)

// Squares whose sides are within these limits are found, in pixels. Smaller ones are hardly seen as such; of larger
// ones too few stand beside each other.
const (
	LeastSquare = 4
	MostSquare  = 40
)

const (
	step    = 7    // of brightness, at which one square ends and the next begins
	onGrid  = 0.25 // of the pixels along the sides of squares that are such steps, at least
	offGrid = 0.05 // of all others, at most
	aLine   = 0.12 // of the pixels along one line of the grid that are such steps, at least
	lines   = 0.8  // of the lines of a window that have so many
	shades  = 6    // that squares of a place have, at least: letters, tables and codes have two
	shade   = 12   // of brightness, within which two squares count as one shade
	astray  = 0.4  // of the steps elsewhere in the picture that are on no such grid, at least: else all of it was enlarged
	most    = 0.6  // of a picture: where more of it is squares, it was enlarged
	cell    = 8    // pixels of the picture that are marked together
)

// Find returns the parts of a picture that are covered by a mosaic, as far as they can be told: its squares stand
// upright, and neither were scaled nor compressed beyond recognition. A picture that is made of squares as a whole has
// none.
func Find(m image.Image) []image.Rectangle { return FindIn(Brightness(m)) }

// FindIn is Find where the brightness of the picture is known.
func FindIn(of Grey) []image.Rectangle {
	g := grey{of}
	if g.W < 3*LeastSquare || g.H < 3*LeastSquare {
		return nil
	}
	across, down := g.steps()
	marked := marks{w: (g.W + cell - 1) / cell, h: (g.H + cell - 1) / cell}
	marked.on = make([]bool, marked.w*marked.h)
	var grids [][2]int // sides of squares that were found, and where they begin
	for side := LeastSquare; side <= MostSquare; side++ {
		window := max(48, 5*side)
		hop := window / 3
		phases := make([]int, side)
		for y := 0; y+window <= g.H; y += hop {
			for x := 0; x+window <= g.W; x += hop {
				at := image.Rect(x, y, x+window, y+window)
				fx, ok := across.grid(x, x+window, y, y+window, side)
				if !ok {
					continue
				}
				fy, ok := down.grid(y, y+window, x, x+window, side)
				if !ok || !g.manyShades(at, fx, fy, side) {
					continue
				}
				phases[fx%side]++
				marked.mark(at)
			}
		}
		if n := slices.Max(phases); n > 0 {
			grids = append(grids, [2]int{side, slices.Index(phases, n)})
		}
	}
	if len(grids) == 0 || g.enlarged(marked, grids) {
		return nil
	}
	return marked.parts(g.W, g.H)
}

// enlarged reports whether all of a picture is made of the squares that a part of it is: what is not marked has steps
// on one of the same grids, and nowhere else, or nearly all is marked.
func (g grey) enlarged(marked marks, grids [][2]int) bool {
	beside, all, there := make([]int, g.W), 0, 0 // steps behind each place that is not marked
	for y := range g.H {
		for x := range g.W - 1 {
			if marked.on[y/cell*marked.w+x/cell] {
				there++
			} else if apart(g.Pix[y*g.W+x], g.Pix[y*g.W+x+1]) {
				beside[x]++
				all++
			}
		}
	}
	return float64(there) > most*float64(g.W*g.H) || all > g.H/4 && slices.ContainsFunc(grids, func(grid [2]int) bool {
		side, phase := grid[0], grid[1]
		on := 0
		for x := phase; x < g.W; x += side {
			on += beside[x]
		}
		return float64(all-on) < astray*float64(all)
	})
}

// marks are the cells of a picture that a mosaic covers.
type marks struct {
	w, h int
	on   []bool
}

func (m marks) mark(at image.Rectangle) {
	for y := at.Min.Y / cell; y <= (at.Max.Y-1)/cell; y++ {
		for x := at.Min.X / cell; x <= (at.Max.X-1)/cell; x++ {
			m.on[y*m.w+x] = true
		}
	}
}

// parts are the boxes around what is marked together, from top to bottom, in a picture of w × h pixels.
func (m marks) parts(w, h int) (all []image.Rectangle) {
	for i, on := range m.on {
		if !on {
			continue
		}
		var box image.Rectangle
		todo := []int{i}
		m.on[i] = false
		for len(todo) > 0 {
			at := todo[len(todo)-1]
			todo = todo[:len(todo)-1]
			x, y := at%m.w, at/m.w
			box = box.Union(image.Rect(x, y, x+1, y+1))
			for _, next := range [][2]int{{x - 1, y}, {x + 1, y}, {x, y - 1}, {x, y + 1}} {
				if n := next[1]*m.w + next[0]; next[0] >= 0 && next[0] < m.w && next[1] >= 0 && next[1] < m.h && m.on[n] {
					m.on[n] = false
					todo = append(todo, n)
				}
			}
		}
		all = append(all, image.Rect(box.Min.X*cell, box.Min.Y*cell, min(box.Max.X*cell, w), min(box.Max.Y*cell, h)))
	}
	return all
}

// Grey is the brightness of a picture, row by row.
type Grey struct {
	W, H int
	Pix  []uint8
}

// Brightness returns that of a picture.
func Brightness(m image.Image) Grey {
	b := m.Bounds()
	g := Grey{b.Dx(), b.Dy(), make([]uint8, b.Dx()*b.Dy())}
	switch m := m.(type) { // those that decoders make
	case *image.YCbCr:
		for y := range g.H {
			copy(g.Pix[y*g.W:(y+1)*g.W], m.Y[m.YOffset(b.Min.X, b.Min.Y+y):])
		}
		return g
	case *image.NRGBA:
		for y := range g.H {
			for x, row := 0, m.Pix[m.PixOffset(b.Min.X, b.Min.Y+y):]; x < g.W; x++ {
				p := row[4*x : 4*x+3 : 4*x+3]
				g.Pix[y*g.W+x] = uint8((19595*uint32(p[0]) + 38470*uint32(p[1]) + 7471*uint32(p[2]) + 1<<15) >> 16) //nolint:gosec // at most 255
			}
		}
		return g
	}
	for y := range g.H {
		for x := range g.W {
			g.Pix[y*g.W+x] = color.GrayModel.Convert(m.At(b.Min.X+x, b.Min.Y+y)).(color.Gray).Y
		}
	}
	return g
}

// grey is the brightness of a picture that is looked through.
type grey struct{ Grey }

// steps counts steps of brightness between neighbours: sums[line][n] is how many there are behind place line, among the
// first n pixels along it.
type steps struct{ sums [][]int32 }

func (g grey) steps() (across, down steps) {
	across.sums, down.sums = make([][]int32, g.W), make([][]int32, g.H)
	for x := range across.sums {
		across.sums[x] = make([]int32, g.H+1)
	}
	for y := range down.sums {
		down.sums[y] = make([]int32, g.W+1)
	}
	for y := range g.H {
		for x := range g.W {
			here := g.Pix[y*g.W+x]
			across.sums[x][y+1], down.sums[y][x+1] = across.sums[x][y], down.sums[y][x]
			if x+1 < g.W && apart(here, g.Pix[y*g.W+x+1]) {
				across.sums[x][y+1]++
			}
			if y+1 < g.H && apart(here, g.Pix[(y+1)*g.W+x]) {
				down.sums[y][x+1]++
			}
		}
	}
	return across, down
}

func apart(a, b uint8) bool { return a > b && a-b > step || b > a && b-a > step }

// grid finds the lines, a number of pixels apart, at which the squares of a window end. from and to are its places,
// low and high the pixels along them; first is the first such line.
func (s steps) grid(from, to, low, high, side int) (first int, ok bool) {
	along := float64(high - low)
	all, best := int32(0), int32(-1)
	for phase := range side {
		sum := int32(0)
		for at := from + phase; at < to-1; at += side {
			sum += s.sums[at][high] - s.sums[at][low]
		}
		all += sum
		if sum > best {
			best, first = sum, from+phase
		}
	}
	own := float64((to-2-first)/side + 1)
	others := float64(to-1-from) - own
	on, off := float64(best)/(own*along), float64(all-best)/(others*along)
	if on < onGrid || off > offGrid || on <= 8*off {
		return first, false
	}
	clear := 0.0
	for at := first; at < to-1; at += side {
		if float64(s.sums[at][high]-s.sums[at][low]) >= aLine*along {
			clear++
		}
	}
	return first, clear >= lines*own
}

// manyShades reports whether the squares of a window have many shades.
func (g grey) manyShades(at image.Rectangle, fx, fy, side int) bool {
	var seen [256/shade + 1]bool
	n := 0
	for y := fy + 1 + side/2; y < at.Max.Y; y += side {
		for x := fx + 1 + side/2; x < at.Max.X; x += side {
			if s := g.Pix[y*g.W+x] / shade; !seen[s] {
				seen[s] = true
				n++
			}
		}
	}
	return n >= shades
}
