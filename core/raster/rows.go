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
func adder(m image.Image, opaque bool) rowAdder {
	switch m := m.(type) {
	case *image.YCbCr:
		return ycbcrAdder(m)
	case *image.RGBA:
		if opaque {
			return bytesAdder(m.Pix, m.Stride)
		}
	case *image.NRGBA:
		if opaque {
			return bytesAdder(m.Pix, m.Stride)
		}
	case *image.Gray:
		return grayAdder(m)
	}
	if opaque {
		return anyOpaqueAdder(m)
	}
	return anyAlphaAdder(m)
}

func ycbcrAdder(m *image.YCbCr) rowAdder {
	return func(acc []float32, y, x0, x1, k int) {
		y += m.Rect.Min.Y
		luma := m.Y[m.YOffset(m.Rect.Min.X, y):]
		i, n := 0, 0
		for x := x0; x < x1; x++ {
			c := m.COffset(m.Rect.Min.X+x, y)
			r, g, b := color.YCbCrToRGB(luma[x], m.Cb[c], m.Cr[c])
			acc[i] += toLinear[r]
			acc[i+1] += toLinear[g]
			acc[i+2] += toLinear[b]
			if n++; n == k {
				i, n = i+3, 0
			}
		}
	}
}

func bytesAdder(pix []uint8, stride int) rowAdder {
	return func(acc []float32, y, x0, x1, k int) {
		row := pix[y*stride+4*x0 : y*stride+4*x1]
		i, n := 0, 0
		for ; len(row) >= 4; row = row[4:] {
			acc[i] += toLinear[row[0]]
			acc[i+1] += toLinear[row[1]]
			acc[i+2] += toLinear[row[2]]
			if n++; n == k {
				i, n = i+3, 0
			}
		}
	}
}

func grayAdder(m *image.Gray) rowAdder {
	return func(acc []float32, y, x0, x1, k int) {
		i, n := 0, 0
		for _, v := range m.Pix[y*m.Stride+x0 : y*m.Stride+x1] {
			l := toLinear[v]
			acc[i] += l
			acc[i+1] += l
			acc[i+2] += l
			if n++; n == k {
				i, n = i+3, 0
			}
		}
	}
}

func anyOpaqueAdder(m image.Image) rowAdder {
	o := m.Bounds().Min
	return func(acc []float32, y, x0, x1, k int) {
		i, n := 0, 0
		for x := x0; x < x1; x++ {
			r, g, b, _ := m.At(o.X+x, o.Y+y).RGBA()
			acc[i] += light16(r)
			acc[i+1] += light16(g)
			acc[i+2] += light16(b)
			if n++; n == k {
				i, n = i+3, 0
			}
		}
	}
}

func anyAlphaAdder(m image.Image) rowAdder {
	o := m.Bounds().Min
	return func(acc []float32, y, x0, x1, k int) {
		i, n := 0, 0
		for x := x0; x < x1; x++ {
			p := color.NRGBA64Model.Convert(m.At(o.X+x, o.Y+y)).(color.NRGBA64)
			a := float32(p.A) / 65535
			acc[i] += a * light16(uint32(p.R))
			acc[i+1] += a * light16(uint32(p.G))
			acc[i+2] += a * light16(uint32(p.B))
			acc[i+3] += a
			if n++; n == k {
				i, n = i+4, 0
			}
		}
	}
}

// light16 is linear light of a 16-bit code value; 8-bit sources hit the table
// exactly, deeper ones are interpolated.
func light16(v uint32) float32 {
	hi := v / 257
	rest := float32(v%257) / 257
	if hi == 255 {
		return 1
	}
	return toLinear[hi] + rest*(toLinear[hi+1]-toLinear[hi])
}
