package jpegdec

// firstCoefficient decodes the first coefficient of a block, which is told as what it differs
// from the one before.
func (s *scan) firstCoefficient(p *part) (int32, error) {
	b := &s.bits
	if b.n < 32 {
		b.refill()
	}
	if e := p.dc.look[b.acc>>(64-lookBits)]; e&partly == 0 && e != 0 {
		b.skip(uint(e & 63))
		p.last += e >> 16
		return p.last, nil
	}
	size, err := b.symbol(p.dc)
	if err != nil {
		return 0, err
	}
	if size > 15 {
		return 0, DamageError("a first coefficient that is too large")
	}
	if size > 0 {
		p.last += extend(b.take(uint(size)), int(size))
	}
	return p.last, nil
}

// sequential reads a block with all of its coefficients, and has it drawn.
func (s *scan) sequential(p *part, x, y int) error {
	b := s.block(p, x, y)
	first, err := s.firstCoefficient(p)
	if err != nil {
		return err
	}
	b.at[0] = float32(first) * p.factor[0]
	if err := s.bits.rest(p, b); err != nil || s.brush == nil {
		return err
	}
	s.brush.draw(p.component, b, x, y)
	return nil
}

// block is an empty one for a place.
func (s *scan) block(p *part, x, y int) *block {
	if s.brush == nil {
		return s.painter.next(p.component, x, y)
	}
	s.brush.block = block{}
	return &s.brush.block
}

// rest reads the coefficients after the first (T.81, F.2.2.2). This is where most of the time
// goes: one look tells the zeros, the value and how many bits it took.
func (s *bits) rest(p *part, b *block) error {
	acc, n := s.acc, s.n
	h := p.ac
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
			b.put(k, float32(e>>16)*p.factor[k&63])
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
		b.put(k, float32(v)*p.factor[k&63])
		k++
	}
	s.acc, s.n = acc, n
	return nil
}
