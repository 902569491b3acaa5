package veil

import (
	"image"
	"math"
)

// Rows gives one row of a picture in linear light: the pixels from x0 to x1 of
// row y, ch channels each (with alpha: premultiplied), into dst.
type Rows func(dst []float32, y, x0, x1 int)

// Layer is a veil made ready for one picture: the averages of its cells and the
// region they are drawn to. It holds nothing else of the picture.
type Layer struct {
	veil       Veil
	box        image.Rectangle // of the region, inside the picture
	cols, rows int
	ch         int
	cells      []float32 // ch values a cell
	rim        float64   // width of the feathered rim outside, in pixels
}

// steps is how finely light is told apart when it is averaged: whole numbers
// add up without rounding, so that the average depends on the sum alone.
const steps = 1 << 16

// Make averages the cells of v over a picture of the given bounds. It gives nil
// where the veil lies outside the picture.
func Make(v Veil, bounds image.Rectangle, ch int, read Rows) *Layer {
	l := &Layer{veil: v, box: v.Box().Intersect(bounds), ch: ch}
	if l.box.Empty() {
		return nil
	}
	w, h := l.box.Dx(), l.box.Dy()
	short := min(w, h)
	cells := max(1, min(v.Cells, MostCells, short/LeastCell))
	if v.Style == Solid {
		l.cols, l.rows = 1, 1
	} else {
		side := float64(short) / float64(cells)
		l.cols, l.rows = max(1, int(math.Round(float64(w)/side))), max(1, int(math.Round(float64(h)/side)))
	}
	l.rim = rim(short)
	l.average(read)
	return l
}

// average fills the cells. Only pixels inside the region count.
func (l *Layer) average(read Rows) {
	sums := make([]uint64, l.cols*l.rows*l.ch)
	counts := make([]uint64, l.cols*l.rows)
	all, n := make([]uint64, l.ch), uint64(0)
	line := make([]float32, l.box.Dx()*l.ch)
	for y := l.box.Min.Y; y < l.box.Max.Y; y++ {
		read(line, y, l.box.Min.X, l.box.Max.X)
		row := (y - l.box.Min.Y) * l.rows / l.box.Dy()
		for x := range l.box.Dx() {
			if l.veil.outside(l.box.Min.X+x, y) > 0 {
				continue
			}
			cell := row*l.cols + x*l.cols/l.box.Dx()
			for c := range l.ch {
				v := uint64(math.Round(float64(line[x*l.ch+c]) * steps))
				sums[cell*l.ch+c] += v
				all[c] += v
			}
			counts[cell]++
			n++
		}
	}
	l.cells = make([]float32, len(sums))
	for i := range sums {
		sum, count := sums[i], counts[i/l.ch]
		if count == 0 {
			sum, count = all[i%l.ch], max(n, 1) // a corner that the outline leaves out
		}
		l.cells[i] = float32(float64(sum/count) / steps)
	}
}

// Touches reports whether the veil or its rim reaches a row.
func (l *Layer) Touches(y int) bool {
	rim := int(math.Ceil(l.rim))
	return y >= l.box.Min.Y-rim && y < l.box.Max.Y+rim
}

// Draw hides the region in one row of light: the pixels from x0 on. Inside the
// region nothing of the picture stays; the rim outside fades into it.
func (l *Layer) Draw(line []float32, y, x0 int) {
	rim := int(math.Ceil(l.rim))
	from := max(x0, l.box.Min.X-rim)
	to := min(x0+len(line)/l.ch, l.box.Max.X+rim)
	for x := from; x < to; x++ {
		out := l.veil.outside(x, y)
		if out >= l.rim {
			continue
		}
		cover := float32(1)
		if out > 0 {
			cover = float32(1 - out/l.rim)
		}
		px := line[(x-x0)*l.ch : (x-x0+1)*l.ch]
		for c := range px {
			v := l.light(x, y, c)
			if cover == 1 {
				px[c] = v
			} else {
				px[c] += cover * (v - px[c])
			}
		}
	}
}

// light is what the cells give at a pixel.
func (l *Layer) light(x, y, c int) float32 {
	fx := (float64(x-l.box.Min.X)+0.5)*float64(l.cols)/float64(l.box.Dx()) - 0.5
	fy := (float64(y-l.box.Min.Y)+0.5)*float64(l.rows)/float64(l.box.Dy()) - 0.5
	if l.veil.Style != Soft {
		return l.cell(int(math.Floor(fx+0.5)), int(math.Floor(fy+0.5)), c)
	}
	ix, iy := math.Floor(fx), math.Floor(fy)
	tx, ty := float32(fx-ix), float32(fy-iy)
	a, b := l.cell(int(ix), int(iy), c), l.cell(int(ix)+1, int(iy), c)
	d, e := l.cell(int(ix), int(iy)+1, c), l.cell(int(ix)+1, int(iy)+1, c)
	return (a*(1-tx)+b*tx)*(1-ty) + (d*(1-tx)+e*tx)*ty
}

func (l *Layer) cell(col, row, c int) float32 {
	col, row = min(max(col, 0), l.cols-1), min(max(row, 0), l.rows-1)
	return l.cells[(row*l.cols+col)*l.ch+c]
}
