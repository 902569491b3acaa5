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

// ycbcrAdder is the fast path for photographs. It turns luma and chroma into
// light without ever clamping to a code value: the tables reach as far as the
// sums can (ITU-T T.871 in 16.16 fixed point, as image/color has it), and what
// two pixels share of their chroma is worked out once.
func ycbcrAdder(m *image.YCbCr, in *space) rowAdder {
	lr, lg, lb := in.wide()
	shift := 0
	if m.SubsampleRatio == image.YCbCrSubsampleRatio420 || m.SubsampleRatio == image.YCbCrSubsampleRatio422 {
		shift = 1
	} else if m.SubsampleRatio != image.YCbCrSubsampleRatio444 && m.SubsampleRatio != image.YCbCrSubsampleRatio440 {
		return anyOpaqueAdder(m, in)
	}
	return func(acc []float32, y, x0, x1, k int) {
		y += m.Rect.Min.Y
		luma := m.Y[m.YOffset(m.Rect.Min.X+x0, y):][:x1-x0]
		c := m.COffset(m.Rect.Min.X, y)
		cb, cr := m.Cb[c:], m.Cr[c:]
		if shift == 1 && x0%2 == 0 && k%2 == 0 {
			// Two by two, with one chroma: the way of nearly every photograph.
			pairs := len(luma) / 2
			cb, cr := cb[x0/2:][:pairs], cr[x0/2:][:pairs]
			var r, g, b float32
			n := 0
			for i := range pairs {
				rr, gg, bb := chroma(cb[i], cr[i])
				y0, y1 := int32(luma[2*i])*0x10101, int32(luma[2*i+1])*0x10101
				r += lr[uint32(y0+rr)>>16&mask] + lr[uint32(y1+rr)>>16&mask]
				g += lg[uint32(y0+gg)>>16&mask] + lg[uint32(y1+gg)>>16&mask]
				b += lb[uint32(y0+bb)>>16&mask] + lb[uint32(y1+bb)>>16&mask]
				if n += 2; n == k {
					a := acc[:3]
					a[0] += r
					a[1] += g
					a[2] += b
					acc = acc[3:]
					r, g, b, n = 0, 0, 0, 0
				}
			}
			if n > 0 {
				acc[0] += r
				acc[1] += g
				acc[2] += b
			}
			if len(luma)%2 == 1 {
				at := x0/2 + pairs
				rr, gg, bb := chroma(m.Cb[c+at], m.Cr[c+at])
				v := int32(luma[len(luma)-1]) * 0x10101
				acc[0] += lr[uint32(v+rr)>>16&mask]
				acc[1] += lg[uint32(v+gg)>>16&mask]
				acc[2] += lb[uint32(v+bb)>>16&mask]
			}
			return
		}
		i, n := 0, 0
		for x, v := range luma {
			at := (x0 + x) >> shift
			rr, gg, bb := chroma(cb[at], cr[at])
			yy := int32(v) * 0x10101
			acc[i] += lr[uint32(yy+rr)>>16&mask]
			acc[i+1] += lg[uint32(yy+gg)>>16&mask]
			acc[i+2] += lb[uint32(yy+bb)>>16&mask]
			if n++; n == k {
				i, n = i+3, 0
			}
		}
	}
}

// chroma returns what a pixel's chroma adds to its luma for red, green and
// blue, in 16.16 fixed point, moved up by reach so that no sum is below nothing.
func chroma(cb, cr uint8) (r, g, b int32) {
	u, w := int32(cb)-128, int32(cr)-128
	return 91881*w + reach<<16, -22554*u - 46802*w + reach<<16, 116130*u + reach<<16
}

// reach is how far below nothing, and above all, the sums of luma and chroma
// can come.
const reach = 256

// mask keeps an index inside a wide table, so that the loop needs no check.
const mask = 1023

// wide returns the tables of light for values from -reach to 255+reach, with
// what lies outside clamped.
func (s *space) wide() (r, g, b *[mask + 1]float32) {
	s.once.Do(func() {
		for c := range s.reached {
			for i := range s.reached[c] {
				s.reached[c][i] = s.light[c][min(max(i-reach, 0), 255)]
			}
		}
	})
	return &s.reached[0], &s.reached[1], &s.reached[2]
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
