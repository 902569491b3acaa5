package raster

import (
	"image"
	"math"
	"sync"

	"mivlet/core/facts"
	"mivlet/core/hdr"
	"mivlet/core/icc"
	"mivlet/core/light"
)

// space is the colour space of a source's code values: how they turn into
// light, and how its primaries mix into those of sRGB. Mixing is linear, so it
// is done once on the small result and not on every pixel of the source.
type space struct {
	light [3]*[256]float32 // code value to light, for each channel
	mix   *[9]float32      // rows of the matrix to linear sRGB; nil for none

	once    sync.Once
	reached [3][mask + 1]uint32 // light, for sums that leave the code values
}

// srgb is the space of pictures that say nothing else.
var srgb = &space{light: [3]*[256]float32{&light.OfCode, &light.OfCode, &light.OfCode}}

// D50 colorants: what an ICC profile's rXYZ, gXYZ and bXYZ hold, column by
// column, for sRGB (IEC 61966-2-1) and Display P3 (SMPTE EG 432-1 primaries),
// adapted to D50 as ICC.1:2022 wants it; memory.
var (
	srgbColorants = [9]float64{0.43607, 0.38515, 0.14307, 0.22249, 0.71687, 0.06061, 0.01392, 0.09708, 0.71410}
	p3Colorants   = [9]float64{0.51512, 0.29198, 0.15710, 0.24120, 0.69225, 0.06657, -0.00105, 0.04189, 0.78407}
)

// spaceOf returns the space that a profile of a matrix and curves describes, or a grey one. For all
// others, and for none, it is the named space or sRGB; see conversionOf.
func spaceOf(profile []byte, named string) *space {
	if named == "Display P3" && len(profile) == 0 {
		return &space{light: srgb.light, mix: mixFrom(p3Colorants)}
	}
	if g := facts.Gamma(named); g > 0 && len(profile) == 0 {
		var curve [256]float32
		for i := range curve {
			curve[i] = float32(math.Pow(float64(i)/255, g))
		}
		return &space{light: [3]*[256]float32{&curve, &curve, &curve}}
	}
	if curve := greyOf(profile); curve != nil {
		return &space{light: [3]*[256]float32{curve, curve, curve}}
	}
	s := &space{}
	var colorants [9]float64
	for i, c := range []string{"r", "g", "b"} {
		s.light[i] = curveOf(icc.Tag(profile, c+"TRC"))
		xyz := icc.Tag(profile, c+"XYZ")
		if s.light[i] == nil || len(xyz) < 20 {
			return srgb
		}
		for j := range 3 {
			colorants[3*j+i] = icc.Fixed(xyz[8+4*j:])
		}
	}
	s.mix = mixFrom(colorants)
	if s.mix == nil && nearly(s.light[0], &light.OfCode) && nearly(s.light[1], &light.OfCode) && nearly(s.light[2], &light.OfCode) {
		return srgb
	}
	return s
}

// A conversion brings decoded pixels to sRGB, or gives nil where they are not of its kind.
type conversion func(image.Image) image.Image

// conversionOf is the conversion of a space that cannot be told by curves and a matrix: one that is made
// of tables, or one of lights brighter than paper white; nil for others.
func conversionOf(profile []byte, named string) conversion {
	if grid := icc.Read(profile); grid != nil {
		return grid.Convert
	}
	if _, bright := hdr.Named(named); bright != "" && len(profile) == 0 {
		return func(m image.Image) image.Image { return hdr.Convert(m, named) }
	}
	return nil
}

// mixFrom returns the matrix from light of the given colorants to linear sRGB,
// or nil where that would change nothing.
func mixFrom(colorants [9]float64) *[9]float32 {
	back, ok := inverse(srgbColorants)
	if !ok {
		return nil
	}
	var mix [9]float32
	same := true
	for r := range 3 {
		for c := range 3 {
			v := 0.0
			for k := range 3 {
				v += back[3*r+k] * colorants[3*k+c]
			}
			mix[3*r+c] = float32(v)
			want := 0.0
			if r == c {
				want = 1
			}
			same = same && math.Abs(v-want) < 0.002
		}
	}
	if same {
		return nil
	}
	return &mix
}

