package raster

import (
	"image"
	"runtime"
	"sync"

	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/recipe"
	"mivlet/core/veil"
)

// Transform is what is to be done to the pixels on their way into a cut.
type Transform struct {
	From       image.Rectangle   // part of the upright source
	Size       fit.Size          // of the result; never larger than the part
	Straighten float64           // degrees clockwise, about the middle of the source
	Turn       facts.Orientation // how the part is turned and mirrored at last
	Veils      []veil.Veil       // in pixels of the upright source
}

// TransformFor is the work of one cut of what a recipe comes to.
func TransformFor(v recipe.View, c fit.Cut) Transform {
	return Transform{From: c.Source, Size: c.Size, Straighten: v.Straighten, Turn: v.Turn, Veils: v.Veils}
}

// Cut takes the part from of the upright source and brings it down to size.
func (s *Source) Cut(from image.Rectangle, size fit.Size) image.Image {
	return s.Do(Transform{From: from, Size: size, Turn: facts.Upright})
}

// Do makes a cut: in linear light with a Lanczos kernel, on all cores. Large
// reductions are first averaged over whole blocks while the rows are read, so
// that memory grows with the cut and not with the source. Veils are drawn on
// the source's own pixels before anything is averaged.
func (s *Source) Do(w Transform) image.Image {
	if w.Straighten != 0 {
		return s.straightened(w)
	}
	total := s.orientation.Then(w.Turn)
	small := s.resample(s.orientation.RectToStored(w.From, s.stored), total.Turned(w.Size), fine, w.Veils)
	return upright(small, total, w.Size)
}

// Glance returns the whole source brought down to size for the screen: mostly
// averaged over blocks, about four times quicker than Cut and a little softer.
func (s *Source) Glance(size fit.Size) *Source {
	small := s.resample(s.stored.Rect(), s.orientation.Turned(size), coarse, nil)
	return FromImage(upright(small, s.orientation, size))
}

// Image returns the pixels of a source that stands upright, such as a Glance.
func (s *Source) Image() image.Image { return s.pixels }

// How much reduction is left to the kernel after block averaging, at least.
const (
	fine   = 1.5
	coarse = 1.0
)

// shrink is one reduction, laid out.
type shrink struct {
	add       rowAdder
	pair      pairAdder // nil where there is no fast path
	in        *space
	from      image.Rectangle
	size      fit.Size
	kx, ky    int // block averaged into one pixel before the kernel
	rw, rh    int // size after block averaging
	ch        int // channels
	cols      []taps
	rowsTaps  []taps
	veils     []*veil.Layer
	setPixels func(y int, line []float32)
}

// resample brings a part of the stored pixels down to size.
func (s *Source) resample(from image.Rectangle, size fit.Size, least float64, veils []veil.Veil) image.Image {
	solid := s.opaqueBeside(veils)
	out, ch, set := blank(size, solid)
	add := adder(s.pixels, solid, s.space)
	p := &shrink{add: add, in: s.space, from: from, size: size, ch: ch, veils: s.layers(veils, ch, add), setPixels: set,
		kx: max(1, int(float64(from.Dx())/float64(size.W)/least)), ky: max(1, int(float64(from.Dy())/float64(size.H)/least))}
	if p.kx > 1 && p.ky > 1 && from.Min.X%2 == 0 && from.Min.Y%2 == 0 && from.Dx()%2 == 0 {
		if p.pair = quads(s.pixels, s.space); p.pair != nil { // it wants even blocks: more is left to the kernel
			p.kx, p.ky = min(p.kx&^1, mostPixels/2), p.ky&^1
		}
	}
	p.rw, p.rh = (from.Dx()+p.kx-1)/p.kx, (from.Dy()+p.ky-1)/p.ky
	p.cols = tapsFor(float64(from.Dx())/float64(p.kx), p.rw, size.W)
	p.rowsTaps = tapsFor(float64(from.Dy())/float64(p.ky), p.rh, size.H)

	bands := min(runtime.GOMAXPROCS(0), size.H)
	var wg sync.WaitGroup
	for b := range bands {
		wg.Go(func() { p.band(b*size.H/bands, (b+1)*size.H/bands) })
	}
	wg.Wait()
	return out
}

// blank returns an empty picture with the channels its light has, and what sets
// a row of it from a line of light.
func blank(size fit.Size, opaque bool) (m image.Image, channels int, set func(y int, line []float32)) {
	if opaque {
		dst := image.NewRGBA(size.Rect())
		return dst, 3, func(y int, line []float32) { setOpaque(dst.Pix[y*dst.Stride:], line) }
	}
	dst := image.NewNRGBA(size.Rect())
	return dst, 4, func(y int, line []float32) { setAlpha(dst.Pix[y*dst.Stride:], line) }
}

