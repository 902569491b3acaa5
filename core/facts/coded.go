package facts

import (
	"errors"
	"fmt"
	"io"

	"mivlet/core/fit"
)

// What a container says of a picture's size is believed only where the coded picture
// inside says the same: a decoder makes room for what is coded.

// items are the pictures of a box file: the one that is meant, those that it is put
// together from, thumbnails and masks (ISO/IEC 23008-12 and 14496-12, memory).
type items struct {
	primary    uint32
	kinds      map[uint32]string
	properties []property          // as they are numbered, from 1
	owned      map[uint32][]int    // numbers of properties, by item
	data       map[uint32]location // by item
	inside     []byte              // data that is kept among the boxes
}

// property is what a box says of an item.
type property struct {
	kind  string
	body  []byte
	said  fit.Size // of an ispe; else empty
	coded fit.Size // of the configuration of a decoder; else empty
}

// own are the properties of an item, in the order in which they are applied.
func (c *items) own(item uint32) (all []property) {
	for _, n := range c.owned[item] {
		if n >= 1 && n <= len(c.properties) {
			all = append(all, c.properties[n-1])
		}
	}
	return all
}

// location is where the data of an item begins: in the file, or among the boxes.
type location struct {
	at     int64
	inside bool
}

// errSizes refuses a file whose coded picture has another size than it says.
var errSizes = errors.New("its coded picture has another size than it says")

func newItems() *items {
	return &items{kinds: map[uint32]string{}, owned: map[uint32][]int{}, data: map[uint32]location{}}
}

// size is the size that the file says of the picture that is meant; empty where it does
// not say which that is.
func (c *items) size() fit.Size { return c.said(c.primary) }

// said is the size that the file says of an item.
func (c *items) said(item uint32) fit.Size {
	for _, p := range c.own(item) {
		if !p.said.Empty() {
			return p.said
		}
	}
	return fit.Size{}
}

// check compares what is said of every item with what is coded.
func (c *items) check(file io.ReadSeeker) error {
	for item := range c.owned {
		said := c.said(item)
		if said.Empty() {
			continue
		}
		coded := fit.Size{}
		for _, p := range c.own(item) {
			if !p.coded.Empty() {
				coded = p.coded
			}
		}
		switch c.kinds[item] {
		case "av01":
			coded, _ = av1Size(c.read(file, item, 64))
		case "grid":
			coded = gridSize(c.read(file, item, 12))
		}
		if !coded.Empty() && coded != said {
			return fmt.Errorf("%w: %d × %d and %d × %d", errSizes, coded.W, coded.H, said.W, said.H)
		}
	}
	return nil
}

// read reads the beginning of an item's data.
func (c *items) read(file io.ReadSeeker, item uint32, n int) []byte {
	at, ok := c.data[item]
	switch {
	case !ok:
		return nil
	case at.inside:
		return c.inside[min(at.at, int64(len(c.inside))):min(at.at+int64(n), int64(len(c.inside)))]
	}
	head := make([]byte, n)
	if _, err := file.Seek(at.at, io.SeekStart); err != nil {
		return nil
	}
	got, _ := io.ReadFull(file, head)
	return head[:got]
}

// gridSize is the size of a picture that is put together from tiles, as its description
// says (ISO/IEC 23008-12, 6.6.2.3, memory).
func gridSize(b []byte) fit.Size {
	switch {
	case len(b) >= 12 && b[1]&1 == 1:
		return fit.Size{W: int(be.Uint32(b[4:])), H: int(be.Uint32(b[8:]))}
	case len(b) >= 8 && b[1]&1 == 0:
		return fit.Size{W: int(be.Uint16(b[4:])), H: int(be.Uint16(b[6:]))}
	}
	return fit.Size{}
}

// readPrimary reads which item is meant (pitm).
func (c *items) readPrimary(b []byte) {
	switch {
	case len(b) >= 8 && b[0] != 0:
		c.primary = be.Uint32(b[4:])
	case len(b) >= 6 && b[0] == 0:
		c.primary = uint32(be.Uint16(b[4:]))
	}
}

