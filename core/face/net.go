package face

import (
	"image"

	"mivlet/core/cores"
)

// plane is a stack of values over a picture: height × width × channels, in rows, with a rim of nothing
// around it where a layer reads beyond.
type plane struct {
	w, h, ch int
	rim      int // pixels
	v        []float32
}

func newPlane(w, h, ch, rim int) plane {
	p := plane{w: w, h: h, ch: ch, rim: rim}
	p.v = make([]float32, (h+2*rim)*p.step())
	return p
}

// step is how many values lie between the same places of two rows.
func (p plane) step() int { return (p.w + 2*p.rim) * p.ch }

// row is a row without its rim.
func (p plane) row(y int) []float32 { return p.v[(y+p.rim)*p.step()+p.rim*p.ch:][:p.w*p.ch] }

// cell is how many pixels of the net's input one cell of its answer stands for.
const cell = 32

// mean is what the net takes off red, green and blue before it looks.
var mean = [3]float32{117.001, 114.697, 97.404}

// anchors are the usual sizes of faces that the net measures by, in cells.
var anchors = [5][2]float64{{1.603231, 2.094468}, {6.041143, 7.080126}, {2.882459, 3.518061}, {4.266906, 5.178857}, {9.041765, 10.66308}}

// levels are what the net takes for each value of red, green and blue.
var levels = func() (t [3][256]float32) {
	for c := range t {
		for v := range t[c] {
			t[c][v] = (float32(v) - mean[c]) / 255
		}
	}
	return t
}()

// pixels writes a row of a picture as the net takes it, with black to the right of it and below.
func pixels(row []float32, m *image.RGBA, y int) {
	x := 0
	if y < m.Rect.Dy() {
		px := m.Pix[y*m.Stride:][:4*min(m.Rect.Dx(), len(row)/3)]
		for ; len(px) >= 4; px, x = px[4:], x+1 {
			p, to := (*[3]uint8)(px), (*[3]float32)(row[3*x:])
			to[0], to[1], to[2] = levels[0][p[0]], levels[1][p[1]], levels[2][p[2]]
		}
	}
	for ; 3*x < len(row); x++ {
		*(*[3]float32)(row[3*x:]) = [3]float32{levels[0][0], levels[1][0], levels[2][0]}
	}
}

// answer runs the net over a picture with black around it up to w × h: nine layers, each followed by a
// leaky rectifier and, but for the last two, by taking the largest of two by two.
func answer(m *image.RGBA, w, h int) plane {
	n := weights()
	p := n.first.ofPixels(m, w, h)
	for i := range n.separable {
		step, rim := 2, 1
		if i == len(n.separable)-1 {
			step, rim = 1, 0
		}
		p = n.separable[i].pooled(p, step, rim)
	}
	return n.last.plain(p)
}

// layer is a convolution of 3 × 3, whole or by channels and then across them.
type layer struct {
	in, out int
	deep    []float32 // by channels: 9 × in; nil for a whole one
	across  []float32 // in blocks of outputs: out/lanes × taps × lanes
	bias    []float32
}

// taps is how many values make one output.
func (l *layer) taps() int { return len(l.across) / l.out }

// ofPixels is the first layer, which has no rim: it reads the picture itself.
func (l *layer) ofPixels(m *image.RGBA, w, h int) plane {
	wide, high := w-2, h-2
	out := newPlane((wide+1)/2, (high+1)/2, l.out, 1)
	cores.Share(out.h, func(from, to int) {
		const four = 4 // rows of pixels for two of outputs, of which the first two were the last two before
		read, made := make([]float32, four*3*w), make([]float32, wide*l.out)
		next := 2 * from
		for r := from; r < to; r++ {
			if r > from {
				copy(read, read[2*3*w:])
			}
			for ; next < min(2*r+four, h); next++ {
				pixels(read[(next-2*r)*3*w:][:3*w], m, next)
			}
			for y := 2 * r; y < min(2*r+2, high); y++ {
				l.mix(made, gathered{v: read[(y-2*r)*3*w:], step: 3, run: 9, runs: 3, next: 3 * w}, wide)
				l.largest(out.row(r), made, wide, 2, y == 2*r)
			}
			rectify(out.row(r)) // the largest of what is rectified, as that keeps their order
		}
	})
	return out
}

// pooled convolves by channels and across them, and takes the largest of two by two at every step-th place.
func (l *layer) pooled(in plane, step, rim int) plane {
	out := newPlane((in.w+step-1)/step, (in.h+step-1)/step, l.out, rim)
	cores.Share(out.h, func(from, to int) {
		alone, made := make([]float32, in.w*in.ch), make([]float32, in.w*l.out)
		for r := from; r < to; r++ {
			for y := r * step; y < min(r*step+2, in.h); y++ {
				l.channels(alone, in, y)
				l.mix(made, gathered{v: alone, step: in.ch, run: in.ch, runs: 1}, in.w)
				l.largest(out.row(r), made, in.w, step, y == r*step)
			}
			rectify(out.row(r))
		}
	})
	return out
}

// largest keeps the largest of neighbours in a row, and of what is there already unless
// the row is the first.
func (l *layer) largest(into, made []float32, w, step int, first bool) {
	pairs := 0
	if step == 2 {
		pairs = l.pairs(into, made, w/2, first)
	}
	for x := pairs; x < len(into)/l.out; x++ {
		dst := into[x*l.out : (x+1)*l.out]
		for n := x * step; n < min(x*step+2, w); n++ {
			src := made[n*l.out:][:len(dst)]
			if first && n == x*step {
				copy(dst, src)
			} else {
				largestOf(dst, src)
			}
		}
	}
}

// pairs is largest for the first n places of a row, of two neighbours each. It returns how many
// it has done: all, or none.
func (l *layer) pairs(into, made []float32, n int, first bool) int {
	if !wide || l.out%8 != 0 || n == 0 {
		return 0
	}
	if first {
		pairWide(&into[0], &made[0], l.out, n)
	} else {
		pairMoreWide(&into[0], &made[0], l.out, n)
	}
	return n
}

// plain mixes channels and nothing else: the answer, padded to whole blocks.
func (l *layer) plain(in plane) plane {
	out := newPlane(in.w, in.h, l.out, 0)
	cores.Share(in.h, func(from, to int) {
		for y := from; y < to; y++ {
			l.mix(out.row(y), gathered{v: in.row(y), step: in.ch, run: in.ch, runs: 1}, in.w)
		}
	})
	return out
}