// band makes the rows from y0 to y1 of the cut. It keeps only as many narrowed
// rows as the kernel reaches.
func (p *shrink) band(y0, y1 int) {
	depth := 0
	for _, t := range p.rowsTaps[y0:y1] {
		depth = max(depth, len(t.weights))
	}
	ring := make([][]float32, depth)
	for i := range ring {
		ring[i] = make([]float32, p.size.W*p.ch)
	}
	acc := make([]float32, p.rw*p.ch+1)[:p.rw*p.ch] // with room, as narrow asks for
	var whole []float32                             // one row at full width, where a veil has to be drawn
	if len(p.veils) > 0 {
		whole = make([]float32, p.from.Dx()*p.ch)
	}
	line := make([]float32, p.size.W*p.ch)
	next := p.rowsTaps[y0].first
	for y := y0; y < y1; y++ {
		t := p.rowsTaps[y]
		for end := t.first + len(t.weights); next < end; next++ {
			p.block(acc, whole, next)
			narrow(ring[next%depth], acc, p.cols, p.ch)
		}
		clear(line)
		p.stack(line, ring, t)
		p.in.toSRGB(line, p.ch)
		p.setPixels(y, line)
	}
}

// stack runs the kernel down the rows, two at a time.
func (p *shrink) stack(line []float32, ring [][]float32, t taps) {
	row := func(j int) []float32 { return ring[(t.first+j)%len(ring)] }
	j := 0
	for ; j+1 < len(t.weights); j += 2 {
		addTwo(line, row(j), row(j+1), t.weights[j], t.weights[j+1])
	}
	if j < len(t.weights) {
		addTwo(line, row(j), row(j), t.weights[j], 0)
	}
}

// block averages one row of blocks into acc.
func (p *shrink) block(acc, whole []float32, row int) {
	clear(acc)
	top := row * p.ky
	bottom := min(top+p.ky, p.from.Dy())
	for y := top; y < bottom; y++ {
		at := p.from.Min.Y + y
		if p.pair != nil && y+1 < bottom && !p.veiled(at) && !p.veiled(at+1) {
			p.pair(acc, at, p.from.Min.X, p.from.Max.X, p.kx)
			y++
			continue
		}
		p.row(acc, whole, at)
	}
	high := float32(bottom - top)
	full := p.from.Dx() / p.kx * p.ch
	inv := 1 / (high * float32(p.kx))
	for i := range acc[:full] {
		acc[i] *= inv
	}
	if rest := p.from.Dx() % p.kx; rest > 0 {
		inv = 1 / (high * float32(rest))
		for i := range acc[full:] {
			acc[full+i] *= inv
		}
	}
}

// veiled reports whether a veil reaches a row.
func (p *shrink) veiled(y int) bool {
	for _, l := range p.veils {
		if l.Touches(y) {
			return true
		}
	}
	return false
}

// row adds one row to a row of blocks, with its veils drawn.
func (p *shrink) row(acc, whole []float32, y int) {
	if !p.veiled(y) {
		p.add(acc, y, p.from.Min.X, p.from.Max.X, p.kx)
		return
	}
	clear(whole)
	p.add(whole, y, p.from.Min.X, p.from.Max.X, 1)
	for _, l := range p.veils {
		if l.Touches(y) {
			l.Draw(whole, y, p.from.Min.X)
		}
	}
	for x := range p.from.Dx() {
		block := acc[x/p.kx*p.ch:][:p.ch]
		for c := range block {
			block[c] += whole[x*p.ch+c]
		}
	}
}

func setOpaque(pix []uint8, line []float32) {
	for len(line) >= 3 && len(pix) >= 4 {
		p, l := (*[4]uint8)(pix), (*[3]float32)(line)
		p[0], p[1], p[2], p[3] = code(l[0]), code(l[1]), code(l[2]), 255
		pix, line = pix[4:], line[3:]
	}
}

func setAlpha(pix []uint8, line []float32) {
	for x := 0; 4*x < len(line); x++ {
		a := min(max(line[4*x+3], 0), 1)
		if a < 1.0/512 {
			pix[4*x], pix[4*x+1], pix[4*x+2], pix[4*x+3] = 0, 0, 0, 0
			continue
		}
		pix[4*x], pix[4*x+1], pix[4*x+2] = code(line[4*x]/a), code(line[4*x+1]/a), code(line[4*x+2]/a)
		pix[4*x+3] = uint8(a*255 + 0.5)
	}
}

// upright turns the small result. It copies only where the source is not
// stored upright.
func upright(m image.Image, o facts.Orientation, size fit.Size) image.Image {
	if !o.OnSide() {
		return m
	}
	flat := fit.SizeOf(m.Bounds())
	turn := func(dst, src []uint8, dstStride, srcStride int) {
		for y := range size.H {
			for x := range size.W {
				p := o.ToStored(image.Pt(x, y), flat)
				copy(dst[y*dstStride+4*x:][:4], src[p.Y*srcStride+4*p.X:][:4])
			}
		}
	}
	switch m := m.(type) {
	case *image.RGBA:
		dst := image.NewRGBA(size.Rect())
		turn(dst.Pix, m.Pix, dst.Stride, m.Stride)
		return dst
	case *image.NRGBA:
		dst := image.NewNRGBA(size.Rect())
		turn(dst.Pix, m.Pix, dst.Stride, m.Stride)
		return dst
	}
	return m
}
