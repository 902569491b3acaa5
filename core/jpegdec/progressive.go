package jpegdec

import mathbits "math/bits"

// Progressive files tell the coefficients in several scans, each a band of them or one more bit
// (T.81, annex G).

// A blockReader reads what a scan holds of the block in column x and row y.
type blockReader func(p *part, x, y int) error

// reader returns what reads the blocks of a progressive scan.
func (s *scan) reader() blockReader {
	b := s.band
	switch {
	case b.from == 0 && b.high == 0:
		return func(p *part, x, y int) error { return s.firstOfDC(p.coefficients(p.place(x, y)), p, b.low) }
	case b.from == 0:
		return func(p *part, x, y int) error {
			p.coefficients(p.place(x, y))[0] |= int16(s.bits.take(1) << b.low)
			return nil
		}
	case b.high == 0:
		return func(p *part, x, y int) error { return s.firstOfAC(p, p.place(x, y)) }
	}
	return func(p *part, x, y int) error { return s.refineAC(p, p.place(x, y)) }
}

// place is that of a block among those of the component.
func (c *component) place(x, y int) int { return y*c.bw + x }

// coefficients are those of the block at a place.
func (c *component) coefficients(at int) *[64]int16 { return (*[64]int16)(c.coeffs[64*at:]) }

// rows goes through a progressive scan. Before each row it asks whether to go on.
func (s *scan) rows(goOn func(row int) error) error {
	across, down := s.extent()
	read := s.reader()
	until, next := s.interval, byte(rst0)
	for y := range down {
		if err := goOn(y); err != nil {
			return err
		}
		for x := range across {
			if s.interval > 0 && until == 0 {
				if err := s.restart(&next); err != nil {
					return err
				}
				until = s.interval
			}
			until--
			if err := s.blocks(x, y, read); err != nil {
				return err
			}
		}
		if s.bits.spent() {
			return s.bits.short()
		}
		s.done.are(y + 1)
	}
	return nil
}

// blocks reads the blocks of the unit in column x and row y.
func (s *scan) blocks(x, y int, read blockReader) error {
	for i := range s.parts {
		p := &s.parts[i]
		for v := range p.down {
			for h := range p.across {
				if err := read(p, x*p.across+h, y*p.down+v); err != nil {
					return err
				}
			}
		}
	}
	return nil
}

// firstOfDC reads the high bits of the first coefficient.
func (s *scan) firstOfDC(b *[64]int16, p *part, low uint) error {
	err := s.firstCoefficient(p)
	b[0] = int16(p.last << low)
	return err
}

// firstOfAC reads the high bits of a band (G.1.2.2).
func (s *scan) firstOfAC(p *part, at int) error {
	if s.eobrun > 0 {
		s.eobrun--
		return nil
	}
	b, something := p.coefficients(at), &p.something[at]
	for k := s.band.from; k <= s.band.to; k++ {
		symbol, err := s.bits.symbol(p.ac)
		if err != nil {
			return err
		}
		run, size := int(symbol>>4), uint(symbol&15)
		if size == 0 && run < 15 {
			s.eobrun = 1<<run - 1
			if run > 0 {
				s.eobrun += s.bits.take(uint(run))
			}
			return nil
		}
		if k += run; k > s.band.to {
			return nil
		}
		if size > 0 {
			if b[k] = int16(extend(s.bits.take(size), int(size)) << s.band.low); b[k] != 0 {
				*something |= 1 << k
			}
		}
	}
	return nil
}

// refineAC reads one more bit of each coefficient of a band: for those that are not zero yet
// just the bit, for the others where one becomes it (G.1.2.3).
func (s *scan) refineAC(p *part, at int) error {
	b, something := p.coefficients(at), &p.something[at]
	rest := ^uint64(0) << s.band.from & (^uint64(0) >> (63 - s.band.to)) // of the band
	for s.eobrun == 0 && rest != 0 {
		symbol, negative, err := s.bits.refinement(p.ac)
		if err != nil {
			return err
		}
		run, size := int(symbol>>4), symbol&15
		value := int16(0)
		switch {
		case size == 1:
			value = (1 - 2*negative) << s.band.low
		case size > 1:
			return DamageError("a coefficient that grows by more than a bit")
		case run < 15:
			s.eobrun = 1 << run
			if run > 0 {
				s.eobrun += s.bits.take(uint(run))
			}
		}
		if s.eobrun > 0 {
			break
		}
		// So many that are zero are passed, up to the next one.
		zeros := rest &^ *something
		for ; run > 0; run-- {
			zeros &= zeros - 1
		}
		next := zeros & -zeros
		passed := rest & (next - 1) // all, where there are no more
		s.grow(b, passed&*something)
		rest &^= passed | next
		if value != 0 && next != 0 {
			b[mathbits.TrailingZeros64(next)&63] = value
			*something |= next
		}
	}
	if s.eobrun > 0 {
		s.eobrun--
		s.grow(b, rest&*something)
	}
	return nil
}

// grow reads a bit for each of some coefficients.
func (s *scan) grow(b *[64]int16, some uint64) {
	for some != 0 {
		n := min(mathbits.OnesCount64(some), 16)
		told := s.bits.take(uint(n))
		for n--; n >= 0; n-- {
			v := &b[mathbits.TrailingZeros64(some)&63]
			some &= some - 1
			by, sign := int16(told>>n&1)<<s.band.low, *v>>15
			*v += by ^ sign - sign // away from zero
		}
	}
}

// whole is what a coefficient stands for: where its last bit was not read, the middle of the two
// that it can be.
func (c *component) whole(v int16) float32 {
	switch {
	case c.rough && v > 0:
		return float32(v) + 0.5
	case c.rough:
		return float32(v) - 0.5
	}
	return float32(v)
}
