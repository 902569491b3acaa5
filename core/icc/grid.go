package icc

import (
	"image"
	"image/color"

	"mivlet/core/cores"
)

// How many entries a grid has along each side: one of four channels has 17, as many as printers'
// tables have themselves (common practice), one of three has 33.
const (
	sideOfThree = 33
	sideOfFour  = 17
)

// Grid leads from colours of a device to sRGB.
type Grid struct {
	channels, side int
	codes          []float32 // three for each entry, from 0 to 255
}

// Read makes the grid of a profile that is made of tables, for pictures of RGB or CMYK; nil for other
// profiles.
func Read(profile []byte) *Grid {
	t := ReadTable(profile)
	if t == nil || t.channels < 3 {
		return nil
	}
	g := &Grid{channels: t.channels, side: sideOfThree}
	if t.channels == 4 {
		g.side = sideOfFour
	}
	n := 1
	for range t.channels {
		n *= g.side
	}
	black := t.black()
	g.codes = make([]float32, 3*n)
	cores.Share(n, func(from, to int) {
		device := make([]float64, t.channels)
		for i := from; i < to; i++ {
			for k, rest := t.channels-1, i; k >= 0; k, rest = k-1, rest/g.side {
				device[k] = float64(rest%g.side) / float64(g.side-1)
			}
			for k, v := range sRGB(darkened(t.XYZ(device), black)) {
				g.codes[3*i+k] = float32(255 * v)
			}
		}
	})
	return g
}

// black is the light of the darkest that a device shows: all its inks, or none of its lights.
func (t *Table) black() float64 {
	darkest := make([]float64, t.channels)
	if t.channels == 4 {
		darkest = []float64{1, 1, 1, 1}
	}
	return min(unit(t.XYZ(darkest)[1]), 0.2)
}

// darkened is a colour on a screen, whose black is black: ink on paper is not, and a picture of it would
// look pale (black point compensation, ISO 18619).
func darkened(xyz [3]float64, black float64) [3]float64 {
	for i := range xyz {
		xyz[i] = (xyz[i] - black*white[i]) / (1 - black)
	}
	return xyz
}

// Convert returns a picture in sRGB; nil where its pixels have other channels than the profile. One
// in CMYK is changed in place.
func (g *Grid) Convert(m image.Image) image.Image {
	b := m.Bounds()
	inks, isCMYK := m.(*image.CMYK)
	if isCMYK != (g.channels == 4) {
		return nil
	}
	switch {
	case isCMYK:
		out := &image.RGBA{Pix: inks.Pix, Stride: inks.Stride, Rect: inks.Rect}
		g.rows(b.Dy(), func(y int) {
			row := out.Pix[y*out.Stride:][:4*b.Dx()]
			for x := 0; x < len(row); x += 4 {
				g.at(row[x:], row[x:], 4)
				row[x+3] = 255
			}
		})
		return out
	case isOpaque(m):
		out := image.NewRGBA(b)
		g.rows(b.Dy(), func(y int) {
			row := out.Pix[y*out.Stride:]
			for x := range b.Dx() {
				r, gr, bl, _ := m.At(b.Min.X+x, b.Min.Y+y).RGBA()
				p := row[4*x:]
				p[0], p[1], p[2], p[3] = byte(r>>8), byte(gr>>8), byte(bl>>8), 255
				g.at(p, p, 3)
			}
		})
		return out
	}
	out := image.NewNRGBA(b)
	g.rows(b.Dy(), func(y int) {
		row := out.Pix[y*out.Stride:]
		for x := range b.Dx() {
			c := color.NRGBAModel.Convert(m.At(b.Min.X+x, b.Min.Y+y)).(color.NRGBA)
			p := row[4*x:]
			p[0], p[1], p[2], p[3] = c.R, c.G, c.B, c.A
			g.at(p, p, 3)
		}
	})
	return out
}

func isOpaque(m image.Image) bool {
	o, ok := m.(interface{ Opaque() bool })
	return ok && o.Opaque()
}

func (g *Grid) rows(n int, do func(y int)) {
	cores.Share(n, func(from, to int) {
		for y := from; y < to; y++ {
			do(y)
		}
	})
}

// at finds a colour of so many channels between the entries around it. Both may be the same memory.
func (g *Grid) at(to, device []byte, channels int) {
	var low [most]int
	var part [most]float32
	for i := range channels {
		scaled := int(device[i]) * (g.side - 1)
		low[i] = min(scaled/255, g.side-2)
		part[i] = float32(scaled-255*low[i]) / 255
	}
	var sum [3]float32
	for corner := range 1 << channels {
		entry, share := 0, float32(1)
		for i := range channels {
			entry = entry*g.side + low[i]
			if corner>>i&1 == 1 {
				entry++
				share *= part[i]
			} else {
				share *= 1 - part[i]
			}
		}
		if share == 0 {
			continue
		}
		c := g.codes[3*entry:][:3]
		sum[0] += share * c[0]
		sum[1] += share * c[1]
		sum[2] += share * c[2]
	}
	for i, v := range sum {
		to[i] = byte(v + 0.5)
	}
}
