package raster

import (
	"encoding/binary"
	"image"
	"image/color"
	"math"
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

// ycbcrAdder reads photographs: luma and chroma turn into light without ever
// being clamped to a code value, as the tables reach as far as the sums can.
func ycbcrAdder(m *image.YCbCr, in *space) rowAdder {
	tables := in.wide()
	lr, lg, lb := &tables[0], &tables[1], &tables[2]
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
		if k == 1 && shift == 1 && x0%2 == 0 {
			even := len(luma) &^ 1
			addLight(acc[:3*even], luma[:even], cb[x0/2:], cr[x0/2:], tables, true)
			acc, luma, x0 = acc[3*even:], luma[even:], x0+even
		}
		if k == 1 && shift == 0 {
			addLight(acc, luma, cb[x0:], cr[x0:], tables, false)
			return
		}
		if k > 1 && k <= few && shift == 0 {
			addFolded(acc, luma, cb[x0:], cr[x0:], k, tables)
			return
		}
		if k > 1 && k <= mostPixels && shift == 1 {
			runs(acc, luma, cb[x0/2:], cr[x0/2:], x0%2 == 1, k, lr, lg, lb)
			return
		}
		i, n := 0, 0
		for x, v := range luma {
			at := (x0 + x) >> shift
			rr, gg, bb := chroma(cb[at], cr[at])
			acc[i] += toFloat * float32(int32(lr[(int32(v)+rr)&mask]))
			acc[i+1] += toFloat * float32(int32(lg[(int32(v)+gg)&mask]))
			acc[i+2] += toFloat * float32(int32(lb[(int32(v)+bb)&mask]))
			if n++; n == k {
				i, n = i+3, 0
			}
		}
	}
}

// singles adds pixels that each have a chroma of their own.
func singles(acc []float32, luma, cb, cr []uint8, tables *[3][mask + 1]uint32) {
	lr, lg, lb := &tables[0], &tables[1], &tables[2]
	cb, cr = cb[:len(luma)], cr[:len(luma)]
	for i, y := range luma {
		rr, gg, bb := chroma(cb[i], cr[i])
		a := (*[3]float32)(acc[3*i:])
		a[0] += toFloat * float32(int32((*[256]uint32)(lr[rr&half:])[y]))
		a[1] += toFloat * float32(int32((*[256]uint32)(lg[gg&half:])[y]))
		a[2] += toFloat * float32(int32((*[256]uint32)(lb[bb&half:])[y]))
	}
}

// few is how many pixels have their light side by side before it is added up: it stays near the processor.
const few = 96

// folded adds pixels that each have a chroma of their own, each k of them to one pixel of acc; k is few at
// most.
func folded(acc []float32, luma, cb, cr []uint8, k int, tables *[3][mask + 1]uint32) {
	var room [3 * few]float32
	for len(luma) > 0 {
		n := min(few/k*k, len(luma))
		each := room[:3*n]
		clear(each)
		addLight(each, luma[:n], cb[:n], cr[:n], tables, false)
		luma, cb, cr = luma[n:], cb[n:], cr[n:]
		for len(each) > 0 {
			group := each[:min(3*k, len(each))]
			each = each[len(group):]
			r, g, b := acc[0], acc[1], acc[2]
			for ; len(group) >= 3; group = group[3:] {
				r, g, b = r+group[0], g+group[1], b+group[2]
			}
			acc[0], acc[1], acc[2] = r, g, b
			acc = acc[3:]
		}
	}
}

// pairs adds pixels of which each two beside each other share their chroma.
func pairs(acc []float32, luma, cb, cr []uint8, tables *[3][mask + 1]uint32) {
	lr, lg, lb := &tables[0], &tables[1], &tables[2]
	cb, cr = cb[:len(luma)/2], cr[:len(luma)/2]
	for i := range cb {
		rr, gg, bb := chroma(cb[i], cr[i])
		y0, y1 := luma[2*i], luma[2*i+1]
		a := (*[6]float32)(acc[6*i:])
		// A table moved by the chroma is indexed by the luma alone.
		t := (*[256]uint32)(lr[rr&half:])
		a[0] += toFloat * float32(int32(t[y0]))
		a[3] += toFloat * float32(int32(t[y1]))
		t = (*[256]uint32)(lg[gg&half:])
		a[1] += toFloat * float32(int32(t[y0]))
		a[4] += toFloat * float32(int32(t[y1]))
		t = (*[256]uint32)(lb[bb&half:])
		a[2] += toFloat * float32(int32(t[y0]))
		a[5] += toFloat * float32(int32(t[y1]))
	}
}

