package jpegdec

// lookBits is how many bits are looked at together. Nearly all codes are shorter, with the bits
// of the value that follow.
const lookBits = 10

// An entry of look tells what the next bits mean. What lookBits hold entirely has its value in
// the upper half, the zeros before it in bits 8 to 13, and the bits it takes in bits 0 to 7. A
// code whose value needs more bits has partly set and the symbol in bits 8 to 15. 0 is a code
// that is longer, or none.
const partly = 1 << 7

// pastAll is a run that leaves the block.
const pastAll = 63

// huffman decodes the codes of one table (T.81, annex F.2.2.3).
type huffman struct {
	look    [1 << lookBits]int32
	short   [1 << lookBits]uint16 // the symbol and, in the lower half, its length; 0 as in look
	first   [17]int32             // the first code of each length
	beyond  [17]int32             // what follows the last one, moved to 16 bits
	at      [17]int32             // where the symbols of a length begin
	symbols [256]uint8
}

// huffmanTables reads tables (T.81, B.2.4.2).
func (d *decoder) huffmanTables(body []byte) error {
	for len(body) > 0 {
		class, id := body[0]>>4, body[0]&15
		if class > 1 || id > 3 || len(body) < 17 {
			return DamageError("a table of codes")
		}
		h, used, err := newHuffman(body[1:], class == 1)
		if err != nil {
			return err
		}
		d.tables[class][id] = h
		body = body[1+used:]
	}
	return nil
}

// newHuffman makes a table of how many codes there are of each length, and their symbols. It
// returns how many bytes it read.
func newHuffman(b []byte, ac bool) (*huffman, int, error) {
	h := new(huffman)
	total := int32(0)
	code := int32(0)
	for n := 1; n <= 16; n++ {
		count := int32(b[n-1])
		h.first[n], h.at[n] = code, total
		total += count
		code += count
		if code > 1<<n || total > 256 {
			return nil, 0, DamageError("a table of codes that are too many")
		}
		h.beyond[n] = code << (16 - n)
		code <<= 1
	}
	if total == 0 || len(b) < 16+int(total) {
		return nil, 0, DamageError("a table of codes that ends too soon")
	}
	copy(h.symbols[:], b[16:16+total])
	for n := 1; n <= lookBits; n++ {
		for i := range int32(b[n-1]) {
			h.enter(h.first[n]+i, n, h.symbols[h.at[n]+i], ac)
		}
	}
	return h, 16 + int(total), nil
}

// enter puts a code of n bits into look, with all that can follow it.
func (h *huffman) enter(code int32, n int, symbol uint8, ac bool) {
	rest := lookBits - n
	run, size := int32(symbol>>4), int(symbol&15)
	if !ac {
		run, size = 0, int(symbol)
	}
	for follow := range int32(1) << rest {
		h.short[code<<rest|follow] = uint16(symbol)<<8 | uint16(n)
		e := &h.look[code<<rest|follow]
		switch {
		case size == 0 && ac && run < 15:
			*e = pastAll<<8 | int32(n) // the block ends
		case size <= rest:
			*e = extend(follow>>(rest-size), size)<<16 | run<<8 | int32(n+size)
		default:
			*e = int32(symbol)<<8 | partly | int32(n)
		}
	}
}

// extend is the value that size bits stand for (T.81, figure F.12).
func extend(v int32, size int) int32 {
	if size > 0 && v < 1<<(size-1) {
		v += 1 - 1<<size
	}
	return v
}

// long finds a code of more than lookBits in the 16 bits that come next. It returns its symbol
// and length; 0 bits where there is none.
func (h *huffman) long(next int32) (symbol uint8, n int) {
	for n = 1; n <= 16; n++ {
		if next < h.beyond[n] {
			return h.symbols[uint8(h.at[n]+next>>(16-n)-h.first[n])], n
		}
	}
	return 0, 0
}
