package veil

import (
	"image"
	"math"
)

// Traces tells how far what a pixel shows can have left its traces in others of a
// decoded picture: nothing of a hidden pixel may be left beyond the region.
type Traces struct {
	// Block is the grid of the compression, in stored pixels: what is hidden inside a
	// block rings through all of it (8 × 8 samples, of colour often 16 × 16 pixels:
	// ITU-T T.81, A.2). One pixel where nothing was lost.
	Block image.Point
	// Reach is how many pixels further traces may lie, where no grid says it.
	Reach int
}

// How far a region reaches over its outline, in pixels of the original.
const (
	leastMargin = 4
	mostLetters = 32 // the height of text that is supposed where nobody measured it, at most
)

// Margin is how far the region reaches over the outline before traces are counted,
// in pixels: half the height of the text, so that neither the length of a line nor
// what a tight box cut off is told; at least four.
func (v Veil) Margin() float64 {
	if v.margin > 0 {
		return v.margin
	}
	letters := v.Letters
	if b := v.Box(); letters == 0 && v.Reason.OfText() {
		letters = min(b.Dx(), b.Dy(), mostLetters)
	}
	return math.Max(leastMargin, float64(letters)/2)
}

// region is what is hidden of a picture: the outline, grown.
type region struct {
	veil Veil
	grow float64         // of outlines that are no rectangle
	rect image.Rectangle // of those that are: grown already, to whole blocks
	box  image.Rectangle // around all of it, inside the picture
	rim  float64         // how wide what lies outside fades, in pixels
}

func (v Veil) region(bounds image.Rectangle, t Traces) region {
	bx, by := max(1, t.Block.X), max(1, t.Block.Y)
	g := v.Margin() + float64(t.Reach)
	r := region{veil: v}
	if v.Shape == Rect {
		r.rect = toBlocks(v.Bounds.Inset(-int(math.Ceil(g))), bx, by)
		r.box = r.rect.Intersect(bounds)
	} else {
		// Each pixel of a block lies no further from another of it than its corners do.
		r.grow = g + math.Hypot(float64(bx-1), float64(by-1))
		// An ellipse grows faster along its longer side than outside says.
		b := v.Box()
		long := r.grow
		if short := min(b.Dx(), b.Dy()); v.Shape == Ellipse && short > 0 {
			long *= float64(max(b.Dx(), b.Dy())) / float64(short)
		}
		r.box = b.Inset(-int(math.Ceil(long)) - 1).Intersect(bounds)
	}
	r.rim = math.Max(2, float64(min(r.box.Dx(), r.box.Dy()))/30)
	return r
}

// toBlocks grows a rectangle outwards to whole blocks.
func toBlocks(r image.Rectangle, bx, by int) image.Rectangle {
	down := func(v, n int) int { return int(math.Floor(float64(v)/float64(n))) * n }
	return image.Rect(down(r.Min.X, bx), down(r.Min.Y, by), -down(-r.Max.X, bx), -down(-r.Max.Y, by))
}

// outside is how far the middle of a pixel lies outside the region, in pixels.
func (r *region) outside(x, y int) float64 {
	if r.veil.Shape == Rect {
		return outsideRect(r.rect, float64(x)+0.5, float64(y)+0.5)
	}
	return r.veil.outside(x, y) - r.grow
}

// cover is how much of a pixel the veil covers: all inside, less and less over the rim.
func (r *region) cover(x, y int) float32 {
	out := r.outside(x, y)
	switch {
	case out <= 0:
		return 1
	case out >= r.rim:
		return 0
	}
	return float32(1 - out/r.rim)
}

// reach is the rectangle around all that the veil changes, its rim included.
func (r *region) reach() image.Rectangle { return r.box.Inset(-int(math.Ceil(r.rim))) }

// Reach is the rectangle around all that a veil changes in a picture of the given
// bounds, its rim included.
func (v Veil) Reach(bounds image.Rectangle, t Traces) image.Rectangle {
	r := v.region(bounds, t)
	if r.box.Empty() {
		return image.Rectangle{}
	}
	return r.reach().Intersect(bounds)
}

// Mask returns what tells whether a pixel of a picture is hidden.
func Mask(veils []Veil, on Canvas) func(x, y int) bool {
	var all []region
	for _, v := range veils {
		all = append(all, v.region(on.Bounds, on.Traces))
	}
	return func(x, y int) bool { return hidden(all, x, y) }
}
