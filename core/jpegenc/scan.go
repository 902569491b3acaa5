package jpegenc

import "math/bits"

// Symbols with a meaning of their own among those of coefficients (T.81, F.1.2.2).
const (
	endOfBlock   = 0x00 // all that follow are nothing
	sixteenZeros = 0xF0
)

// sized returns how many bits a value has, and which: one below nothing is written less one.
func sized(v int32) (value uint32, n uint8) {
	sign := v >> 31
	n = uint8(bits.Len32(uint32((v ^ sign) - sign)))
	return uint32(v+sign) & (1<<n - 1), n
}

// components says for the i-th block of a unit which component it is of: luma, blue or red.
var components = [6]int{0, 0, 0, 0, 1, 2}

// sort is the kind of table a component has: luma's or chroma's.
func sort(component int) int { return min(component, 1) }

// count returns how often each symbol of first and of further coefficients is written, for
// luma and for chroma.
func (p *picture) count() (first, rest [2]counts) {
	var before [3]int16
	for i := range p.blocks {
		b, c := &p.blocks[i], p.component(i%p.each)
		_, n := sized(int32(b.at[0] - before[c]))
		before[c] = b.at[0]
		first[sort(c)][n]++
		often, at := &rest[sort(c)], 0
		for mask := b.mask &^ 1; mask != 0; mask &= mask - 1 {
			k := bits.TrailingZeros64(mask)
			run := k - at - 1
			often[sixteenZeros] += run / 16
			_, n := sized(int32(b.at[k&63]))
			often[uint8(run%16<<4)|n]++
			at = k
		}
		if at < 63 {
			often[endOfBlock]++
		}
	}
	return first, rest
}

// scan writes the blocks.
func (p *picture) scan(w *bitWriter, first, rest [2]*codes) {
	var before [3]int16
	for i := range p.blocks {
		b, c := &p.blocks[i], p.component(i%p.each)
		v, n := sized(int32(b.at[0] - before[c]))
		before[c] = b.at[0]
		w.code(first[sort(c)], n, v, n)
		codes, at := rest[sort(c)], 0
		for mask := b.mask &^ 1; mask != 0; mask &= mask - 1 {
			k := bits.TrailingZeros64(mask)
			run := k - at - 1
			for ; run >= 16; run -= 16 {
				w.code(codes, sixteenZeros, 0, 0)
			}
			v, n := sized(int32(b.at[k&63]))
			w.code(codes, uint8(run<<4)|n, v, n)
			at = k
		}
		if at < 63 {
			w.code(codes, endOfBlock, 0, 0)
		}
	}
	w.end()
}

// bitWriter appends bits to a file, and a nothing behind each byte that is all ones.
type bitWriter struct {
	out     []byte
	pending uint64
	n       uint8 // of pending, fewer than 32
}

// code writes the code of a symbol, and n bits of value behind it.
func (w *bitWriter) code(c *codes, symbol uint8, value uint32, n uint8) {
	w.put(uint32(c.code[symbol]), c.bits[symbol])
	w.put(value, n)
}

// put writes the last n bits of value, at most 32, the others of which are nothing.
func (w *bitWriter) put(value uint32, n uint8) {
	w.pending = w.pending<<n | uint64(value)
	w.n += n
	if w.n < 32 {
		return
	}
	w.n -= 32
	four := uint32(w.pending >> w.n)
	if full := four & (four&0x7F7F7F7F + 0x01010101) & 0x80808080; full == 0 {
		w.out = append(w.out, byte(four>>24), byte(four>>16), byte(four>>8), byte(four))
		return
	}
	for shift := 24; shift >= 0; shift -= 8 {
		w.byte(byte(four >> shift))
	}
}

func (w *bitWriter) byte(b byte) {
	w.out = append(w.out, b)
	if b == 0xFF {
		w.out = append(w.out, 0)
	}
}

// end fills the last byte up with ones.
func (w *bitWriter) end() {
	fill := (8 - w.n%8) % 8
	w.pending = w.pending<<fill | (1<<fill - 1)
	for w.n += fill; w.n > 0; w.n -= 8 {
		w.byte(byte(w.pending >> (w.n - 8)))
	}
}