// runs adds runs of k pixels, each run to one pixel of acc, where each two pixels beside each
// other share their chroma. odd tells that the first pixel is the second of such two.
func runs(acc []float32, luma, cb, cr []uint8, odd bool, k int, lr, lg, lb *[mask + 1]uint32) {
	for at := 0; len(luma) > 0; acc = acc[3:] {
		run := luma[:min(k, len(luma))]
		luma = luma[len(run):]
		var r, g, b uint32
		for len(run) > 0 {
			rr, gg, bb := chroma(cb[at], cr[at])
			tr, tg, tb := (*[256]uint32)(lr[rr&half:]), (*[256]uint32)(lg[gg&half:]), (*[256]uint32)(lb[bb&half:])
			y0 := run[0]
			r, g, b = r+tr[y0], g+tg[y0], b+tb[y0]
			if odd || len(run) == 1 {
				if run = run[1:]; odd {
					at++
				}
				odd = !odd
				continue
			}
			y1 := run[1]
			r, g, b = r+tr[y1], g+tg[y1], b+tb[y1]
			run = run[2:]
			at++
		}
		a := acc[:3]
		a[0] += toFloat * float32(int32(r))
		a[1] += toFloat * float32(int32(g))
		a[2] += toFloat * float32(int32(b))
	}
}

// A pairAdder adds two rows of stored pixels at once, y and the one below it.
// It is the fast path for photographs that are brought down by much.
type pairAdder func(acc []float32, y, x0, x1, k int)

// quads returns the pair adder of a photograph whose four neighbours share
// their chroma, as nearly all do; nil for others. It wants even y, x0 and k.
func quads(m image.Image, in *space) pairAdder {
	p, ok := m.(*image.YCbCr)
	if !ok || p.SubsampleRatio != image.YCbCrSubsampleRatio420 || p.Rect.Min.X%2 != 0 || p.Rect.Min.Y%2 != 0 {
		return nil
	}
	tables := in.wide()
	return func(acc []float32, y, x0, x1, k int) {
		y += p.Rect.Min.Y
		pairs := (x1 - x0) / 2
		top := p.Y[p.YOffset(p.Rect.Min.X+x0, y):][:2*pairs]
		low := p.Y[p.YOffset(p.Rect.Min.X+x0, y+1):][:2*pairs]
		c := p.COffset(p.Rect.Min.X+x0, y)
		addFours(acc, top, low, p.Cb[c:][:pairs], p.Cr[c:][:pairs], tables, k/2)
	}
}

// fours adds groups of two by two pixels, each group to one pixel of acc, that each share their chroma.
func fours(acc []float32, top, low, cb, cr []uint8, tables *[3][mask + 1]uint32, group int) {
	lr, lg, lb := &tables[0], &tables[1], &tables[2]
	for i := 0; i < len(cb); {
		var r, g, b uint32
		for end := min(i+group, len(cb)); i < end; i++ {
			rr, gg, bb := chroma(cb[i], cr[i])
			y := uint32(binary.LittleEndian.Uint16(top[2*i:])) | uint32(binary.LittleEndian.Uint16(low[2*i:]))<<16
			y0, y1, y2, y3 := uint8(y), uint8(y>>8), uint8(y>>16), uint8(y>>24)
			// A table moved by the chroma is indexed by the luma alone.
			t := (*[256]uint32)(lr[rr&half:])
			r += t[y0] + t[y1] + t[y2] + t[y3]
			t = (*[256]uint32)(lg[gg&half:])
			g += t[y0] + t[y1] + t[y2] + t[y3]
			t = (*[256]uint32)(lb[bb&half:])
			b += t[y0] + t[y1] + t[y2] + t[y3]
		}
		a := acc[:3]
		a[0] += toFloat * float32(int32(r))
		a[1] += toFloat * float32(int32(g))
		a[2] += toFloat * float32(int32(b))
		acc = acc[3:]
	}
}

