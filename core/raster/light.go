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
var fromLinear = func() []uint8 {
	t := make([]uint8, 65536)
	for i := range t {
		t[i] = uint8(math.Round(encoded(float64(i)/65535) * 255))
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

// code returns the sRGB code value for an amount of light.
func code(l float32) uint8 {
	return fromLinear[int(min(max(l, 0), 1)*65535+0.5)]
}