// readInfo reads the kinds of items (iinf and infe).
func (c *items) readInfo(b []byte) {
	at := 6
	if len(b) > 0 && b[0] != 0 {
		at = 8
	}
	for at+20 <= len(b) {
		n := int(be.Uint32(b[at:]))
		if n < 20 || at+n > len(b) {
			return
		}
		switch e := b[at+8 : at+n]; {
		case e[0] == 2 && len(e) >= 12:
			c.kinds[uint32(be.Uint16(e[4:]))] = string(e[8:12])
		case e[0] == 3 && len(e) >= 14:
			c.kinds[be.Uint32(e[4:])] = string(e[10:14])
		}
		at += n
	}
}

// readProperties reads the properties, each numbered by its place (ipco).
func (c *items) readProperties(b []byte) {
	for len(b) >= 8 {
		n := int(be.Uint32(b))
		if n < 8 || n > len(b) {
			return
		}
		p := property{kind: string(b[4:8]), body: b[8:n]}
		body := p.body
		switch p.kind {
		case "ispe":
			if len(body) >= 12 {
				p.said = fit.Size{W: int(be.Uint32(body[4:])), H: int(be.Uint32(body[8:]))}
			}
		case "hvcC":
			p.coded, _ = hevcSize(body)
		}
		c.properties = append(c.properties, p)
		b = b[n:]
	}
}

// readOwners reads which properties each item has (ipma).
func (c *items) readOwners(b []byte) {
	r := &bits{data: b}
	version, flags := r.take(8), r.take(24)
	wide, each := 16, 7
	if version > 0 {
		wide = 32
	}
	if flags&1 == 1 {
		each = 15
	}
	entries := r.take(32)
	for i := uint64(0); i < entries && !r.over; i++ {
		item := uint32(r.take(wide))
		count := r.take(8)
		for n := uint64(0); n < count && !r.over; n++ {
			r.take(1)
			c.owned[item] = append(c.owned[item], int(r.take(each)))
		}
	}
}

// readLocations reads where the data of items begins (iloc).
func (c *items) readLocations(b []byte) {
	r := &bits{data: b}
	version := r.take(8)
	r.take(24)
	offsetSize, lengthSize, baseSize, indexSize := r.take(4)*8, r.take(4)*8, r.take(4)*8, r.take(4)*8
	wide := 16
	if version == 2 {
		wide = 32
	}
	count := r.take(wide)
	for i := uint64(0); i < count && !r.over; i++ {
		id := uint32(r.take(wide))
		method := uint64(0)
		if version > 0 {
			method = r.take(16) & 15
		}
		r.take(16)
		base := r.take(int(baseSize))
		extents := r.take(16)
		for e := uint64(0); e < extents && !r.over; e++ {
			if version > 0 {
				r.take(int(indexSize))
			}
			offset := r.take(int(offsetSize))
			r.take(int(lengthSize))
			if at := int64(base + offset); e == 0 && method < 2 && at >= 0 && !r.over {
				c.data[id] = location{at, method == 1}
			}
		}
	}
}

// hevcSize reads the size of a picture from the sequence parameters in its configuration
// (ISO/IEC 14496-15, hvcC; ITU-T H.265, 7.3.2.2; memory).
func hevcSize(b []byte) (fit.Size, bool) {
	if len(b) < 23 {
		return fit.Size{}, false
	}
	arrays, b := int(b[22]), b[23:]
	for range arrays {
		if len(b) < 3 {
			break
		}
		kind, units := b[0]&0x3F, int(be.Uint16(b[1:]))
		b = b[3:]
		for range units {
			if len(b) < 2 || len(b) < 2+int(be.Uint16(b)) {
				return fit.Size{}, false
			}
			unit := b[2 : 2+int(be.Uint16(b))]
			b = b[2+len(unit):]
			if kind == 33 && len(unit) > 2 {
				return sequenceSize(unit[2:])
			}
		}
	}
	return fit.Size{}, false
}

