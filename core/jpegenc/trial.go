package jpegenc

import (
	"image"
	"math"

	"mivlet/core/t81"
)

// Trial tells what a quality would leave of a grey picture. It transforms the picture once. It
// is safe for use by several goroutines at a time.
type Trial struct {
	width, height int
	across        int
	blocks        [][64]float32 // as the transform gives them
}

// NewTrial transforms m.
func NewTrial(m *image.Gray) *Trial {
	p := layOut(m, FourToOne)
	t := &Trial{width: p.width, height: p.height, across: p.across, blocks: make([][64]float32, p.across*p.down)}
	s, rows := newStrip(p), reader(m)
	for row := range p.down {
		s.read(rows, row)
		for unit := range p.across {
			forward(&t.blocks[row*p.across+unit], s.luma[unit*8:], s.wide)
		}
	}
	return t
}

// At returns the picture as it is after writing it with a quality from 1 to 100 and reading it
// again: rows of whole code values, less 128.
func (t *Trial) At(quality int) []float32 {
	luma, _ := tablesFor(quality)
	divisors, factors := luma.divisors(), luma.factors()
	out := make([]float32, t.width*t.height)
	var steps block
	var w weigher
	var b [64]float32
	for i := range t.blocks {
		w.weigh(&steps, &t.blocks[i], divisors, usualBits[0])
		for k, at := range t81.Zigzag {
			b[at] = float32(steps.at[k]) * factors[k]
		}
		inverse(&b)
		x, y := i%t.across*8, i/t.across*8
		for row := range min(8, t.height-y) {
			into := out[(y+row)*t.width+x:][:min(8, t.width-x)]
			for j := range into {
				v := min(max(b[row*8+j], -128), 127)
				into[j] = float32(math.Floor(float64(v) + 0.5))
			}
		}
	}
	return out
}
