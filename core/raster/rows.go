package raster

import (
	"image"
	"image/color"
)

// A rowAdder adds one row of stored pixels to acc in linear light, folding k
// pixels into one. It reads the pixels from x0 to x1 of row y. acc holds three
// channels a pixel, or four with premultiplied alpha.
type rowAdder func(acc []float32, y, x0, x1, k int)

// adder returns the row adder for an image: a fast path for what decoders give
// for photographs and screenshots, a general one for the rest.
func adder(m image.Image, opaque bool, in *space) rowAdder {
	switch m := m.(type) {
	case *image.YCbCr:
		return ycbcrAdder(m, in)
	case *image.RGBA:
		if opaque {
			return bytesAdder(m.Pix, m.Stride, in)
		}
	case *image.NRGBA:
		if opaque {
			return bytesAdder(m.Pix, m.Stride, in)
		}
	case *image.Gray:
		return greyAdder(m, in)
	}
	if opaque {
		return anyOpaqueAdder(m, in)
	}
	return anyAlphaAdder(m, in)
}

func ycbcrAdder(m *image.YCbCr, in *space) rowAdder {
	lr, lg, lb := in.light[0], in.light[1], in.light[2]
	return func(acc []float32, y, x0, x1, k int) {
		y += m.Rect.Min.Y
		luma := m.Y[m.YOffset(m.Rect.Min.X, y):]
		i, n := 0, 0
		for x := x0; x < x1; x++ {
			c := m.COffset(m.Rect.Min.X+x, y)
			r, g, b := color.YCbCrToRGB(luma[x], m.Cb[c], m.Cr[c])
			acc[i] += lr[r]
			acc[i+1] += lg[g]
			acc[i+2] += lb[b]
			if n++; n == k {
				i, n = i+3, 0
			}
		}
	}
}

func bytesAdder(pix []uint8, stride int, in *space) rowAdder {
	lr, lg, lb := in.light[0], in.light[1], in.light[2]
	return func(acc []float32, y, x0, x1, k int) {
		row := pix[y*stride+4*x0 : y*stride+4*x1]
		i, n := 0, 0
		for ; len(row) >= 4; row = row[4:] {
			acc[i] += lr[row[0]]
			acc[i+1] += lg[row[1]]
			acc[i+2] += lb[row[2]]
			if n++; n == k {
				i, n = i+3, 0
			}
		}
	}
}

func greyAdder(m *image.Gray, in *space) rowAdder {
	lr, lg, lb := in.light[0], in.light[1], in.light[2]
	return func(acc []float32, y, x0, x1, k int) {
		i, n := 0, 0
		for _, v := range m.Pix[y*m.Stride+x0 : y*m.Stride+x1] {
			acc[i] += lr[v]
			acc[i+1] += lg[v]
			acc[i+2] += lb[v]
			if n++; n == k {
				i, n = i+3, 0
			}
		}
	}
}

func anyOpaqueAdder(m image.Image, in *space) rowAdder {
	o := m.Bounds().Min
	return func(acc []float32, y, x0, x1, k int) {
		i, n := 0, 0
		for x := x0; x < x1; x++ {
			r, g, b, _ := m.At(o.X+x, o.Y+y).RGBA()
			acc[i] += light16(in.light[0], r)
			acc[i+1] += light16(in.light[1], g)
			acc[i+2] += light16(in.light[2], b)
			if n++; n == k {
				i, n = i+3, 0
			}
		}
	}
}

func anyAlphaAdder(m image.Image, in *space) rowAdder {
	o := m.Bounds().Min
	return func(acc []float32, y, x0, x1, k int) {
		i, n := 0, 0
		for x := x0; x < x1; x++ {
			p := color.NRGBA64Model.Convert(m.At(o.X+x, o.Y+y)).(color.NRGBA64)
			a := float32(p.A) / 65535
			acc[i] += a * light16(in.light[0], uint32(p.R))
			acc[i+1] += a * light16(in.light[1], uint32(p.G))
			acc[i+2] += a * light16(in.light[2], uint32(p.B))
			acc[i+3] += a
			if n++; n == k {
				i, n = i+4, 0
			}
		}
	}
}

// light16 is linear light of a 16-bit code value; 8-bit sources hit the table
// exactly, deeper ones are interpolated.
func light16(t *[256]float32, v uint32) float32 {
	hi := v / 257
	rest := float32(v%257) / 257
	if hi == 255 {
		return t[255]
	}
	return t[hi] + rest*(t[hi+1]-t[hi])
}