func inverse(m [9]float64) (inv [9]float64, ok bool) {
	det := m[0]*(m[4]*m[8]-m[5]*m[7]) - m[1]*(m[3]*m[8]-m[5]*m[6]) + m[2]*(m[3]*m[7]-m[4]*m[6])
	if math.Abs(det) < 1e-9 {
		return inv, false
	}
	cofactor := [9]float64{
		m[4]*m[8] - m[5]*m[7], m[2]*m[7] - m[1]*m[8], m[1]*m[5] - m[2]*m[4],
		m[5]*m[6] - m[3]*m[8], m[0]*m[8] - m[2]*m[6], m[2]*m[3] - m[0]*m[5],
		m[3]*m[7] - m[4]*m[6], m[1]*m[6] - m[0]*m[7], m[0]*m[4] - m[1]*m[3],
	}
	for i, v := range cofactor {
		inv[i] = v / det
	}
	return inv, true
}

// curveOf reads a tone curve into a table of light for each code value, or gives nil for what is none.
func curveOf(tag []byte) *[256]float32 {
	f, _ := icc.ReadCurve(tag)
	if f == nil {
		return nil
	}
	var t [256]float32
	for i := range t {
		t[i] = float32(min(max(f(float64(i)/255), 0), 1))
	}
	return &t
}

// greyOf is the light of each code value of a grey profile, or nil for one of colours. Some tell
// lightness and not light.
func greyOf(profile []byte) *[256]float32 {
	curve := curveOf(icc.Tag(profile, "kTRC"))
	if curve != nil && icc.Connection(profile) == "Lab " {
		for i, l := range curve {
			curve[i] = float32(icc.Luminance(float64(l)))
		}
	}
	return curve
}

func nearly(a, b *[256]float32) bool {
	for i := range a {
		if math.Abs(float64(a[i]-b[i])) > 0.002 {
			return false
		}
	}
	return true
}

// toSRGB mixes a line of light of n channels into linear sRGB.
func (s *space) toSRGB(line []float32, n int) {
	m := s.mix
	if m == nil {
		return
	}
	for ; len(line) >= n; line = line[n:] {
		r, g, b := line[0], line[1], line[2]
		line[0] = m[0]*r + m[1]*g + m[2]*b
		line[1] = m[3]*r + m[4]*g + m[5]*b
		line[2] = m[6]*r + m[7]*g + m[8]*b
	}
}

// ofSRGB is what an sRGB colour is in the space's own linear light.
func (s *space) ofSRGB(c [3]uint8) [3]float32 {
	l := [3]float32{light.OfCode[c[0]], light.OfCode[c[1]], light.OfCode[c[2]]}
	if s.mix == nil {
		return l
	}
	var m [9]float64
	for i, v := range s.mix {
		m[i] = float64(v)
	}
	back, ok := inverse(m)
	if !ok {
		return l
	}
	var out [3]float32
	for r := range out {
		out[r] = float32(back[3*r]*float64(l[0]) + back[3*r+1]*float64(l[1]) + back[3*r+2]*float64(l[2]))
	}
	return out
}

// codes is what a pixel of the space's own linear light is in sRGB code values, from
// 0 to 1. Of premultiplied light with alpha it is the colour itself.
func (s *space) codes(px []float32) [3]float64 {
	line := append([]float32(nil), px...)
	s.toSRGB(line, len(line))
	over := float32(1)
	if len(line) == 4 && line[3] > 0 {
		over = line[3]
	}
	var out [3]float64
	for c := range out {
		out[c] = light.Encoded(min(max(float64(line[c]/over), 0), 1))
	}
	return out
}
