package jpegenc

import "image"

// strip is one row of units as planes, less 128: luma at full size, chroma at half of it or, where
// each pixel has its colour, at full size, too.
type strip struct {
	p           *picture
	wide        int // pixels of a row, filled up to whole units
	luma        []float32
	blue, red   []float32
	top, bottom []byte // rows where they cannot be lent
	weigher     weigher
}

func newStrip(p *picture) *strip {
	s := &strip{p: p, wide: p.across * p.side, top: make([]byte, 4*p.width), bottom: make([]byte, 4*p.width)}
	s.luma = make([]float32, s.wide*p.side)
	switch p.each {
	case 6:
		s.blue, s.red = make([]float32, s.wide/2*8), make([]float32, s.wide/2*8)
	case 3:
		s.blue, s.red = make([]float32, s.wide*8), make([]float32, s.wide*8)
	}
	return s
}

// reader returns what gives row y of a picture as four bytes a pixel, red first. It lends the
// picture's own bytes where they lie so, else it fills into.
func reader(m image.Image) func(y int, into []byte) []byte {
	b := m.Bounds()
	switch m := m.(type) {
	case *image.RGBA:
		return func(y int, _ []byte) []byte { return m.Pix[y*m.Stride:][:4*b.Dx()] }
	case *image.NRGBA:
		return func(y int, _ []byte) []byte { return m.Pix[y*m.Stride:][:4*b.Dx()] }
	case *image.Gray:
		return func(y int, _ []byte) []byte { return m.Pix[y*m.Stride:][:b.Dx()] }
	}
	return func(y int, into []byte) []byte {
		for x := range b.Dx() {
			r, g, bl, _ := m.At(b.Min.X+x, b.Min.Y+y).RGBA()
			into[4*x], into[4*x+1], into[4*x+2] = byte(r>>8), byte(g>>8), byte(bl>>8)
		}
		return into
	}
}

// read fills the strip from a row of units. Beyond the right and the lower edge the last pixel
// goes on, which costs the fewest bytes.
func (s *strip) read(rows func(int, []byte) []byte, row int) {
	last := s.p.height - 1
	if s.p.grey {
		for y := range 8 {
			from := rows(min(row*8+y, last), s.top)
			into := s.luma[y*s.wide:][:s.wide]
			for x, v := range from {
				into[x] = float32(v) - 128
			}
			goOn(into, len(from))
		}
		return
	}
	if s.p.each == 3 {
		for y := range 8 {
			at := y * s.wide
			luma, blue, red := s.luma[at:][:s.wide], s.blue[at:][:s.wide], s.red[at:][:s.wide]
			singles(rows(min(row*8+y, last), s.top), luma, blue, red)
			goOn(luma, s.p.width)
			goOn(blue, s.p.width)
			goOn(red, s.p.width)
		}
		return
	}
	for y := range 8 {
		top := rows(min(row*16+2*y, last), s.top)
		bottom := rows(min(row*16+2*y+1, last), s.bottom)
		upper, lower := s.luma[2*y*s.wide:][:s.wide], s.luma[(2*y+1)*s.wide:][:s.wide]
		blue, red := s.blue[y*s.wide/2:][:s.wide/2], s.red[y*s.wide/2:][:s.wide/2]
		quads(top, bottom, upper, lower, blue, red)
		goOn(upper, s.p.width)
		goOn(lower, s.p.width)
		goOn(blue, (s.p.width+1)/2)
		goOn(red, (s.p.width+1)/2)
	}
}

// goOn repeats the last of n values to the end.
func goOn(line []float32, n int) {
	for i := n; i < len(line); i++ {
		line[i] = line[n-1]
	}
}

// The sums of red, green and blue that make luma and chroma (ITU-T T.871), in 16.16 fixed point.
const (
	lumaRed, lumaGreen, lumaBlue = 19595, 38470, 7471
	blueRed, blueGreen, blueBlue = -11058, -21710, 32768
	redRed, redGreen, redBlue    = 32768, -27439, -5329
	one                          = 1.0 / (1 << 16)
)

