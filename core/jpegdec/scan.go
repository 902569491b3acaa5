package jpegdec

// A band is the coefficients that a scan holds, in zigzag order, and of them the bits: those
// from high on were there before (T.81, G.1.2). A sequential scan holds all of everything.
type band struct {
	from, to  int
	high, low uint
}

// scan reads the head of a scan and its blocks (T.81, B.2.3).
func (d *decoder) scan(body []byte) error {
	if d.comps == nil {
		return DamageError("a scan before the head of the picture")
	}
	if len(body) < 6 || len(body) != 4+2*int(body[0]) {
		return DamageError("a head of a scan of another length")
	}
	var parts []*component
	for i := range int(body[0]) {
		id, tables := body[1+2*i], body[2+2*i]
		c := d.component(id)
		if c == nil || tables>>4 > 3 || tables&15 > 3 {
			return DamageError("a scan of a component that there is not")
		}
		for _, other := range parts {
			if other == c {
				return DamageError("a scan that names a component twice")
			}
		}
		c.dc, c.ac = d.tables[0][tables>>4], d.tables[1][tables&15]
		parts = append(parts, c)
	}
	tail := body[1+2*int(body[0]):]
	b := band{int(tail[0]), int(tail[1]), uint(tail[2] >> 4), uint(tail[2] & 15)}
	if !d.progressive {
		b = band{0, 63, 0, 0}
	}
	if b.from > b.to || b.to > 63 || b.low > 13 || b.high > 13 || b.high > 0 && b.high != b.low+1 ||
		d.progressive && b.from == 0 && b.to > 0 || b.from > 0 && len(parts) > 1 {
		return DamageError("a scan of a part that cannot be")
	}
	if d.n == 1 && b.from > 0 && b.high > 0 && b.low == 0 {
		// At an eighth, all but the first coefficient only tell where light differs from code
		// values: all but their last bits are enough for that.
		for _, c := range parts {
			c.rough = true
		}
		var err error
		d.after, err = d.in.afterScan()
		return err
	}
	for _, c := range parts {
		if b.from == 0 && b.high == 0 && c.dc == nil || b.to > 0 && c.ac == nil {
			return DamageError("a scan whose table of codes is missing")
		}
		if err := d.ready(c); err != nil {
			return err
		}
	}
	read, done := d.reader(b)
	err := d.units(parts, read)
	done()
	if err != nil {
		return err
	}
	d.after, err = d.bits.end()
	return err
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
		c.coeffs = make([]int16, 64*c.bw*c.bh)
	}
	c.stride = c.bw*c.nh + 8 // what draws a block may draw eight pixels of it
	c.plane = make([]byte, c.stride*c.bh*c.nv)
	return nil
}

// A blockReader reads what a scan holds of the block in column x and row y.
type blockReader func(c *component, x, y int) error

// reader returns what reads the blocks of a scan, and what waits for the last of them to be
// drawn.
func (d *decoder) reader(b band) (read blockReader, done func()) {
	switch {
	case !d.progressive:
		p := d.painter()
		return func(c *component, x, y int) error { return d.sequential(p, c, x, y) }, p.done
	case b.from == 0 && b.high == 0:
		read = func(c *component, x, y int) error { return d.firstOfDC(c.coefficients(x, y), c, b.low) }
	case b.from == 0:
		read = func(c *component, x, y int) error {
			c.coefficients(x, y)[0] |= int16(d.bits.take(1) << b.low)
			return nil
		}
	case b.high == 0:
		read = func(c *component, x, y int) error { return d.firstOfAC(c.coefficients(x, y), c.ac, b) }
	default:
		read = func(c *component, x, y int) error { return d.refineAC(c.coefficients(x, y), c.ac, b) }
	}
	return read, func() {}
}

// coefficients are those of a block of a progressive file.
func (c *component) coefficients(x, y int) *[64]int16 {
	return (*[64]int16)(c.coeffs[64*(y*c.bw+x):])
}

