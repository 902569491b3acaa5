// Package hdr brings pictures whose lights are brighter than paper white down to sRGB: those whose
// values follow PQ (SMPTE ST 2084) or HLG (ARIB STD-B67), both in ITU-R BT.2100.
//
// Paper white, the white of a page, is 203 candelas for each square metre (ITU-R BT.2408). What is
// darker than about half of that stays as it is; what is brighter is drawn together, up to the
// brightest that is expected, so that a lamp or the sun is white and what lies around it still has
// colour (the curve of ITU-R BT.2390, 5.4.1).
package hdr

import (
	"image"
	"math"
	"strings"

	"mivlet/core/cores"
	"mivlet/core/light"
)

// The ways in which values stand for light.
const (
	PQ  = "PQ"
	HLG = "HLG"
)

const (
	paper   = 203.0  // candelas for each square metre
	screen  = 1000.0 // the brightest that is expected, as most pictures are made for (BT.2408: memory)
	topOfPQ = 10000.0
)

// Light is how bright a value of PQ from 0 to 1 is, in candelas for each square metre (ST 2084).
func Light(v float64) float64 {
	const m1, m2, c1, c2, c3 = 2610.0 / 16384, 2523.0 / 4096 * 128, 3424.0 / 4096, 2413.0 / 4096 * 32, 2392.0 / 4096 * 32
	p := math.Pow(min(max(v, 0), 1), 1/m2)
	return topOfPQ * math.Pow(max(p-c1, 0)/(c2-c3*p), 1/m1)
}

// Value is the value of PQ, from 0 to 1, of light in candelas for each square metre: the inverse of
// [Light].
func Value(l float64) float64 {
	const m1, m2, c1, c2, c3 = 2610.0 / 16384, 2523.0 / 4096 * 128, 3424.0 / 4096, 2413.0 / 4096 * 32, 2392.0 / 4096 * 32
	y := math.Pow(min(max(l/topOfPQ, 0), 1), m1)
	return math.Pow((c1+c2*y)/(1+c3*y), m2)
}

// Scene is the light before the camera, from 0 to 1, of a value of HLG (BT.2100, table 5).
func Scene(v float64) float64 {
	const a, b, c = 0.17883277, 0.28466892, 0.55991073
	if v = min(max(v, 0), 1); v <= 0.5 {
		return v * v / 3
	}
	return (math.Exp((v-c)/a) + b) / 12
}

// Mapped is what light in candelas for each square metre comes to where the brightest is paper white,
// from 0 to 1 (BT.2390, 5.4.1).
func Mapped(l float64) float64 {
	most := Value(screen)
	top := Value(paper) / most
	knee := 1.5*top - 0.5
	v := min(Value(l)/most, 1)
	if v > knee {
		t := (v - knee) / (1 - knee)
		v = (2*t*t*t-3*t*t+1)*knee + (t*t*t-2*t*t+t)*(1-knee) + (-2*t*t*t+3*t*t)*top
	}
	return Light(v*most) / paper
}

// primaries lead from light of other primaries to that of sRGB (BT.2087 for Rec. 2020, SMPTE EG 432-1
// for Display P3: memory).
var primaries = map[string][9]float64{
	"Rec. 2020":  {1.660491, -0.587641, -0.072850, -0.124550, 1.132900, -0.008349, -0.018151, -0.100579, 1.118730},
	"Display P3": {1.224940, -0.224940, 0, -0.042057, 1.042057, 0, -0.019638, -0.078636, 1.098274},
}

// Named splits the name of a space, such as "Rec. 2020 PQ", into primaries and how values stand for
// light; that is empty where it is no matter of this package.
func Named(name string) (primaries, transfer string) {
	for _, t := range []string{PQ, HLG} {
		if rest, ok := strings.CutSuffix(name, " "+t); ok {
			return rest, t
		}
	}
	return name, ""
}

// Convert returns a picture of a space in sRGB; what is transparent stays so.
func Convert(m image.Image, name string) *image.NRGBA {
	from, transfer := Named(name)
	c := newConversion(from, transfer)
	b := m.Bounds()
	out := image.NewNRGBA(image.Rectangle{Max: b.Size()})
	cores.Share(b.Dy(), func(from, to int) {
		for y := from; y < to; y++ {
			for x := range b.Dx() {
				r, g, bl, a := m.At(b.Min.X+x, b.Min.Y+y).RGBA()
				if a == 0 {
					continue
				}
				if a < 0xFFFF {
					r, g, bl = min(r*0xFFFF/a, 0xFFFF), min(g*0xFFFF/a, 0xFFFF), min(bl*0xFFFF/a, 0xFFFF)
				}
				p := out.Pix[y*out.Stride+4*x:]
				p[0], p[1], p[2] = c.of(r, g, bl)
				p[3] = byte(a >> 8)
			}
		}
	})
	return out
}

// steps is how finely light is told apart in tables: of values, and of brightness by its value in PQ.
const steps = 4096

// conversion is a space, laid out in tables.
type conversion struct {
	hlg    bool
	mix    [9]float64
	mixed  bool
	lights [steps]float64 // of values: candelas for PQ, light before the camera for HLG
	mapped [steps]float64 // what the brightest channel is multiplied by, by its value in PQ
}

func newConversion(from, transfer string) *conversion {
	c := &conversion{hlg: transfer == HLG}
	c.mix, c.mixed = primaries[from]
	for i := range steps {
		v := float64(i) / (steps - 1)
		if c.lights[i] = Light(v); c.hlg {
			c.lights[i] = Scene(v)
		}
		if l := Light(v); l > 0 {
			c.mapped[i] = Mapped(l) / l
		}
	}
	c.mapped[0] = c.mapped[1]
	return c
}

// of is a colour of sixteen bits for each channel in sRGB.
func (c *conversion) of(r, g, b uint32) (byte, byte, byte) {
	l := [3]float64{c.lights[r>>4], c.lights[g>>4], c.lights[b>>4]}
	if c.hlg { // a screen shows dark scenes darker: BT.2100, table 5, for one of 1000
		y := 0.2627*l[0] + 0.6780*l[1] + 0.0593*l[2]
		gain := screen * math.Pow(max(y, 1e-9), 0.2)
		for i := range l {
			l[i] *= gain
		}
	}
	if c.mixed {
		m := &c.mix
		l = [3]float64{m[0]*l[0] + m[1]*l[1] + m[2]*l[2], m[3]*l[0] + m[4]*l[1] + m[5]*l[2], m[6]*l[0] + m[7]*l[1] + m[8]*l[2]}
	}
	brightest := max(l[0], l[1], l[2])
	if brightest <= 0 {
		return 0, 0, 0
	}
	by := c.mapped[min(int(Value(brightest)*(steps-1)+0.5), steps-1)]
	return light.Code(float32(l[0] * by)), light.Code(float32(l[1] * by)), light.Code(float32(l[2] * by))
}
