package jpegenc

// The markers that a file has (T.81, table B.1).
const (
	startOfImage       = 0xD8
	endOfImage         = 0xD9
	startOfFrame       = 0xC0 // baseline
	startOfProgressive = 0xC2
	huffmanTables      = 0xC4
	startOfScan        = 0xDA
	quantTables        = 0xDB
)

// single is a file of one scan before it is written.
type single struct {
	p           *picture
	first, rest [2]*codes
	bytes       int // what it takes, about: a nothing behind each byte that is all ones comes to it
}

// single makes the codes of a file of one scan.
func (p *picture) single() *single {
	often, oftenRest := p.count()
	s := &single{p: p}
	sum := 0
	s.bytes = 34 + len(p.frame()) // its beginning, the head of its scan and its end
	for i := range min(p.components(), 2) {
		s.first[i], s.rest[i] = codesFor(&often[i]), codesFor(&oftenRest[i])
		for symbol := range 256 {
			sum += often[i][symbol] * (int(s.first[i].bits[symbol]) + symbol)
			sum += oftenRest[i][symbol] * (int(s.rest[i].bits[symbol]) + symbol&15)
		}
		s.bytes += 69 + 2*21 + len(s.first[i].order) + len(s.rest[i].order) // tables of steps and of codes
	}
	s.bytes += sum / 8
	return s
}

// write writes the file.
func (s *single) write(luma, chroma *table) []byte {
	p := s.p
	out := p.head(luma, chroma, startOfFrame)
	for i := range min(p.components(), 2) {
		out = segment(out, huffmanTables, s.first[i].stored(byte(i)))
		out = segment(out, huffmanTables, s.rest[i].stored(0x10|byte(i)))
	}
	scan := []byte{1, 1, 0x00, 0, 63, 0}
	if !p.grey {
		scan = []byte{3, 1, 0x00, 2, 0x11, 3, 0x11, 0, 63, 0}
	}
	out = segment(out, startOfScan, scan)
	w := &bitWriter{out: out}
	p.scan(w, s.first, s.rest)
	return append(w.out, 0xFF, endOfImage)
}

// head is the beginning of a file, up to its frame.
func (p *picture) head(luma, chroma *table, frame byte) []byte {
	out := make([]byte, 0, 1024+len(p.blocks)*8)
	out = append(out, 0xFF, startOfImage)
	for i, t := range []*table{luma, chroma}[:min(p.components(), 2)] {
		out = segment(out, quantTables, append([]byte{byte(i)}, t[:]...))
	}
	return segment(out, frame, p.frame())
}

func segment(out []byte, marker byte, data []byte) []byte {
	n := len(data) + 2
	return append(append(out, 0xFF, marker, byte(n>>8), byte(n)), data...)
}

// frame says how large the picture is, and which components it has (T.81, B.2.2).
func (p *picture) frame() []byte {
	head := []byte{8, byte(p.height >> 8), byte(p.height), byte(p.width >> 8), byte(p.width)}
	if p.grey {
		return append(head, 1, 1, 0x11, 0)
	}
	luma := byte(p.side / 8 * 0x11) // blocks of a unit each way
	return append(head, 3, 1, luma, 0, 2, 0x11, 1, 3, 0x11, 1)
}

// stored is a table of codes as a file holds it (T.81, B.2.4.2).
func (c *codes) stored(id byte) []byte {
	return append(append([]byte{id}, c.ofBits[1:]...), c.order...)
}
