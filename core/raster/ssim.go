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

var gaussian = func() (g [window * window]float32) {
	sum := 0.0
	at := func(i int) float64 { d := float64(i - window/2); return math.Exp(-d * d / (2 * 1.5 * 1.5)) }
	for y := range window {
		for x := range window {
			sum += at(x) * at(y)
		}
	}
	for y := range window {
		for x := range window {
			g[y*window+x] = float32(at(x) * at(y) / sum)
		}
	}
	return g
}()

// ssim looks at a window at every step-th pixel of every step-th row. Where planes are made of
// tiles, it leaves out the windows that lie on two of them: the edge between them would be taken
// for structure that is kept. The tile of a plane of one piece is 0.
func ssim(a, b plane, step, tile int) float64 {
	onTwo := func(at int) bool { return tile > 0 && at%tile+window > tile }
	if a.w != b.w || a.h != b.h {
		return 0
	}
	const c1, c2 = (0.01 * 255) * (0.01 * 255), (0.03 * 255) * (0.03 * 255)
	sum, n := 0.0, 0
	for y := 0; y == 0 || y+window <= a.h; y += step {
		if onTwo(y) {
			continue
		}
		for x := 0; x == 0 || x+window <= a.w; x += step {
			if onTwo(x) {
				continue
			}
			var ma, mb, aa, bb, ab, weight float32
			for j := 0; j < window && y+j < a.h; j++ {
				from := (y+j)*a.w + x
				width := min(window, a.w-x)
				ra, rb := a.v[from:from+width], b.v[from:from+width]
				g := gaussian[j*window : j*window+width]
				for i, w := range g {
					va, vb := ra[i], rb[i]
					ma += w * va
					mb += w * vb
					aa += w * va * va
					bb += w * vb * vb
					ab += w * va * vb
					weight += w
				}
			}
			ma, mb, aa, bb, ab = ma/weight, mb/weight, aa/weight, bb/weight, ab/weight
			va, vb, cov := float64(aa-ma*ma), float64(bb-mb*mb), float64(ab-ma*mb)
			fa, fb := float64(ma)+128, float64(mb)+128
			sum += (2*fa*fb + c1) * (2*cov + c2) / ((fa*fa + fb*fb + c1) * (va + vb + c2))
			n++
		}
	}
	return sum / float64(n)
}
