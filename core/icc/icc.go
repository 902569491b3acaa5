// Package icc reads colour profiles (ICC.1:2022) as far as pictures need them: tone curves, and the
// tables by which printers' and scanners' profiles tell how colours look.
//
// A profile that is made of a matrix and curves is exact for each colour; those are worked out where
// light is averaged. One that is made of tables is not: [Read] makes a grid of colours of it, between
// which [Grid.Convert] finds the rest.
package icc

import (
	"encoding/binary"
	"math"

	"mivlet/core/facts"
	"mivlet/core/light"
)

// space is what the colours of a profile are told in: its device's, or the connection space.
func space(profile []byte, at int) string {
	if len(profile) < 128 {
		return ""
	}
	return string(profile[at : at+4])
}

// Device is the colour model of the pictures that a profile is for: "RGB ", "CMYK", "GRAY" or another
// (ICC.1:2022, 7.2.6); empty for what is no profile.
func Device(profile []byte) string { return space(profile, 16) }

// Connection is the space that a profile leads to: "XYZ " or "Lab " (7.2.7).
func Connection(profile []byte) string { return space(profile, 20) }

// The white of the connection space, D50 (7.2.16).
var white = [3]float64{0.9642, 1, 0.8249}

// fromXYZ leads from the connection space to linear sRGB (IEC 61966-2-1, adapted to D50: memory; what
// it gives is compared with Little CMS in the tests).
var fromXYZ = [9]float64{3.134137, -1.617386, -0.490662, -0.978795, 1.916254, 0.033443, 0.071955, -0.228977, 1.405386}

// sRGB is a colour of the connection space in sRGB, each from 0 to 1. What sRGB does not hold is cut
// off.
func sRGB(xyz [3]float64) (c [3]float64) {
	for i := range c {
		v := fromXYZ[3*i]*xyz[0] + fromXYZ[3*i+1]*xyz[1] + fromXYZ[3*i+2]*xyz[2]
		c[i] = light.Encoded(unit(v))
	}
	return c
}

// Luminance is the light, from 0 to 1, of a lightness L* from 0 to 1 (CIE 15).
func Luminance(l float64) float64 { return unbent((100*l + 16) / 116) }

// xyzOf is the light of a colour in L*, a* and b* (CIE 15).
func xyzOf(l, a, b float64) [3]float64 {
	y := (l + 16) / 116
	return [3]float64{white[0] * unbent(y+a/500), white[1] * unbent(y), white[2] * unbent(y-b/200)}
}

func unbent(t float64) float64 {
	if t > 6.0/29 {
		return t * t * t
	}
	return 3 * 36.0 / 841 * (t - 4.0/29)
}

// Tag is the data of a tag of a profile, or nil.
func Tag(profile []byte, signature string) []byte { return facts.ICCTag(profile, signature) }

// Fixed reads a number with sixteen bits behind the point (4.6).
func Fixed(b []byte) float64 { return float64(int32(binary.BigEndian.Uint32(b))) / 65536 }

func short(b []byte) float64 { return float64(binary.BigEndian.Uint16(b)) / math.MaxUint16 }
