package jpegenc

import (
	"image"
	"math"
	"math/bits"

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
		clear(b[:])
		for some := steps.mask; some != 0; some &= some - 1 {
			k := bits.TrailingZeros64(some) & 63
			b[t81.Zigzag[k]&63] = float32(steps.at[k]) * factors[k]
		}
		values(&b)
		x, y := i%t.across*8, i/t.across*8
		for row := range min(8, t.height-y) {
			copy(out[(y+row)*t.width+x:][:min(8, t.width-x)], b[row*8:])
		}
	}
	return out
}

// values makes rows of whole code values, less 128, of coefficients that have been brought to the scale of
// the transform.
func values(b *[64]float32) {
	if wide {
		valuesWide(b)
		return
	}
	valuesPlain(b)
}

func valuesPlain(b *[64]float32) {
	inverse(b)
	for i, v := range b {
		b[i] = float32(math.Floor(float64(min(max(v, -128), 127)) + 0.5))
	}
}
