package textline

import (
	"image"
	"image/color"
	"math"
)

// A plane is one way to look at a picture: how light it is, how red against green, or how
// blue against yellow. Text of the same lightness as its ground stands out in the others.
type plane struct {
	pix  []uint8
	w, h int
}

// planes returns the three ways to look at a picture. The colour ones are nil for a
// picture without colour.
func planes(m image.Image) []plane {
	b := m.Bounds()
	light := plane{make([]uint8, b.Dx()*b.Dy()), b.Dx(), b.Dy()}
	red, blue := plane{make([]uint8, len(light.pix)), light.w, light.h}, plane{make([]uint8, len(light.pix)), light.w, light.h}
	coloured := 0
	rgba, fast := m.(*image.RGBA)
	for y := range light.h {
		for x := range light.w {
			var c color.RGBA
			if fast {
				p := rgba.Pix[y*rgba.Stride+4*x:]
				c.R, c.G, c.B = p[0], p[1], p[2]
			} else {
				c = color.RGBAModel.Convert(m.At(b.Min.X+x, b.Min.Y+y)).(color.RGBA)
			}
			r, g, bl := int(c.R), int(c.G), int(c.B)
			i := y*light.w + x
			light.pix[i] = uint8((299*r + 587*g + 114*bl) / 1000) // ITU-T T.871
			red.pix[i], blue.pix[i] = uint8(128+(r-g)/2), uint8(128+(2*bl-r-g)/4)
			if r-g > 40 || g-r > 40 || bl-g > 40 || g-bl > 40 {
				coloured++
			}
		}
	}
	if coloured*2000 < len(light.pix) {
		return []plane{light}
	}
	return []plane{light, red, blue}
}

// half returns the plane at half its size.
func (p plane) half() plane {
	s := plane{make([]uint8, p.w/2*(p.h/2)), p.w / 2, p.h / 2}
	for y := range s.h {
		for x := range s.w {
			at := 2*y*p.w + 2*x
			s.pix[y*s.w+x] = uint8((int(p.pix[at]) + int(p.pix[at+1]) + int(p.pix[at+p.w]) + int(p.pix[at+p.w+1]) + 2) / 4)
		}
	}
	return s
}

// sums are the sums of all values, and of their squares, above and to the left of each
// place: the mean of any window is four steps away (Crow, SIGGRAPH 1984).
type sums struct {
	one, two []uint64
	w        int
}

func (p plane) sums() sums {
	s := sums{make([]uint64, (p.w+1)*(p.h+1)), make([]uint64, (p.w+1)*(p.h+1)), p.w + 1}
	for y := range p.h {
		var a, b uint64
		for x := range p.w {
			v := uint64(p.pix[y*p.w+x])
			a, b = a+v, b+v*v
			at := (y+1)*s.w + x + 1
			s.one[at], s.two[at] = s.one[at-s.w]+a, s.two[at-s.w]+b
		}
	}
	return s
}

// within is the mean of a window and how much it varies.
func (s sums) within(r image.Rectangle) (mean, spread float64) {
	a, b, c, d := r.Min.Y*s.w+r.Min.X, r.Min.Y*s.w+r.Max.X, r.Max.Y*s.w+r.Min.X, r.Max.Y*s.w+r.Max.X
	n := float64(r.Dx() * r.Dy())
	mean = float64(s.one[d]-s.one[b]-s.one[c]+s.one[a]) / n
	square := float64(s.two[d]-s.two[b]-s.two[c]+s.two[a]) / n
	return mean, math.Sqrt(max(0, square-mean*mean))
}

// How ink is told from ground: it is darker, or lighter, than its surroundings by a part of
// how much these vary (Niblack 1986, Sauvola and Pietikäinen 2000; memory).
const (
	around = 15  // pixels to each side that are the surroundings
	least  = 7.0 // steps of 255
)

// strictness are how far ink is off its surroundings, for each step of their spread: what may
// be ink, and what is beyond doubt. In small text letters touch where they are not sure.
var strictness = [2]float64{0.5, 1.4}

// masks mark what is darker than its surroundings and what is lighter, each as strictly as
// strictness says.
func (p plane) masks() (all [2 * len(strictness)][]bool) {
	s := p.sums()
	for i := range all {
		all[i] = make([]bool, p.w*p.h)
	}
	for y := range p.h {
		r := image.Rect(0, max(0, y-around), 0, min(p.h, y+around+1))
		for x := range p.w {
			r.Min.X, r.Max.X = max(0, x-around), min(p.w, x+around+1)
			mean, spread := s.within(r)
			at := y*p.w + x
			d := float64(p.pix[at]) - mean
			for i, part := range strictness {
				if off := max(least, part*spread); d < -off {
					all[2*i][at] = true
				} else if d > off {
					all[2*i+1][at] = true
				}
			}
		}
	}
	return all
}
