package jpegenc

import (
	"math"
	"math/bits"
)

// token is what a scan writes next: a symbol with bits behind it, or bits alone.
type token uint32

// Bits of a token: 16 of value, 5 that say how many of them count, 8 of symbol, one for chroma's
// table, and one where there is no symbol.
const (
	sizeAt, symbolAt, chromaAt = 16, 21, 29
	bare                       = token(1 << 30)
)

func symbolWith(symbol uint8, value uint32, n uint8) token {
	return token(value) | token(n)<<sizeAt | token(symbol)<<symbolAt
}

func (t token) value() uint32 { return uint32(t & 0xFFFF) }
func (t token) size() uint8   { return uint8(t >> sizeAt & 0x1F) }
func (t token) symbol() uint8 { return uint8(t >> symbolAt) }
func (t token) table() int    { return int(t >> chromaAt & 1) }

// scan is one scan of a progressive file: coefficients from to to of a component, or the first of
// all components, at first without their low last bits or, refined, one bit more of them
// (T.81, G.1.1).
type scan struct {
	component int // -1 for all of them
	from, to  int
	high, low int
	tokens    []token
	codes     [2]*codes
	bytes     int // what it takes in a file, about
}

// priced makes the codes of a scan, and what it takes.
func (s *scan) priced() *scan {
	var often [2]counts
	sum := 0
	for _, t := range s.tokens {
		if t&bare == 0 {
			often[t.table()][t.symbol()]++
		}
		sum += int(t.size())
	}
	s.bytes = 14 // its head
	for i := range often {
		if often[i] == (counts{}) {
			continue
		}
		s.codes[i] = codesFor(&often[i])
		for symbol, n := range often[i] {
			sum += n * int(s.codes[i].bits[symbol])
		}
		s.bytes += 21 + len(s.codes[i].order)
	}
	s.bytes += (sum + 7) / 8
	return s
}

// write appends the scan, with the tables that it needs.
func (s *scan) write(out []byte, ids []byte) []byte {
	class := byte(0x10)
	if s.from == 0 {
		class = 0
	}
	for i, c := range s.codes {
		if c != nil {
			out = segment(out, huffmanTables, c.stored(class|byte(i)))
		}
	}
	var head []byte
	if s.component < 0 {
		head = append(head, byte(len(ids)))
		for i, id := range ids {
			head = append(head, id, byte(sort(i))<<4)
		}
	} else {
		head = append(head, 1, ids[s.component], 0)
	}
	out = segment(out, startOfScan, append(head, byte(s.from), byte(s.to), byte(s.high<<4|s.low)))
	w := &bitWriter{out: out}
	for _, t := range s.tokens {
		if t&bare != 0 {
			w.put(t.value(), t.size())
		} else {
			w.code(s.codes[t.table()], t.symbol(), t.value(), t.size())
		}
	}
	w.end()
	return w.out
}

// first is the scan of all first coefficients, in the order of the units.
func (p *picture) first() *scan {
	s := &scan{component: -1, tokens: make([]token, 0, len(p.blocks))}
	var before [3]int16
	for i := range p.blocks {
		b, c := &p.blocks[i], p.component(i%p.each)
		v, n := sized(int32(b.at[0] - before[c]))
		before[c] = b.at[0]
		s.tokens = append(s.tokens, symbolWith(n, v, n)|token(sort(c))<<chromaAt)
	}
	return s.priced()
}

// longestRun is how many blocks one symbol can end.
const longestRun = 1<<15 - 1

// ended counts blocks of which nothing more comes, and the bits that refine what they have.
type ended struct {
	s      *scan
	blocks uint32
	bits   []byte
}

// tell writes what was counted, the symbol that ends so many blocks first (T.81, G.1.2.2).
func (e *ended) tell() {
	if e.blocks > 0 {
		n := uint8(bits.Len32(e.blocks) - 1)
		e.s.tokens = append(e.s.tokens, symbolWith(n<<4, e.blocks&(1<<n-1), n))
		e.blocks = 0
	}
	e.bits = e.s.refine(e.bits)
}

