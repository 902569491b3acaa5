// Package blur finds words in a picture that somebody blurred to hide them. Such a cover is weak: of a soft blur a person
// still reads much, and letters of the right size, blurred alike, show which ones they were (Hill, Zhou, Saul, Shacham: On
// the (In)effectiveness of Mosaicing and Blurring as Tools for Document Redaction, PoPETs 2016).
package blur

import (
	"image"
	"slices"

	"mivlet/core/mosaic"
)

// A picture is judged in cells of 8 × 8 pixels: whether anything goes on there, and how suddenly.
const (
	cell      = 8
	flat      = 8    // of brightness: where less goes on in a cell, it is plain ground
	something = 18   // of brightness: where more goes on in a cell and those around it, something is there
	soft      = 0.17 // of what goes on: where no step from pixel to pixel is more, it is soft
	noise     = 4    // of brightness, that writing a file adds to any step
	sharp     = 0.5  // of what goes on: where a step is more, it is sharp
)

// A document is words on a plain ground: shares of all cells, at least.
const (
	plain   = 0.3
	letters = 0.01 // that are sharp
)

// Blurred words are a soft box of these measures, in cells.
const (
	leastTall = 3
	mostTall  = 16
	leastWide = 4
	filling   = 0.6  // of its cells that are soft, at least
	ending    = 0.85 // of the cells right around it that are plain or sharp, at least: a drawing goes on softly
	contrast  = 30   // of brightness, between words and ground, at least
	near      = 4    // cells around it in which its ground is looked for
	ground    = 0.3  // of the plain cells there that are the ground of the words, at least
	otherSide = 0.2  // of the contrast: so far words may lie on the other side of their ground
	hops      = 3    // cells, at most, from a soft cell to the next one of the same line
	turning   = 5    // times that a row turns from brighter to darker or back, at least: letters and words
	turnBy    = 6    // a turn is at least one part in so many of what goes on in the row
)

// Find returns the parts of a picture that show blurred words on a plain ground, beside words that are sharp, as far as
// they can be told: a blur so strong that nothing turns any more is not found. A photo has none, as what is out of focus
// looks alike there; neither has a picture that is soft as a whole.
func Find(m image.Image) []image.Rectangle { return FindIn(mosaic.Brightness(m)) }

// FindIn is Find where the brightness of the picture is known.
func FindIn(of mosaic.Grey) []image.Rectangle {
	g := cells(of)
	if !g.document() {
		return nil
	}
	var all []image.Rectangle
	for _, box := range g.boxes() {
		if g.words(box) {
			all = append(all, image.Rectangle{Min: box.Min.Mul(cell), Max: box.Max.Mul(cell)})
		}
	}
	slices.SortFunc(all, func(a, b image.Rectangle) int { return a.Min.Y - b.Min.Y })
	return all
}

// kind is what goes on in a cell.
type kind uint8

const (
	isOther kind = iota
	isPlain
	isSoft
	isSharp
)

// grid is a picture in cells; what is left over at its right and at its foot is not looked at.
type grid struct {
	of   mosaic.Grey
	w, h int
	kind []kind
}

func cells(of mosaic.Grey) grid {
	g := grid{of: of, w: of.W / cell, h: of.H / cell}
	all := make([]span, g.w*g.h)
	for i := range all {
		all[i] = g.span(i%g.w*cell, i/g.w*cell)
	}
	g.kind = make([]kind, len(all))
	for i, own := range all {
		wide := own
		g.around(image.Rect(i%g.w, i/g.w, i%g.w+1, i/g.w+1), 1, func(n int) {
			wide.low, wide.high = min(wide.low, all[n].low), max(wide.high, all[n].high)
		})
		goesOn := float64(wide.high - wide.low)
		switch {
		case own.high-own.low <= flat:
			g.kind[i] = isPlain
		case goesOn >= something && float64(own.step) <= soft*goesOn+noise:
			g.kind[i] = isSoft
		case goesOn >= 3*something && float64(own.step) >= sharp*goesOn:
			g.kind[i] = isSharp
		}
	}
	return g
}

// span is what goes on in a cell: its darkest and its brightest pixel, and the largest step, which is how far a pixel is
// from what its neighbours on both sides have it be.
type span struct{ low, high, step int }

func (g grid) span(left, top int) span {
	s := span{low: 255}
	pix, w := g.of.Pix, g.of.W
	for y := top; y < top+cell; y++ {
		for x := left; x < left+cell; x++ {
			i := y*w + x
			v := int(pix[i])
			s.low, s.high = min(s.low, v), max(s.high, v)
			if x > 0 && x+1 < w && y > 0 && y+1 < g.of.H {
				across, down := 2*v-int(pix[i-1])-int(pix[i+1]), 2*v-int(pix[i-w])-int(pix[i+w])
				s.step = max(s.step, across, -across, down, -down)
			}
		}
	}
	return s
}