// sequenceSize reads the size from sequence parameters, without their header.
func sequenceSize(b []byte) (fit.Size, bool) {
	r := &bits{data: withoutGuards(b)}
	r.take(4)
	layers := int(r.take(3))
	r.take(1)
	r.take(96) // profile, tier and level of the whole
	var profile, level [8]bool
	for i := range layers {
		profile[i], level[i] = r.take(1) == 1, r.take(1) == 1
	}
	if layers > 0 {
		for i := layers; i < 8; i++ {
			r.take(2)
		}
	}
	for i := range layers {
		if profile[i] {
			r.take(88)
		}
		if level[i] {
			r.take(8)
		}
	}
	r.golomb()
	chroma := r.golomb()
	if chroma == 3 {
		r.take(1)
	}
	w, h := int(r.golomb()), int(r.golomb())
	if r.take(1) == 1 { // the window that is shown
		across, down := 1, 1
		if chroma == 1 || chroma == 2 {
			across = 2
		}
		if chroma == 1 {
			down = 2
		}
		left, right, top, bottom := int(r.golomb()), int(r.golomb()), int(r.golomb()), int(r.golomb())
		w, h = w-across*(left+right), h-down*(top+bottom)
	}
	return fit.Size{W: w, H: h}, !r.over && w > 0 && h > 0
}

// withoutGuards takes out the bytes that keep a start code from appearing (ITU-T H.265,
// 7.4.2, memory).
func withoutGuards(b []byte) []byte {
	out := make([]byte, 0, len(b))
	zeros := 0
	for _, c := range b {
		if zeros >= 2 && c == 3 {
			zeros = 0
			continue
		}
		if zeros++; c != 0 {
			zeros = 0
		}
		out = append(out, c)
	}
	return out
}

// av1Size reads the size of a picture from the sequence header that its data begins with
// (AV1 Bitstream & Decoding Process Specification, 5.3 and 5.5, memory).
func av1Size(b []byte) (fit.Size, bool) {
	for len(b) > 2 {
		kind, extended, sized := b[0]>>3&15, b[0]>>2&1 == 1, b[0]>>1&1 == 1
		at := 1
		if extended {
			at++
		}
		n := len(b) - at
		if sized {
			n = 0
			for shift := 0; at < len(b) && shift < 32; shift += 7 {
				c := b[at]
				at++
				n |= int(c&0x7F) << shift
				if c&0x80 == 0 {
					break
				}
			}
		}
		if kind == 1 && at < len(b) {
			return av1Sequence(b[at:])
		}
		if n < 0 || at+n > len(b) {
			break
		}
		b = b[at+n:]
	}
	return fit.Size{}, false
}

func av1Sequence(b []byte) (fit.Size, bool) {
	r := &bits{data: b}
	r.take(3)
	r.take(1)
	if r.take(1) == 1 { // the short header of a still
		r.take(5)
	} else {
		if r.take(1) == 1 {
			return fit.Size{}, false // with timing: no still that a camera or a converter writes
		}
		display := r.take(1) == 1
		points := r.take(5) + 1
		for range points {
			r.take(12)
			if r.take(5) > 7 {
				r.take(1)
			}
			if display && r.take(1) == 1 {
				r.take(4)
			}
		}
	}
	wide, high := int(r.take(4))+1, int(r.take(4))+1
	w, h := int(r.take(wide))+1, int(r.take(high))+1
	return fit.Size{W: w, H: h}, !r.over
}

// bits reads numbers bit by bit, the highest first.
type bits struct {
	data []byte
	at   int
	over bool // more was read than there is
}

func (r *bits) take(n int) uint64 {
	var v uint64
	for range n {
		if r.at >= 8*len(r.data) {
			r.over = true
			return 0
		}
		v = v<<1 | uint64(r.data[r.at/8]>>(7-r.at%8)&1)
		r.at++
	}
	return v
}

// golomb reads a number as Exp-Golomb code (ITU-T H.265, 9.2, memory).
func (r *bits) golomb() uint64 {
	zeros := 0
	for r.take(1) == 0 && !r.over && zeros < 32 {
		zeros++
	}
	return 1<<zeros - 1 + r.take(zeros)
}
