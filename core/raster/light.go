package raster

import "math"

// Resampling averages light, not code values. These tables turn 8-bit sRGB
// code values into linear light and back (IEC 61966-2-1).

// toLinear maps an sRGB code value to light from 0 to 1.
var toLinear = func() (t [256]float32) {
	for i := range t {
		t[i] = float32(linear(float64(i) / 255))
	}
	return t
}()

// fromLinear maps light in steps of 1/65535 to the nearest sRGB code value.
// The steepest part of the curve spans 20 steps for each code value.
var fromLinear = func() *[lightest + 1]uint8 {
	t := new([lightest + 1]uint8)
	for i := range t {
		t[i] = uint8(math.Round(encoded(float64(i)/lightest) * 255))
	}
	return t
}()

func linear(c float64) float64 {
	if c <= 0.04045 {
		return c / 12.92
	}
	return math.Pow((c+0.055)/1.055, 2.4)
}

func encoded(l float64) float64 {
	if l <= 0.0031308 {
		return l * 12.92
	}
	return 1.055*math.Pow(l, 1/2.4) - 0.055
}

// lightest is the last step of fromLinear.
const lightest = 65535

// code returns the sRGB code value for an amount of light: that of nothing for less, that of all
// for more, as far as a kernel overshoots.
func code(l float32) uint8 {
	i := int32(l*lightest + 0.5)
	if uint32(i) > lightest {
		i = ^i >> 31 & lightest // 0 where it is negative
	}
	return fromLinear[uint16(i)]
}
