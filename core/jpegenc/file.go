package jpegenc

// The markers that a file has (T.81, table B.1).
const (
	startOfImage  = 0xD8
	endOfImage    = 0xD9
	startOfFrame  = 0xC0
	huffmanTables = 0xC4
	startOfScan   = 0xDA
	quantTables   = 0xDB
)

// file writes the picture, whose blocks are ready.
func (p *picture) file(luma, chroma *table) []byte {
	often, oftenRest := p.count()
	sorts := 2
	if p.grey {
		sorts = 1
	}
	var first, rest [2]*codes
	for i := range sorts {
		first[i], rest[i] = codesFor(&often[i]), codesFor(&oftenRest[i])
	}
	out := make([]byte, 0, 1024+len(p.blocks)*8)
	out = append(out, 0xFF, startOfImage)
	for i, t := range []*table{luma, chroma}[:sorts] {
		out = segment(out, quantTables, append([]byte{byte(i)}, t[:]...))
	}
	out = segment(out, startOfFrame, p.frame())
	for i := range sorts {
		out = segment(out, huffmanTables, first[i].stored(byte(i)))
		out = segment(out, huffmanTables, rest[i].stored(0x10|byte(i)))
	}
	scan := []byte{1, 1, 0x00, 0, 63, 0}
	if !p.grey {
		scan = []byte{3, 1, 0x00, 2, 0x11, 3, 0x11, 0, 63, 0}
	}
	out = segment(out, startOfScan, scan)
	w := &bitWriter{out: out}
	p.scan(w, first, rest)
	return append(w.out, 0xFF, endOfImage)
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
	return append(head, 3, 1, 0x22, 0, 2, 0x11, 1, 3, 0x11, 1)
}

// stored is a table of codes as a file holds it (T.81, B.2.4.2).
func (c *codes) stored(id byte) []byte {
	return append(append([]byte{id}, c.ofBits[1:]...), c.order...)
}
