// Package light turns sRGB code values into light and back (IEC 61966-2-1). What averages
// pixels averages light, not code values.
package light

import "math"

// OfCode maps an sRGB code value to light from 0 to 1.
var OfCode = func() (t [256]float32) {
	for i := range t {
		t[i] = float32(Linear(float64(i) / 255))
	}
	return t
}()

// fromLinear maps light in steps of 1/65535 to the nearest sRGB code value.
// The steepest part of the curve spans 20 steps for each code value.
var fromLinear = func() *[lightest + 1 + beyond]uint8 {
	t := new([lightest + 1 + beyond]uint8)
	i := 0
	for c := range 256 {
		for end := Linear((float64(c)+0.5)/255) * lightest; i <= lightest && (float64(i) < end || c == 255); i++ {
			t[i] = uint8(c)
		}
	}
	return t
}()

// Linear is the light of a value from 0 to 1.
func Linear(c float64) float64 {
	if c <= 0.04045 {
		return c / 12.92
	}
	return math.Pow((c+0.055)/1.055, 2.4)
}

// Encoded is the value of an amount of light from 0 to 1.
func Encoded(l float64) float64 {
	if l <= 0.0031308 {
		return l * 12.92
	}
	return 1.055*math.Pow(l, 1/2.4) - 0.055
}

// lightest is the last step of fromLinear. Processors that read four bytes for one read beyond it.
const (
	lightest = 65535
	beyond   = 3
)

// Code returns the sRGB code value for an amount of light: that of nothing for less, that of all
// for more, as far as a kernel overshoots.
func Code(l float32) uint8 {
	i := int32(l*lightest + 0.5)
	if uint32(i) > lightest {
		i = ^i >> 31 & lightest // 0 where it is negative
	}
	return fromLinear[uint16(i)]
}

// Pixels writes a line of light, three values for each pixel, as code values: four bytes for each, of which
// the last says that it is opaque.
func Pixels(pix []uint8, line []float32) {
	if n := len(line) / 24 * 8; wide && n > 0 {
		pix = pix[:4*len(line)/3]
		pixelsWide(&pix[0], &line[0], &fromLinear[0], n)
		pix, line = pix[4*n:], line[3*n:]
	}
	for len(line) >= 3 && len(pix) >= 4 {
		p, l := (*[4]uint8)(pix), (*[3]float32)(line)
		p[0], p[1], p[2], p[3] = Code(l[0]), Code(l[1]), Code(l[2]), 255
		pix, line = pix[4:], line[3:]
	}
}
