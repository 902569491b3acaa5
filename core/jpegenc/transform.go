package jpegenc

import "math"

// The transform is the one of Arai, Agui and Nakajima, "A fast DCT-SQ scheme for images" (1988;
// drawn in Pennebaker and Mitchell, "JPEG", 1993, figure 4-8): five products for eight values.
// Its results are not to scale; what they lack is in the divisors.
const (
	half4 = 0.70710678118654752 // cos 4π/16
	low6  = 0.38268343236508977 // cos 6π/16
	diff  = 0.54119610014619698 // cos 2π/16 − cos 6π/16
	sum   = 1.30656296487637652 // cos 2π/16 + cos 6π/16
)

// scale is what the k-th result of the transform is too large by: √2·cos kπ/16, the first none.
var scale = func() (s [8]float64) {
	s[0] = 1
	for k := 1; k < 8; k++ {
		s[k] = math.Sqrt2 * math.Cos(float64(k)*math.Pi/16)
	}
	return s
}()

// forward transforms the 8 × 8 values that begin at from, whose rows lie step apart.
func forward(b *[64]float32, from []float32, step int) {
	if wide {
		from = from[:7*step+8]
		forwardWide(b, &from[0], step)
		return
	}
	forwardPlain(b, from, step)
}

func forwardPlain(b *[64]float32, from []float32, step int) {
	for y := range 8 {
		d := (*[8]float32)(from[y*step:])
		o := (*[8]float32)(b[y*8:])
		o[0], o[1], o[2], o[3], o[4], o[5], o[6], o[7] = eight(d[0], d[1], d[2], d[3], d[4], d[5], d[6], d[7])
	}
	for x := range 8 {
		b[x], b[x+8], b[x+16], b[x+24], b[x+32], b[x+40], b[x+48], b[x+56] =
			eight(b[x], b[x+8], b[x+16], b[x+24], b[x+32], b[x+40], b[x+48], b[x+56])
	}
}

func eight(d0, d1, d2, d3, d4, d5, d6, d7 float32) (o0, o1, o2, o3, o4, o5, o6, o7 float32) {
	s07, m07 := d0+d7, d0-d7
	s16, m16 := d1+d6, d1-d6
	s25, m25 := d2+d5, d2-d5
	s34, m34 := d3+d4, d3-d4

	a, b, c, d := s07+s34, s16+s25, s16-s25, s07-s34
	z := (c + d) * half4
	o0, o4, o2, o6 = a+b, a-b, d+z, d-z

	e, f, g := m34+m25, m25+m16, m16+m07
	z5 := (e - g) * low6
	z2, z4, z3 := diff*e+z5, sum*g+z5, f*half4
	h, i := m07+z3, m07-z3
	o5, o3, o1, o7 = i+z2, i-z2, h+z4, h-z4
	return
}

// inverse is the way back, for coefficients that have been brought to its scale.
func inverse(b *[64]float32) {
	for x := range 8 {
		b[x], b[x+8], b[x+16], b[x+24], b[x+32], b[x+40], b[x+48], b[x+56] =
			back(b[x], b[x+8], b[x+16], b[x+24], b[x+32], b[x+40], b[x+48], b[x+56])
	}
	for y := 0; y < 64; y += 8 {
		d := (*[8]float32)(b[y:])
		d[0], d[1], d[2], d[3], d[4], d[5], d[6], d[7] = back(d[0], d[1], d[2], d[3], d[4], d[5], d[6], d[7])
	}
}

func back(c0, c1, c2, c3, c4, c5, c6, c7 float32) (o0, o1, o2, o3, o4, o5, o6, o7 float32) {
	a, b, s := c0+c4, c0-c4, c2+c6
	m := (c2-c6)*math.Sqrt2 - s
	e0, e3, e1, e2 := a+s, a-s, b+m, b-m

	s53, m53 := c5+c3, c5-c3
	s17, m17 := c1+c7, c1-c7
	f7 := s17 + s53
	z := (m53 + m17) * 1.84775906502257351 // 2 cos 2π/16
	f6 := z - m53*2.61312592975275306 - f7 // 2 (cos 2π/16 + cos 6π/16)
	f5 := (s17-s53)*math.Sqrt2 - f6
	f4 := z - m17*1.08239220029239397 - f5 // 2 (cos 2π/16 − cos 6π/16)
	return e0 + f7, e1 + f6, e2 + f5, e3 + f4, e3 - f4, e2 - f5, e1 - f6, e0 - f7
}
