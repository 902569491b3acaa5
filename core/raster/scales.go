package raster

import (
	"image"

	"mivlet/core/cores"
	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/veil"
)

// Scales makes several cuts of one picture, of which the smaller ones do not read all of its
// pixels again: they are made of a half, a quarter or an eighth of them, averaged as light, by the
// rule by which a file is decoded in part (see [Scale]). It is for one goroutine at a time.
type Scales struct {
	most   *Source
	known  facts.Facts
	halved map[int]*Source // by eighths; with the veils drawn
}

// NewScales makes cuts of a source of which known are the facts.
func NewScales(s *Source, known facts.Facts) *Scales {
	return &Scales{s, known, map[int]*Source{}}
}

// Do makes a cut. All cuts of one picture have the same veils.
func (s *Scales) Do(w Transform) image.Image {
	n := Scale(s.known, w.reads(s.most.Upright()))
	if n >= s.most.eighths {
		return s.most.Do(w)
	}
	return s.at(n, w.Veils).Do(w.without())
}

// without is the work without its veils, as they are drawn already.
func (w Transform) without() Transform {
	w.Veils = nil
	return w
}

// at is the picture at so many eighths of its size, fewer than the most.
func (s *Scales) at(n int, veils []veil.Veil) *Source {
	if s.halved[n] == nil {
		if 2*n == s.most.eighths {
			s.halved[n] = s.most.half(veils)
		} else {
			s.halved[n] = s.at(2*n, veils).half(nil)
		}
	}
	return s.halved[n]
}

// Most is how many pixels of a whole picture some cuts want, of which the largest decides; nothing
// means all.
func Most(whole fit.Size, cuts []Transform) (most fit.Size) {
	for _, w := range cuts {
		needs := w.Needs(whole)
		if needs.W == 0 {
			return fit.Size{}
		}
		most.W, most.H = max(most.W, needs.W), max(most.H, needs.H)
	}
	return most
}

// Reads is the part of a picture that some cuts read, as it is to be seen; nothing means all, as veils
// and turning by degrees do.
func Reads(cuts []Transform) (part image.Rectangle) {
	for _, w := range cuts {
		if len(w.Veils) > 0 || w.Straighten != 0 {
			return image.Rectangle{}
		}
		part = part.Union(w.From)
	}
	return part
}

// half is a picture of half as many pixels along both sides, each of two by two, averaged as light.
func (s *Source) half(veils []veil.Veil) *Source {
	solid := s.opaqueBeside(veils)
	whole := s.pixels.Bounds()
	size := fit.Size{W: (whole.Dx() + 1) / 2, H: (whole.Dy() + 1) / 2}
	out, ch, set := blank(size, solid)
	add := adder(s.pixels, solid, s.space)
	p := &shrink{add: add, in: s.space, from: image.Rectangle{Max: whole.Size()}, size: size, kx: 2, ky: 2, rw: size.W, rh: size.H,
		ch: ch, veils: s.layers(veils, ch, add), setPixels: set}
	if whole.Dx()%2 == 0 {
		p.pair = quads(s.pixels, s.space)
	}
	cores.Share(size.H, p.halves)
	return &Source{out, s.eighths / 2, s.offset.Div(2), s.stored, s.orientation, solid, srgb, s.traces}
}

// halves makes the rows from y0 to y1 of a half.
func (p *shrink) halves(y0, y1 int) {
	line := make([]float32, p.rw*p.ch)
	whole := p.wholeRow()
	for y := y0; y < y1; y++ {
		p.block(line, whole, y)
		p.in.toSRGB(line, p.ch)
		p.setPixels(y, line)
	}
}

// wholeRow is room for a row at full width, where a veil has to be drawn; else nil.
func (p *shrink) wholeRow() []float32 {
	if len(p.veils) == 0 {
		return nil
	}
	return make([]float32, p.from.Dx()*p.ch)
}
