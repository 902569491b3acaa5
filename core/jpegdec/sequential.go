package jpegdec

import "slices"

// list is the coefficients of blocks, one block after the other: of each the first one, the others
// that are not zero, and a 0. What is not the first has its place, in zigzag order, in the lower
// eight bits, and its value above them.
type list struct {
	of   []int32
	used int
}

// mostOfBlock is how many numbers of a list a block takes at most.
const mostOfBlock = 65

// room is where the next block is written.
func (l *list) room() *[mostOfBlock]int32 {
	if len(l.of)-l.used < mostOfBlock {
		l.of = slices.Grow(l.of, mostOfBlock)
		l.of = l.of[:cap(l.of)]
	}
	return (*[mostOfBlock]int32)(l.of[l.used:])
}

// unit reads the blocks of a unit of a sequential scan.
func (s *scan) unit(l *list) error {
	for i := range s.parts {
		p := &s.parts[i]
		for range p.across * p.down {
			to := l.room()
			if err := s.firstCoefficient(p); err != nil {
				return err
			}
			to[0] = p.last
			n, err := s.bits.rest(p.ac, (*[64]int32)(to[1:]))
			if err != nil {
				return err
			}
			l.used += 1 + n
		}
	}
	return nil
}

// firstCoefficient decodes the first coefficient of a block, which is told as what it differs
// from the one before.
func (s *scan) firstCoefficient(p *part) error {
	b := &s.bits
	if b.n < 32 {
		b.refill()
	}
	if e := p.dc.look[b.acc>>(64-lookBits)]; e&partly == 0 && e != 0 {
		b.skip(uint(e & 63))
		p.last += e >> 16
		return nil
	}
	size, err := b.symbol(p.dc)
	if err != nil {
		return err
	}
	if size > 15 {
		return DamageError("a first coefficient that is too large")
	}
	if size > 0 {
		p.last += extend(b.take(uint(size)), int(size))
	}
	return nil
}

// rest reads the coefficients after the first (T.81, F.2.2.2), and returns how many numbers it wrote.
// This is where most of the time goes: one look tells the zeros, the value and how many bits it took.
func (s *bits) rest(h *huffman, to *[64]int32) (int, error) {
	acc, n := s.acc, s.n
	k, used := 1, 0
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
			to[used&63] = e>>16<<8 | int32(k)
			used++
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
				return 0, DamageError("a code that its table does not have")
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
		to[used&63] = v<<8 | int32(k)
		used++
		k++
	}
	s.acc, s.n = acc, n
	to[used&63] = 0
	return used + 1, nil
}
