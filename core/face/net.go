package face

import (
	"image"
	"runtime"
	"sync"
)

// plane is a stack of values over a picture: height × width × channels, in rows.
type plane struct {
	w, h, ch int
	v        []float32
}

func newPlane(w, h, ch int) plane { return plane{w, h, ch, make([]float32, w*h*ch)} }

func (p plane) row(y int) []float32 { return p.v[y*p.w*p.ch : (y+1)*p.w*p.ch] }

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

// input is a picture as the net takes it, with black around it up to w × h.
func input(m *image.RGBA, w, h int) plane {
	p := newPlane(w, h, 3)
	for y := range h {
		row := p.row(y)
		for x := range w {
			var px [3]uint8
			if x < m.Rect.Dx() && y < m.Rect.Dy() {
				px = [3]uint8(m.Pix[y*m.Stride+4*x:])
			}
			row[3*x], row[3*x+1], row[3*x+2] = levels[0][px[0]], levels[1][px[1]], levels[2][px[2]]
		}
	}
	return p
}

// answer runs the net: nine layers, each followed by a leaky rectifier and, but for the
// last two, by taking the largest of two by two.
func answer(in plane) plane {
	n := weights()
	p := n.first.pooled(in, 2)
	for i := range n.separable {
		step := 2
		if i == len(n.separable)-1 {
			step = 1
		}
		p = n.separable[i].pooled(p, step)
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

// pooled convolves, and takes the largest of two by two at every step-th place.
func (l *layer) pooled(in plane, step int) plane {
	w, h := in.w, in.h
	if l.deep == nil { // the first layer has no rim
		w, h = w-2, h-2
	}
	out := newPlane((w+step-1)/step, (h+step-1)/step, l.out)
	rows(out.h, func(from, to int) {
		gathered := make([]float32, w*l.taps())
		made := make([]float32, w*l.out)
		for r := from; r < to; r++ {
			into := out.row(r)
			for y := r * step; y < min(r*step+2, h); y++ {
				l.gather(gathered, in, y, w)
				l.mix(made, gathered, w)
				l.largest(into, made, w, step, y == r*step)
			}
			rectify(into) // the largest of what is rectified, as that keeps their order
		}
	})
	return out
}

// gather lays beside each other what makes each output of a row.
func (l *layer) gather(into []float32, in plane, y, w int) {
	if l.deep != nil {
		l.channels(into, in, y)
		return
	}
	for dy := range 3 {
		row := in.row(y + dy)
		for x := range w {
			dst, src := (*[9]float32)(into[x*27+9*dy:]), (*[9]float32)(row[3*x:])
			*(*[4]float32)(dst[:]), *(*[4]float32)(dst[4:]), dst[8] = [4]float32(src[:]), [4]float32(src[4:]), src[8]
		}
	}
}

// channels convolves each channel of a row alone, with nothing around the picture.
func (l *layer) channels(into []float32, in plane, y int) {
	clear(into[:in.w*in.ch])
	for dy := range 3 {
		if y+dy-1 < 0 || y+dy-1 >= in.h {
			continue
		}
		row := in.row(y + dy - 1)
		for dx := range 3 {
			k := l.deep[(3*dy+dx)*in.ch : (3*dy+dx+1)*in.ch]
			from, to := max(0, 1-dx), min(in.w, in.w+1-dx)
			spread(into[from*in.ch:to*in.ch], row[(from+dx-1)*in.ch:], k)
		}
	}
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
		return n
	}
	pairWide(&made[0], &made[0], l.out, n)
	largestOf(into[:n*l.out], made)
	return n
}

// plain mixes channels and nothing else: the answer, padded to whole blocks.
func (l *layer) plain(in plane) plane {
	out := newPlane(in.w, in.h, l.out)
	rows(in.h, func(from, to int) {
		for y := from; y < to; y++ {
			l.mix(out.row(y), in.row(y), in.w)
		}
	})
	return out
}

// rows shares rows out among the cores.
func rows(n int, do func(from, to int)) {
	parts := min(runtime.GOMAXPROCS(0), n)
	var wg sync.WaitGroup
	for i := range parts {
		wg.Go(func() { do(i*n/parts, (i+1)*n/parts) })
	}
	wg.Wait()
}