// quads turns two rows of pixels into two of luma and one of each chroma, averaged over two by
// two pixels.
func quads(top, bottom []byte, upper, lower, blue, red []float32) {
	n, x := len(top)/4, 0
	if wide && n >= 8 {
		x = n &^ 7
		bottom, upper, lower, blue, red := bottom[:4*n], upper[:n], lower[:n], blue[:n/2], red[:n/2]
		quadsWide(&top[0], &bottom[0], &upper[0], &lower[0], &blue[0], &red[0], x)
	}
	for ; x < n; x += 2 {
		next := min(x+1, n-1)
		a, b := (*[4]byte)(top[4*x:]), (*[4]byte)(top[4*next:])
		c, d := (*[4]byte)(bottom[4*x:]), (*[4]byte)(bottom[4*next:])
		upper[x], upper[next] = bright(a), bright(b)
		lower[x], lower[next] = bright(c), bright(d)
		r := int32(a[0]) + int32(b[0]) + int32(c[0]) + int32(d[0])
		g := int32(a[1]) + int32(b[1]) + int32(c[1]) + int32(d[1])
		bl := int32(a[2]) + int32(b[2]) + int32(c[2]) + int32(d[2])
		blue[x/2] = float32(blueRed*r+blueGreen*g+blueBlue*bl) * (one / 4)
		red[x/2] = float32(redRed*r+redGreen*g+redBlue*bl) * (one / 4)
	}
}

// singles turns a row of pixels into luma and chroma of each.
func singles(row []byte, luma, blue, red []float32) {
	n, x := len(row)/4, 0
	if wide && n >= 8 {
		x = n &^ 7
		luma, blue, red := luma[:n], blue[:n], red[:n]
		singlesWide(&row[0], &luma[0], &blue[0], &red[0], x)
	}
	for ; x < n; x++ {
		p := (*[4]byte)(row[4*x:])
		r, g, b := int32(p[0]), int32(p[1]), int32(p[2])
		luma[x] = bright(p)
		blue[x] = float32(blueRed*r+blueGreen*g+blueBlue*b) * one
		red[x] = float32(redRed*r+redGreen*g+redBlue*b) * one
	}
}

func bright(p *[4]byte) float32 {
	return float32(lumaRed*int32(p[0])+lumaGreen*int32(p[1])+lumaBlue*int32(p[2]))*one - 128
}

// steps counts the coefficients of a block, of luma (0) or chroma (1), in steps.
func (s *strip) steps(into *block, from *[64]float32, divisors *[64]float32, sort int) {
	if s.p.weighed {
		s.weigher.weigh(into, from, divisors, usualBits[sort])
	} else {
		into.quantise(from, divisors)
	}
}

// transform makes the blocks of the strip's units.
func (s *strip) transform(into []block, luma, chroma *[64]float32) {
	var b [64]float32
	for unit := range s.p.across {
		if s.p.grey {
			forward(&b, s.luma[unit*8:], s.wide)
			s.steps(&into[unit], &b, luma, 0)
			continue
		}
		if s.p.each == 3 {
			three := into[unit*3:][:3]
			for i, plane := range [][]float32{s.luma, s.blue, s.red} {
				forward(&b, plane[unit*8:], s.wide)
				s.steps(&three[i], &b, [2]*[64]float32{luma, chroma}[sort(i)], sort(i))
			}
			continue
		}
		six := into[unit*6:][:6]
		for i := range 4 {
			forward(&b, s.luma[i/2*8*s.wide+unit*16+i%2*8:], s.wide)
			s.steps(&six[i], &b, luma, 0)
		}
		forward(&b, s.blue[unit*8:], s.wide/2)
		s.steps(&six[4], &b, chroma, 1)
		forward(&b, s.red[unit*8:], s.wide/2)
		s.steps(&six[5], &b, chroma, 1)
	}
}