// around does something for the cells that lie around a box, up to so many away.
func (g grid) around(box image.Rectangle, away int, do func(i int)) {
	for y := max(0, box.Min.Y-away); y < min(g.h, box.Max.Y+away); y++ {
		for x := max(0, box.Min.X-away); x < min(g.w, box.Max.X+away); x++ {
			if !image.Pt(x, y).In(box) {
				do(y*g.w + x)
			}
		}
	}
}

// document reports whether a picture is of words on a plain ground.
func (g grid) document() bool {
	var n [4]int
	for _, k := range g.kind {
		n[k]++
	}
	all := float64(len(g.kind))
	return float64(n[isPlain]) >= plain*all && float64(n[isSharp]) >= letters*all
}

// boxes are those around soft cells that lie together, in cells.
func (g grid) boxes() (all []image.Rectangle) {
	seen := make([]bool, len(g.kind))
	for i, k := range g.kind {
		if k != isSoft || seen[i] {
			continue
		}
		var box image.Rectangle
		seen[i] = true
		for todo := []int{i}; len(todo) > 0; {
			x, y := todo[len(todo)-1]%g.w, todo[len(todo)-1]/g.w
			todo = todo[:len(todo)-1]
			box = box.Union(image.Rect(x, y, x+1, y+1))
			for v := max(0, y-1); v <= min(g.h-1, y+1); v++ {
				for u := max(0, x-hops+1); u <= min(g.w-1, x+hops-1); u++ {
					if n := v*g.w + u; g.kind[n] == isSoft && !seen[n] {
						seen[n] = true
						todo = append(todo, n)
					}
				}
			}
		}
		all = append(all, box)
	}
	return all
}

// words reports whether a box shows blurred words.
func (g grid) words(box image.Rectangle) bool {
	return box.Dy() >= leastTall && box.Dy() <= mostTall && box.Dx() >= max(leastWide, box.Dy()) &&
		g.filled(box) && g.apart(box) && g.onGround(box) && g.written(box)
}

// filled reports whether most of a box is soft: whoever blurs draws a box.
func (g grid) filled(box image.Rectangle) bool {
	n := 0
	for y := box.Min.Y; y < box.Max.Y; y++ {
		for x := box.Min.X; x < box.Max.X; x++ {
			if g.kind[y*g.w+x] == isSoft {
				n++
			}
		}
	}
	return float64(n) >= filling*float64(box.Dx()*box.Dy())
}

// apart reports whether a box ends where it ends.
func (g grid) apart(box image.Rectangle) bool {
	clear, all := 0, 0
	g.around(box, 1, func(i int) {
		all++
		if g.kind[i] == isPlain || g.kind[i] == isSharp {
			clear++
		}
	})
	return float64(clear) >= ending*float64(all)
}

// onGround reports whether all of a box is the plain ground that lies beside it, or to one side of that: darker as ink on
// paper is, or brighter.
func (g grid) onGround(box image.Rectangle) bool {
	low, high := 255, 0
	for y := box.Min.Y * cell; y < box.Max.Y*cell; y++ {
		row := g.row(box, y)
		low, high = min(low, int(slices.Min(row))), max(high, int(slices.Max(row)))
	}
	if high-low < contrast {
		return false
	}
	slack := int(otherSide * float64(high-low))
	own, all := 0, 0
	g.around(box, near, func(i int) {
		if g.kind[i] != isPlain {
			return
		}
		all++
		paper := int(g.of.Pix[(i/g.w*cell+cell/2)*g.of.W+i%g.w*cell+cell/2])
		if max(paper-high, high-paper) <= slack || max(paper-low, low-paper) <= slack {
			own++
		}
	})
	return all > 0 && float64(own) >= ground*float64(all)
}

// written reports whether brighter and darker places follow each other along a row of a box.
func (g grid) written(box image.Rectangle) bool {
	for y := box.Min.Y * cell; y < box.Max.Y*cell; y++ {
		if turns(g.row(box, y)) >= turning {
			return true
		}
	}
	return false
}

// row are the pixels of a box at a height.
func (g grid) row(box image.Rectangle, y int) []uint8 {
	return g.of.Pix[y*g.of.W+box.Min.X*cell : y*g.of.W+box.Max.X*cell]
}

// turns counts how often a row turns from getting brighter to getting darker, or back.
func turns(row []uint8) (n int) {
	least := max(noise, int(slices.Max(row)-slices.Min(row))/turnBy)
	edge, way := int(row[0]), 0 // the farthest that it went lately, and which way that was
	for _, p := range row {
		v := int(p)
		switch {
		case way > 0 && v > edge, way < 0 && v < edge:
			edge = v
		case way <= 0 && v-edge >= least:
			if way != 0 {
				n++
			}
			edge, way = v, 1
		case way >= 0 && edge-v >= least:
			if way != 0 {
				n++
			}
			edge, way = v, -1
		}
	}
	return n
}
