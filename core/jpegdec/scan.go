package jpegdec

// A band is the coefficients that a scan holds, in zigzag order, and of them the bits: those
// from high on were there before (T.81, G.1.2). A sequential scan holds all of everything.
type band struct {
	from, to  int
	high, low uint
}

// A part of a scan is one of its components.
type part struct {
	*component
	across, down int // blocks in a unit, along a side
	dc, ac       *huffman
	last         int32   // the first coefficient of the block before
	before       waiting // for the scans before, which told of the same component
}

// A scan goes through the blocks of some components (T.81, B.2.3).
type scan struct {
	parts    []part
	band     band
	interval int // units between restart markers; 0 for none
	bits     bits
	eobrun   int32 // blocks that end before they begin, in progressive scans
	done     rows
}

// scan reads the head of a scan and its blocks.
func (d *decoder) scan(body []byte) error {
	s, err := d.head(body)
	if err != nil {
		return err
	}
	if d.n == 1 && s.band.from > 0 && s.band.high > 0 && s.band.low == 0 {
		// At an eighth, all but the first coefficient only tell where light differs from code
		// values: all but their last bits are enough for that.
		for _, p := range s.parts {
			p.rough = true
		}
		d.after, err = d.in.afterScan()
		return err
	}
	for _, p := range s.parts {
		if s.band.from == 0 && s.band.high == 0 && p.dc == nil || s.band.to > 0 && p.ac == nil {
			return DamageError("a scan whose table of codes is missing")
		}
		if err := d.ready(p.component); err != nil {
			return err
		}
	}
	if d.progressive {
		d.after, err = d.relay.begin(s, d.in)
	} else {
		d.after, err = d.inStretches(s)
	}
	return err
}

// head reads what a scan is about.
func (d *decoder) head(body []byte) (*scan, error) {
	if d.comps == nil {
		return nil, DamageError("a scan before the head of the picture")
	}
	if len(body) < 6 || len(body) != 4+2*int(body[0]) {
		return nil, DamageError("a head of a scan of another length")
	}
	s := &scan{interval: d.interval}
	for i := range int(body[0]) {
		id, tables := body[1+2*i], body[2+2*i]
		c := d.component(id)
		if c == nil || tables>>4 > 3 || tables&15 > 3 {
			return nil, DamageError("a scan of a component that there is not")
		}
		for _, other := range s.parts {
			if other.component == c {
				return nil, DamageError("a scan that names a component twice")
			}
		}
		s.parts = append(s.parts, part{component: c, across: c.h, down: c.v, dc: d.tables[0][tables>>4], ac: d.tables[1][tables&15]})
	}
	if len(s.parts) == 1 {
		s.parts[0].across, s.parts[0].down = 1, 1 // a unit of one component is one block (T.81, A.2.2)
	}
	tail := body[1+2*int(body[0]):]
	b := band{int(tail[0]), int(tail[1]), uint(tail[2] >> 4), uint(tail[2] & 15)}
	if !d.progressive {
		b = band{0, 63, 0, 0}
	}
	if b.from > b.to || b.to > 63 || b.low > 13 || b.high > 13 || b.high > 0 && b.high != b.low+1 ||
		d.progressive && b.from == 0 && b.to > 0 || b.from > 0 && len(s.parts) > 1 {
		return nil, DamageError("a scan of a part that cannot be")
	}
	s.band = b
	return s, nil
}

func (d *decoder) component(id byte) *component {
	for i := range d.comps {
		if d.comps[i].id == id {
			return &d.comps[i]
		}
	}
	return nil
}

// ready makes room for a component before its first scan.
func (d *decoder) ready(c *component) error {
	if c.seen {
		return nil
	}
	if !d.known[c.table] {
		return DamageError("a table of steps is missing")
	}
	c.seen = true
	for k := range c.factor {
		c.factor[k] = float32(d.quant[c.table][k])
	}
	if d.progressive {
		c.coeffs, c.something = make([]int16, 64*c.bw*c.bh), make([]uint64, c.bw*c.bh)
	}
	c.stride = c.kept.Dx()*c.nh + 8 // what draws a block may draw eight pixels of it
	c.plane = make([]byte, c.stride*c.kept.Dy()*c.nv)
	return nil
}

// extent is how many units are read of a scan, along a side: a block each where it holds one
// component, else all the blocks that cover the same pixels (T.81, A.2). Those below what is kept are
// left out.
func (s *scan) extent() (across, down int) {
	p := s.parts[0]
	if len(s.parts) > 1 {
		return p.bw / p.h, p.kept.Max.Y / p.v
	}
	return p.w, min(p.hgt, p.kept.Max.Y)
}

func (s *scan) count() int {
	across, down := s.extent()
	return across * down
}

// goTo goes to where a unit begins.
func (s *scan) goTo(p place) {
	s.bits.goTo(p.at)
	for i := range s.parts {
		s.parts[i].last = p.last[i]
	}
}

// lasts are the first coefficients of the blocks before.
func (s *scan) lasts() (last [3]int32) {
	for i := range s.parts {
		last[i] = s.parts[i].last
	}
	return last
}

// fresh forgets what was told of the blocks before.
func (s *scan) fresh() {
	s.eobrun = 0
	for i := range s.parts {
		s.parts[i].last = 0
	}
}

// restart takes the marker that stands between two intervals (T.81, F.2.2.5).
func (s *scan) restart(next *byte) error {
	if s.bits.spent() {
		return s.bits.short()
	}
	m, err := s.bits.end()
	if err != nil {
		return err
	}
	if m != *next {
		return DamageError("a restart marker that is out of order")
	}
	*next = rst0 + (m-rst0+1)%8
	s.fresh()
	return nil
}
