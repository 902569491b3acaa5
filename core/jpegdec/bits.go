package jpegdec

import "encoding/binary"

// bits hands out the bits of a scan, the first at the top of acc. The byte that is stuffed after
// each 0xFF is taken out (T.81, F.1.2.3). At a marker, or at the end of the file, zeros follow;
// whoever uses them finds out by spent.
type bits struct {
	in     *source
	acc    uint64
	n      uint // how many bits of acc are good
	zeros  uint // how many of them are none of the file's
	marker byte // that was met; 0 for none
}

// refill brings at least 48 bits into acc.
func (b *bits) refill() {
	in := b.in
	if b.marker == 0 && len(in.buf)-in.pos >= 8 {
		v := binary.BigEndian.Uint64(in.buf[in.pos:])
		if w := ^v; (w-0x0101010101010101)&v&0x8080808080808080 == 0 { // no 0xFF among the eight
			b.acc |= v >> b.n
			in.pos += int(63-b.n) >> 3
			b.n |= 56
			return
		}
	}
	for b.n <= 56 {
		v, ok := b.next()
		if !ok {
			b.zeros += 8
		}
		b.acc |= uint64(v) << (56 - b.n)
		b.n += 8
	}
}

// next returns the next byte of the scan, if there is one.
func (b *bits) next() (byte, bool) {
	in := b.in
	if b.marker != 0 || !in.fill(1) {
		return 0, false
	}
	v := in.buf[in.pos]
	if v != 0xFF {
		in.pos++
		return v, true
	}
	for in.fill(2) {
		switch m := in.buf[in.pos+1]; m {
		case 0:
			in.pos += 2
			return v, true
		case 0xFF:
			in.pos++ // filling before a marker
		default:
			b.marker = m
			in.pos += 2
			return 0, false
		}
	}
	in.pos = len(in.buf)
	return 0, false
}

// at is the place of the next bit among those of the bytes at hand, with what is stuffed.
func (b *bits) at() int {
	at := b.in.pos
	if b.marker != 0 {
		at -= 2
	}
	good := b.n - min(b.n, b.zeros)
	for ahead := good; ahead > 0; ahead -= min(ahead, 8) {
		if at--; at > 0 && b.in.buf[at] == 0 && b.in.buf[at-1] == 0xFF {
			at--
		}
	}
	return 8*at + int(-good&7)
}

// goTo goes to such a place.
func (b *bits) goTo(at int) {
	b.begin()
	b.in.pos = at / 8
	if at%8 > 0 {
		b.take(uint(at % 8))
	}
}

// spent reports whether more bits were used than there are.
func (b *bits) spent() bool { return b.n < b.zeros }

// short is what is wrong where bits are spent.
func (b *bits) short() error {
	if b.marker == 0 {
		return b.in.failed()
	}
	return DamageError("a scan that ends too soon")
}

// begin starts anew at the next byte.
func (b *bits) begin() { *b = bits{in: b.in} }

// end returns the marker that ends a scan. Whole bytes that are left before it belong to nobody.
func (b *bits) end() (byte, error) {
	m := b.marker
	b.begin()
	if m != 0 {
		return m, nil
	}
	return b.in.marker()
}

// take returns the next n bits, up to 16.
func (b *bits) take(n uint) int32 {
	if b.n < n {
		b.refill()
	}
	v := int32(b.acc >> (64 - n))
	b.skip(n)
	return v
}

func (b *bits) skip(n uint) {
	b.acc <<= n
	b.n -= n
}

// symbol decodes the next symbol.
func (b *bits) symbol(h *huffman) (uint8, error) {
	if b.n < 16 {
		b.refill()
	}
	if e := h.short[b.acc>>(64-lookBits)]; e != 0 {
		b.skip(uint(e & 0xFF))
		return uint8(e >> 8), nil
	}
	s, n := h.long(int32(b.acc >> 48))
	if n == 0 {
		return 0, DamageError("a code that its table does not have")
	}
	b.skip(uint(n))
	return s, nil
}

// refinement decodes the next symbol of a scan that refines, and the bit behind it where its size is one:
// 1 is for a coefficient below zero.
func (b *bits) refinement(h *huffman) (symbol uint8, negative int16, err error) {
	if b.n < 32 {
		b.refill()
	}
	e := h.short[b.acc>>(64-lookBits)]
	if e == 0 {
		s, n := h.long(int32(b.acc >> 48))
		if n == 0 {
			return 0, 0, DamageError("a code that its table does not have")
		}
		e = uint16(s)<<8 | uint16(n)
	}
	symbol = uint8(e >> 8)
	acc, used := b.acc<<(e&0xFF), uint(e&0xFF)
	if symbol&15 == 1 {
		negative = int16(^acc >> 63)
		acc <<= 1
		used++
	}
	b.acc, b.n = acc, b.n-used
	return symbol, negative, nil
}
