package raster

import (
	"image"
	"math"
)

// SSIM returns the mean structural similarity of two pictures of one size, from
// their luma: 1 for the same picture, less the more structure is lost (Wang,
// Bovik, Sheikh, Simoncelli, IEEE TIP 13(4), 2004: 11 × 11 Gaussian window, σ
// 1.5, K1 0.01, K2 0.03, L 255). Pictures smaller than the window are compared
// over what there is.
func SSIM(a, b image.Image) float64 { return ssim(luma(a), luma(b), 1, 0) }

// plane is one channel of a picture, less 128: values around nothing keep their
// precision when they are squared.
type plane struct {
	w, h int
	v    []float32
}

// luma is 0.299 R + 0.587 G + 0.114 B, full range (ITU-T T.871).
func luma(m image.Image) plane {
	b := m.Bounds()
	p := plane{b.Dx(), b.Dy(), make([]float32, b.Dx()*b.Dy())}
	if with, ok := m.(*image.NYCbCrA); ok && with.Opaque() {
		m = &with.YCbCr
	}
	switch m := m.(type) {
	case *image.YCbCr:
		for y := range p.h {
			row := m.Y[y*m.YStride:]
			for x := range p.w {
				p.v[y*p.w+x] = float32(row[x]) - 128
			}
		}
	case *image.Gray:
		for y := range p.h {
			row := m.Pix[y*m.Stride:]
			for x := range p.w {
				p.v[y*p.w+x] = float32(row[x]) - 128
			}
		}
	case *image.RGBA:
		for y := range p.h {
			row := m.Pix[y*m.Stride:]
			for x := range p.w {
				p.v[y*p.w+x] = 0.299*float32(row[4*x]) + 0.587*float32(row[4*x+1]) + 0.114*float32(row[4*x+2]) - 128
			}
		}
	default:
		for y := range p.h {
			for x := range p.w {
				r, g, bl, _ := m.At(b.Min.X+x, b.Min.Y+y).RGBA()
				p.v[y*p.w+x] = (0.299*float32(r)+0.587*float32(g)+0.114*float32(bl))/257 - 128
			}
		}
	}
	return p
}

// grey returns the plane as a picture, in whole code values.
func (p plane) grey() *image.Gray {
	m := image.NewGray(image.Rect(0, 0, p.w, p.h))
	for i, v := range p.v {
		m.Pix[i] = uint8(v + 128.5)
	}
	return m
}

const window = 11

// gaussian is a row of the window; the window is the product of a row and a column.
var gaussian = func() (g [window]float32) {
	sum := 0.0
	at := func(i int) float64 { d := float64(i - window/2); return math.Exp(-d * d / (2 * 1.5 * 1.5)) }
	for x := range window {
		sum += at(x)
	}
	for x := range window {
		g[x] = float32(at(x) / sum)
	}
	return g
}()

// ssim looks at a window at every step-th pixel of every step-th row. Where planes are made of
// tiles, it leaves out the windows that lie on two of them: the edge between them would be taken
// for structure that is kept. The tile of a plane of one piece is 0.
func ssim(a, b plane, step, tile int) float64 { return newJudge(a, step, tile).of(b) }

// judge tells the structural similarity of many planes with one. It is safe for use by several
// goroutines at a time.
type judge struct {
	plane
	left, top []int     // where windows begin
	mean      []float32 // of each window, line by line
	square    []float32 // mean of the squares
}

func newJudge(a plane, step, tile int) *judge {
	j := &judge{plane: a, left: starts(a.w, step, tile), top: starts(a.h, step, tile)}
	j.windows(func(y int, into []sums) {
		row := a.v[y*a.w : (y+1)*a.w]
		for i, at := range j.left {
			var s sums
			for k, v := range row[at:min(at+window, a.w)] {
				w := gaussian[k] * v
				s[0] += w
				s[1] += w * v
			}
			into[i] = s
		}
	}, func(s sums) { j.mean, j.square = append(j.mean, s[0]), append(j.square, s[1]) })
	return j
}

// starts are where the windows begin along a side.
func starts(side, step, tile int) []int {
	all := []int{}
	for at := 0; at == 0 || at+window <= side; at += step {
		if tile == 0 || at%tile+window <= tile {
			all = append(all, at)
		}
	}
	return all
}

// sums are what is added up over a window, or over a row of it.
type sums [3]float32

// windows gives the sums over each window, line by line. Those over a row of it are worked out
// once for all windows that share it.
func (j *judge) windows(row func(y int, into []sums), give func(sums)) {
	var rows [window][]sums // by the row's number, modulo the window
	for i := range rows {
		rows[i] = make([]sums, len(j.left))
	}
	across, next := weight(min(window, j.w)), 0 // next is the first row that has not been worked out
	for _, top := range j.top {
		end := min(top+window, j.h)
		for y := max(next, top); y < end; y++ {
			row(y, rows[y%window])
		}
		next = end
		all := across * weight(end-top)
		for i := range j.left {
			var s sums
			for y := top; y < end; y++ {
				part, w := &rows[y%window][i], gaussian[y-top]/all
				s[0] += w * part[0]
				s[1] += w * part[1]
				s[2] += w * part[2]
			}
			give(s)
		}
	}
}

// weight is that of the first n pixels of a row.
func weight(n int) (sum float32) {
	for _, w := range gaussian[:n] {
		sum += w
	}
	return sum
}

// of returns the structural similarity of a plane; 0 for one of another size.
func (j *judge) of(b plane) float64 {
	if j.w != b.w || j.h != b.h {
		return 0
	}
	const c1, c2 = (0.01 * 255) * (0.01 * 255), (0.03 * 255) * (0.03 * 255)
	sum, n := 0.0, 0
	j.windows(func(y int, into []sums) {
		ra, rb := j.v[y*j.w:(y+1)*j.w], b.v[y*j.w:(y+1)*j.w]
		for i, at := range j.left {
			end := min(at+window, j.w)
			pa, pb := ra[at:end], rb[at:end]
			var mean, square, both float32
			for k, v := range pb {
				w := gaussian[k] * v
				mean += w
				square += w * v
				both += w * pa[k]
			}
			into[i] = sums{mean, square, both}
		}
	}, func(s sums) {
		ma, mb := j.mean[n], s[0]
		va, vb, cov := float64(j.square[n]-ma*ma), float64(s[1]-mb*mb), float64(s[2]-ma*mb)
		fa, fb := float64(ma)+128, float64(mb)+128
		sum += (2*fa*fb + c1) * (2*cov + c2) / ((fa*fa + fb*fb + c1) * (va + vb + c2))
		n++
	})
	return sum / float64(n)
}