// units goes through the units of a scan: a block each where it holds one component, else all
// the blocks that cover the same pixels (T.81, A.2).
func (d *decoder) units(parts []*component, read blockReader) error {
	d.bits = bits{in: d.in}
	d.eobrun = 0
	across, down := parts[0].w, parts[0].hgt
	if len(parts) > 1 {
		across, down = parts[0].bw/parts[0].h, parts[0].bh/parts[0].v
	}
	for _, c := range parts {
		c.last = 0
	}
	until, next := d.interval, byte(rst0)
	for y := range down {
		for x := range across {
			if d.interval > 0 && until == 0 {
				if err := d.restart(parts, &next); err != nil {
					return err
				}
				until = d.interval
			}
			until--
			if err := unit(parts, x, y, read); err != nil {
				return err
			}
		}
		if d.bits.spent() {
			return d.bits.short()
		}
	}
	return nil
}

func unit(parts []*component, x, y int, read blockReader) error {
	if len(parts) == 1 {
		return read(parts[0], x, y)
	}
	for _, c := range parts {
		for v := range c.v {
			for h := range c.h {
				if err := read(c, x*c.h+h, y*c.v+v); err != nil {
					return err
				}
			}
		}
	}
	return nil
}

// restart takes the marker that stands between two intervals (T.81, F.2.2.5).
func (d *decoder) restart(parts []*component, next *byte) error {
	if d.bits.spent() {
		return d.bits.short()
	}
	m, err := d.bits.end()
	if err != nil {
		return err
	}
	if m != *next {
		return DamageError("a restart marker that is out of order")
	}
	*next = rst0 + (m-rst0+1)%8
	d.eobrun = 0
	for _, c := range parts {
		c.last = 0
	}
	return nil
}

// firstCoefficient decodes the first coefficient of a block, which is told as what it differs
// from the one before.
func (d *decoder) firstCoefficient(c *component) (int32, error) {
	s := &d.bits
	if s.n < 32 {
		s.refill()
	}
	if e := c.dc.look[s.acc>>(64-lookBits)]; e&partly == 0 && e != 0 {
		s.skip(uint(e & 63))
		c.last += e >> 16
		return c.last, nil
	}
	size, err := s.symbol(c.dc)
	if err != nil {
		return 0, err
	}
	if size > 15 {
		return 0, DamageError("a first coefficient that is too large")
	}
	if size > 0 {
		c.last += extend(d.bits.take(uint(size)), int(size))
	}
	return c.last, nil
}

// sequential reads a block with all of its coefficients, and has it drawn.
func (d *decoder) sequential(p *painter, c *component, x, y int) error {
	b := p.next(c, x, y)
	first, err := d.firstCoefficient(c)
	if err != nil {
		return err
	}
	b.at[0] = float32(first) * c.factor[0]
	return d.bits.rest(c, b)
}

// rest reads the coefficients after the first (T.81, F.2.2.2). This is where most of the time
// goes: one look tells the zeros, the value and how many bits it took.
func (s *bits) rest(c *component, b *block) error {
	acc, n := s.acc, s.n
	h := c.ac
	k := 1
	for k < 64 {
		if n < 32 {
			s.acc, s.n = acc, n
			s.refill()
			acc, n = s.acc, s.n
		}
		e := h.look[acc>>(64-lookBits)]
		if e&partly == 0 && e != 0 {
			took := uint(e & 63)
			acc <<= took
			n -= took
			k += int(e >> 8 & 63)
			if k > 63 {
				break
			}
			b.put(k, float32(e>>16)*c.factor[k&63])
			k++
			continue
		}
		var symbol uint8
		var took uint
		if e != 0 {
			symbol, took = uint8(e>>8), uint(e&63)
		} else {
			var length int
			if symbol, length = h.long(int32(acc >> 48)); length == 0 {
				return DamageError("a code that its table does not have")
			}
			took = uint(length)
		}
		acc <<= took
		n -= took
		size := uint(symbol & 15)
		if size == 0 && symbol < 0xF0 {
			break
		}
		if k += int(symbol >> 4); k > 63 {
			break
		}
		v := extend(int32(acc>>(63-size)>>1), int(size))
		acc <<= size
		n -= size
		b.put(k, float32(v)*c.factor[k&63])
		k++
	}
	s.acc, s.n = acc, n
	return nil
}
