package jpegenc

import "image"

// strip is one row of units as planes, less 128: luma at full size, chroma at half.
type strip struct {
	p           *picture
	wide        int // pixels of a row, filled up to whole units
	luma        []float32
	blue, red   []float32
	top, bottom []byte // rows where they cannot be lent
}

func newStrip(p *picture) *strip {
	s := &strip{p: p, wide: p.across * p.side, top: make([]byte, 4*p.width), bottom: make([]byte, 4*p.width)}
	s.luma = make([]float32, s.wide*p.side)
	if !p.grey {
		s.blue, s.red = make([]float32, s.wide/2*8), make([]float32, s.wide/2*8)
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
	n := len(top) / 4
	for x := 0; x < n; x += 2 {
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

func bright(p *[4]byte) float32 {
	return float32(lumaRed*int32(p[0])+lumaGreen*int32(p[1])+lumaBlue*int32(p[2]))*one - 128
}

// transform makes the blocks of the strip's units.
func (s *strip) transform(into []block, luma, chroma *[64]float32) {
	var b [64]float32
	for unit := range s.p.across {
		if s.p.grey {
			forward(&b, s.luma[unit*8:], s.wide)
			into[unit].quantise(&b, luma)
			continue
		}
		six := into[unit*6:][:6]
		for i := range 4 {
			forward(&b, s.luma[i/2*8*s.wide+unit*16+i%2*8:], s.wide)
			six[i].quantise(&b, luma)
		}
		forward(&b, s.blue[unit*8:], s.wide/2)
		six[4].quantise(&b, chroma)
		forward(&b, s.red[unit*8:], s.wide/2)
		six[5].quantise(&b, chroma)
	}
}
