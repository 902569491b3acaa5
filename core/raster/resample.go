package raster

import (
	"image"

	"mivlet/core/cores"
	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/light"
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
	if len(w.Veils) > 0 && (s.eighths < 8 || !s.Whole()) {
		panic("veils are drawn on all pixels, and this source has fewer") // see Needs
	}
	small := s.resample(s.orientation.RectToStored(w.From, s.stored), total.Turned(w.Size), fine, w.Veils)
	return upright(small, total, w.Size)
}

// Glance returns the whole source brought down to size for the screen: mostly
// averaged over blocks, about four times quicker than Cut and a little softer.
func (s *Source) Glance(size fit.Size) *Source {
	small := s.resample(s.stored.Rect(), s.orientation.Turned(size), coarse, nil)
	m := upright(small, s.orientation, size)
	return &Source{pixels: m, eighths: 8, stored: size, orientation: facts.Upright, opaque: s.opaque || opaque(m), space: srgb}
}

// Image returns the pixels of a source that stands upright, such as a Glance.
func (s *Source) Image() image.Image { return s.pixels }

// care is how carefully a picture is brought down: how much of it is left to the kernel after
// block averaging, at least, and how far the kernel reaches.
type care struct {
	least float64
	lobes int
}

var (
	fine   = care{2.5, lobes}
	coarse = care{1.0, fewLobes}
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
func (s *Source) resample(part image.Rectangle, size fit.Size, how care, veils []veil.Veil) image.Image {
	solid := s.opaqueBeside(veils)
	out, ch, set := blank(size, solid)
	add := adder(s.pixels, solid, s.space)
	from, across, down := s.stretches(part)
	p := &shrink{add: add, in: s.space, from: from, size: size, ch: ch, veils: s.layers(veils, ch, add), setPixels: set,
		kx: max(1, int(across.length/float64(size.W)/how.least)), ky: max(1, int(down.length/float64(size.H)/how.least))}
	if p.kx > 1 && p.ky > 1 && from.Min.X%2 == 0 && from.Min.Y%2 == 0 && from.Dx()%2 == 0 {
		if p.pair = quads(s.pixels, s.space); p.pair != nil { // it wants even blocks: more is left to the kernel
			p.kx, p.ky = min(p.kx&^1, mostPixels/2), p.ky&^1
		}
	}
	p.rw, p.rh = (from.Dx()+p.kx-1)/p.kx, (from.Dy()+p.ky-1)/p.ky
	p.cols = tapsFor(across.averaged(p.kx, p.rw), size.W, how.lobes)
	p.rowsTaps = tapsFor(down.averaged(p.ky, p.rh), size.H, how.lobes)

	cores.Share(size.H, p.band)
	return out
}

// averaged is a stretch of which each k are averaged, which gives count.
func (s side) averaged(k, count int) side {
	return side{s.start / float64(k), s.length / float64(k), count, s.several * float64(k)}
}

// stretches carries a part of the stored picture over to the pixels that there are of it: those
// that have to be read, and where the part lies in them.
func (s *Source) stretches(part image.Rectangle) (from image.Rectangle, across, down side) {
	n := s.eighths
	from = image.Rect(part.Min.X*n/8, part.Min.Y*n/8, (part.Max.X*n+7)/8, (part.Max.Y*n+7)/8)
	if n < 8 {
		from.Min = image.Pt(from.Min.X&^1, from.Min.Y&^1) // chroma is kept for pairs
	}
	along := func(min, max, first, last int) side {
		return side{float64(min*n)/8 - float64(first), float64((max-min)*n) / 8, last - first, 8 / float64(n)}
	}
	across, down = along(part.Min.X, part.Max.X, from.Min.X, from.Max.X), along(part.Min.Y, part.Max.Y, from.Min.Y, from.Max.Y)
	from = from.Sub(s.offset)
	if !from.In(image.Rectangle{Max: s.pixels.Bounds().Size()}) {
		panic("a part that was not decoded")
	}
	return from, across, down
}

// blank returns an empty picture with the channels its light has, and what sets
// a row of it from a line of light.
func blank(size fit.Size, opaque bool) (m image.Image, channels int, set func(y int, line []float32)) {
	if opaque {
		dst := image.NewRGBA(size.Rect())
		return dst, 3, func(y int, line []float32) { light.Pixels(dst.Pix[y*dst.Stride:], line) }
	}
	dst := image.NewNRGBA(size.Rect())
	return dst, 4, func(y int, line []float32) { setAlpha(dst.Pix[y*dst.Stride:], line) }
}

// band makes the rows from y0 to y1 of the cut. It keeps only as many rows as the kernel
// reaches. They are brought down before the columns, as whole rows are quicker to add up than the
// neighbours in one.
func (p *shrink) band(y0, y1 int) {
	depth := 0
	for _, t := range p.rowsTaps[y0:y1] {
		depth = max(depth, len(t.weights))
	}
	ring := rowsFor(depth, p.rw*p.ch)
	rows := make([][]float32, 0, depth)
	low := roomFor(p.rw * p.ch)
	whole := p.wholeRow()
	line := make([]float32, p.size.W*p.ch)
	next := p.rowsTaps[y0].first
	for y := y0; y < y1; y++ {
		t := p.rowsTaps[y]
		for end := t.first + len(t.weights); next < end; next++ {
			p.block(ring[next%depth], whole, next)
		}
		rows = rows[:0]
		for j := range t.weights {
			rows = append(rows, ring[(t.first+j)%depth])
		}
		stack(low, rows, t)
		narrow(line, low, p.cols, p.ch)
		p.in.toSRGB(line, p.ch)
		p.setPixels(y, line)
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
	if inv := 1 / (high * float32(p.kx)); inv != 1 {
		for i := range acc[:full] {
			acc[i] *= inv
		}
	}
	if rest := p.from.Dx() % p.kx; rest > 0 {
		inv := 1 / (high * float32(rest))
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

func setAlpha(pix []uint8, line []float32) {
	for x := 0; 4*x < len(line); x++ {
		a := min(max(line[4*x+3], 0), 1)
		if a < 1.0/512 {
			pix[4*x], pix[4*x+1], pix[4*x+2], pix[4*x+3] = 0, 0, 0, 0
			continue
		}
		pix[4*x], pix[4*x+1], pix[4*x+2] = light.Code(line[4*x]/a), light.Code(line[4*x+1]/a), light.Code(line[4*x+2]/a)
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
		place := func(x, y int) int { p := o.ToStored(image.Pt(x, y), flat); return p.Y*srcStride + 4*p.X }
		step := place(1, 0) - place(0, 0) // from a pixel to the one on its right, the same everywhere
		const few = 16                    // pixels in a row, whose places lie near those of the row below
		cores.Share(size.H, func(from, to int) {
			for x := 0; x < size.W; x += few {
				for y := from; y < to; y++ {
					row, at := dst[y*dstStride+4*x:][:4*min(few, size.W-x)], place(x, y)
					for ; len(row) >= 4; row, at = row[4:], at+step {
						*(*[4]uint8)(row) = *(*[4]uint8)(src[at:])
					}
				}
			}
		})
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