// refine writes single bits, and returns their list emptied.
func (s *scan) refine(single []byte) []byte {
	for i := 0; i < len(single); i += 16 {
		value, n := uint32(0), min(16, len(single)-i)
		for _, b := range single[i:][:n] {
			value = value<<1 | uint32(b)
		}
		s.tokens = append(s.tokens, bare|symbolWith(0, value, uint8(n)))
	}
	return single[:0]
}

// band is the scan of coefficients of a component, without their low last bits (T.81, G.1.2.2).
func (p *picture) band(component, from, to, low int) *scan {
	s := &scan{component: component, from: from, to: to, low: low}
	inBand := uint64(math.MaxUint64) << from & (math.MaxUint64 >> (63 - to))
	end := ended{s: s}
	for _, b := range p.of(component) {
		at := from - 1
		for mask := b.mask & inBand; mask != 0; mask &= mask - 1 {
			k := bits.TrailingZeros64(mask)
			v := int32(b.at[k&63])
			if low > 0 {
				if v = shortened(b.at[k&63], low); v == 0 {
					continue
				}
			}
			if end.blocks > 0 {
				end.tell()
			}
			run := k - at - 1
			for ; run >= 16; run -= 16 {
				s.tokens = append(s.tokens, symbolWith(sixteenZeros, 0, 0))
			}
			value, n := sized(v)
			s.tokens = append(s.tokens, symbolWith(uint8(run<<4)|n, value, n))
			at = k
		}
		if at < to {
			if end.blocks++; end.blocks == longestRun {
				end.tell()
			}
		}
	}
	end.tell()
	return s.priced()
}

// shortened is a coefficient without its low last bits, nearer to nothing.
func shortened(v int16, low int) int32 {
	sign := int32(v) >> 31
	return ((int32(v)^sign-sign)>>low ^ sign) - sign
}

// mostBits is how many refining bits are kept back at most.
const mostBits = 900

// refined is the scan of one bit more, the low-th, of coefficients of a component (T.81, G.1.2.3).
func (p *picture) refined(component, from, to, low int) *scan {
	s := &scan{component: component, from: from, to: to, high: low + 1, low: low}
	inBand := uint64(math.MaxUint64) << from & (math.MaxUint64 >> (63 - to))
	end := ended{s: s}
	var own []byte // refining bits since the last symbol of this block
	for _, b := range p.of(component) {
		last := 0 // coefficient that is something only now
		for mask := b.mask & inBand; mask != 0; mask &= mask - 1 {
			k := bits.TrailingZeros64(mask)
			if v := shortened(b.at[k&63], low); v == 1 || v == -1 {
				last = k
			}
		}
		at, zeros := from-1, 0
		for mask := b.mask & inBand; mask != 0; mask &= mask - 1 {
			k := bits.TrailingZeros64(mask)
			v := shortened(b.at[k&63], low)
			if v == 0 {
				continue
			}
			zeros += k - at - 1
			at = k
			for ; zeros > 15 && k <= last; zeros -= 16 {
				end.tell()
				s.tokens = append(s.tokens, symbolWith(sixteenZeros, 0, 0))
				own = s.refine(own)
			}
			if v < -1 || v > 1 {
				own = append(own, byte((v^v>>31)-v>>31)&1)
				continue
			}
			end.tell()
			s.tokens = append(s.tokens, symbolWith(uint8(zeros<<4)|1, uint32(v+1)>>1, 1))
			own = s.refine(own)
			zeros = 0
		}
		if at < to || zeros > 0 || len(own) > 0 {
			end.blocks++
			end.bits = append(end.bits, own...)
			own = own[:0]
			if end.blocks == longestRun || len(end.bits) > mostBits {
				end.tell()
			}
		}
	}
	end.tell()
	return s.priced()
}
