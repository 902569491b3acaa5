package motion

// A code of GIF's LZW stands for a row of indices that has been seen before (GIF89a specification,
// appendix F). There are 4096 at most. What comes after that is up to the encoder: it may begin
// anew at once, or go on with the codes that it has for as long as they pack well.
const mostCodes = 4096

// checkEvery is after how many codes of a full table its worth is looked at.
const checkEvery = 128

// atOnce is the patience of a packer that begins anew as soon as no code is left.
const atOnce = -1

// mostRows is how many rows are followed at a time, where pixels may be drawn or left out.
const mostRows = 16

// canvas is what a frame wants to show, pixel by pixel, and what it may draw.
type canvas struct {
	table *table
	own   []uint8 // the index to draw
	want  []pixel // the colour that it stands for
	// off is how far what is shown already is from what is wanted; a pixel may be left out where it
	// is not farther than the tolerance.
	off []int32
}

// packing is how a canvas is packed.
type packing struct {
	tolerance int32 // how far off a colour may be that makes rows longer, as apart counts; 0 for none
	leave     bool  // whether pixels are left out that may be
	patience  float64
}

// packed returns the data of a picture as a GIF holds them, without what frames them, and the
// indices that they stand for. Where a pixel may be drawn in several ways, that one is taken which
// makes longer rows, and of those the truest.
func (c *canvas) packed(how packing) (data, indices []byte) {
	p := &packer{least: leastBits(len(c.table.palette))}
	p.begin()
	indices = make([]byte, 0, len(c.own))
	first := c.first(0, how)
	var now, then []candidate
	read, codes, best := 0, 0, 0.0
	for at := 0; at < len(c.own); {
		now = append(now[:0], candidate{row: uint16(first)})
		from := at
		for at++; at < len(c.own); at++ {
			if then = c.follow(then[:0], p, now, at, how); len(then) == 0 {
				break
			}
			now, then = then, now
		}
		row := truest(now)
		p.put(int(row))
		indices = p.unpack(indices, row, at-from)
		if at == len(c.own) {
			break
		}
		first = c.first(at, how)
		if p.next < mostCodes {
			p.add(row, first)
			read, codes, best = 0, 0, 0
			continue
		}
		read, codes = read+at-from, codes+1
		if codes == checkEvery || how.patience < 0 {
			rate := float64(read) / float64(codes)
			if best = max(best, rate); rate < best*(1-how.patience) || how.patience < 0 {
				p.begin()
			}
			read, codes = 0, 0
		}
	}
	return p.end(), indices
}

// candidate is a row that what is read may be, and how far off it is in all.
type candidate struct {
	row uint16
	off int32
}

// truest is the row that is least far off.
func truest(all []candidate) uint16 {
	best := all[0]
	for _, c := range all[1:] {
		if c.off < best.off {
			best = c
		}
	}
	return best.row
}

// first is what a row that begins with a pixel begins with.
func (c *canvas) first(at int, how packing) uint8 {
	if how.leave && c.off[at] <= how.tolerance {
		return c.table.clear
	}
	return c.own[at]
}

// follow appends the rows that go on from others with a pixel.
func (c *canvas) follow(to []candidate, p *packer, from []candidate, at int, how packing) []candidate {
	own, left := c.own[at], how.leave && c.off[at] <= how.tolerance
	want := c.want[at]
	for _, row := range from {
		if how.tolerance > 0 && want[3] != 0 {
			for next := p.children[row.row]; next != 0; next = p.siblings[next] {
				index := p.last[next]
				off := int32(0)
				switch {
				case index == own:
				case index == c.table.clear && c.table.hasClear:
					if !left {
						continue
					}
					off = c.off[at]
				default:
					if off = int32(apart(c.table.colours[index], want)); off > how.tolerance {
						continue
					}
				}
				if to = append(to, candidate{next, row.off + off}); len(to) == mostRows {
					return to
				}
			}
			continue
		}
		to = p.follow(to, row, own)
		if left && own != c.table.clear {
			to = p.follow(to, row, c.table.clear)
		}
		if len(to) >= mostRows {
			return to
		}
	}
	return to
}

// packer writes codes, least bit first, and knows what they stand for.
type packer struct {
	out   []byte
	held  uint64 // bits that do not fill a byte yet
	bits  int    // how many of them
	least int    // bits of an index
	next  int    // the code that is given out next
	width int    // bits of a code now
	// rows finds the code of a row from that of the row without its last index, and that index:
	// both and the code, or 0.
	rows [4 * mostCodes]uint32
	// Of each row: the one without its last index, that index, the last one that goes on from it,
	// and the one before it that goes on from the same, or 0.
	parent, children, siblings [mostCodes]uint16
	last                       [mostCodes]uint8
}

// leastBits is how many bits an index needs at least, as GIF counts: 2 to 8.
func leastBits(colours int) int {
	n := 2
	for 1<<n < colours {
		n++
	}
	return n
}

// begin forgets all rows, and says so.
func (p *packer) begin() {
	if p.width == 0 {
		p.width = p.least + 1
	}
	p.put(1 << p.least)
	p.next, p.width = 1<<p.least+2, p.least+1
	clear(p.rows[:])
	clear(p.children[:])
}

// end says that nothing follows, and returns all.
func (p *packer) end() []byte {
	p.put(1<<p.least + 1)
	if p.bits > 0 {
		p.out = append(p.out, byte(p.held))
	}
	return p.out
}

// put writes a code.
func (p *packer) put(code int) {
	p.held |= uint64(code) << p.bits
	for p.bits += p.width; p.bits >= 8; p.bits -= 8 {
		p.out = append(p.out, byte(p.held))
		p.held >>= 8
	}
}

// add gives a code to a row with an index after it. Codes become a bit longer when one needs it.
func (p *packer) add(row uint16, index uint8) {
	place, _ := p.find(row, index)
	p.rows[place] = rowKey(row, index) | uint32(p.next)
	p.parent[p.next], p.last[p.next] = row, index
	p.siblings[p.next], p.children[row] = p.children[row], uint16(p.next)
	if p.next == 1<<p.width {
		p.width++
	}
	p.next++
}

// follow appends the row that goes on from another with an index, where there is one.
func (p *packer) follow(to []candidate, from candidate, index uint8) []candidate {
	if _, code := p.find(from.row, index); code != 0 {
		return append(to, candidate{code, from.off})
	}
	return to
}

// unpack appends the indices of a row, which are so many.
func (p *packer) unpack(to []byte, row uint16, n int) []byte {
	from := len(to)
	to = append(to, make([]byte, n)...)
	for i := len(to) - 1; i > from; i-- {
		to[i], row = p.last[row], p.parent[row]
	}
	to[from] = byte(row)
	return to
}

// find returns the code of a row with an index after it, or 0, and where it is kept.
func (p *packer) find(row uint16, index uint8) (place int, code uint16) {
	key := rowKey(row, index)
	for place = int(key>>12*2654435761>>7) % len(p.rows); p.rows[place] != 0; place = (place + 1) % len(p.rows) {
		if p.rows[place]&^(mostCodes-1) == key {
			return place, uint16(p.rows[place] & (mostCodes - 1))
		}
	}
	return place, 0
}

func rowKey(row uint16, index uint8) uint32 { return uint32(row)<<20 | uint32(index)<<12 }