// chroma returns what a pixel's chroma adds to its luma for red, green and
// blue, rounded to whole code values (ITU-T T.871), and moved up by reach so
// that no sum is below nothing.
func chroma(cb, cr uint8) (r, g, b int32) {
	return ofChroma.red[cr], (ofChroma.greenCb[cb] + ofChroma.greenCr[cr]) >> 20, ofChroma.blue[cb]
}

// ofChroma holds the parts of chroma for each value of it: red and blue as
// whole code values, green in 12.20 fixed point, as two parts of it add up.
var ofChroma = func() (t struct{ red, blue, greenCb, greenCr [256]int32 }) {
	const one = 1 << 20
	for i := range 256 {
		v := float64(i - 128)
		t.red[i], t.blue[i] = int32(math.Floor(1.402*v+0.5))+reach, int32(math.Floor(1.772*v+0.5))+reach
		t.greenCb[i], t.greenCr[i] = int32((reach+0.5-0.344136*v)*one), int32(-0.714136*v*one)
	}
	return t
}()

// reach is how far below nothing, and above all, the sums of luma and chroma
// can come.
const reach = 256

// mask keeps an index inside a wide table, and half one that a luma is still
// added to, so that the loops need no checks.
const (
	mask = 1023
	half = 511
)

// Light in the wide tables is a whole number of steps of 1/2^18, so that a
// block of up to mostPixels adds up in 31 bits.
const (
	lightSteps = 1 << 18
	toFloat    = 1.0 / lightSteps
	mostPixels = 1 << 12
)

// wide returns the tables of light, of red, green and blue, for values from -reach to 255+reach, with
// what lies outside clamped.
func (s *space) wide() *[3][mask + 1]uint32 {
	s.once.Do(func() {
		for c := range s.reached {
			for i := range s.reached[c] {
				s.reached[c][i] = uint32(s.light[c][min(max(i-reach, 0), 255)]*lightSteps + 0.5)
			}
		}
	})
	return &s.reached
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

// premultiplied reads one pixel without making a value of it on the heap, where the kind
// of picture can.
func premultiplied(m image.Image) func(x, y int) color.RGBA64 {
	if fast, ok := m.(image.RGBA64Image); ok {
		return fast.RGBA64At
	}
	return func(x, y int) color.RGBA64 {
		r, g, b, a := m.At(x, y).RGBA()
		return color.RGBA64{R: uint16(r), G: uint16(g), B: uint16(b), A: uint16(a)}
	}
}

// straight is premultiplied for colours that their alpha does not change.
func straight(m image.Image) func(x, y int) color.NRGBA64 {
	if deep, ok := m.(*image.NRGBA64); ok {
		return deep.NRGBA64At
	}
	at := premultiplied(m)
	return func(x, y int) color.NRGBA64 {
		c := at(x, y)
		switch c.A {
		case 0:
			return color.NRGBA64{}
		case 0xFFFF:
			return color.NRGBA64(c) // opaque: both are the same
		}
		over := func(v uint16) uint16 { return uint16(uint32(v) * 0xFFFF / uint32(c.A)) } // as color.NRGBA64Model has it
		return color.NRGBA64{R: over(c.R), G: over(c.G), B: over(c.B), A: c.A}
	}
}

func anyOpaqueAdder(m image.Image, in *space) rowAdder {
	o, at := m.Bounds().Min, premultiplied(m)
	return func(acc []float32, y, x0, x1, k int) {
		i, n := 0, 0
		for x := x0; x < x1; x++ {
			c := at(o.X+x, o.Y+y)
			acc[i] += light16(in.light[0], uint32(c.R))
			acc[i+1] += light16(in.light[1], uint32(c.G))
			acc[i+2] += light16(in.light[2], uint32(c.B))
			if n++; n == k {
				i, n = i+3, 0
			}
		}
	}
}

func anyAlphaAdder(m image.Image, in *space) rowAdder {
	o, at := m.Bounds().Min, straight(m)
	return func(acc []float32, y, x0, x1, k int) {
		i, n := 0, 0
		for x := x0; x < x1; x++ {
			p := at(o.X+x, o.Y+y)
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
