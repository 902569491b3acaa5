package jpegdec

import (
	"encoding/binary"
	"image"

	"mivlet/core/fit"
)

// The markers that mean something here (T.81, table B.1).
const (
	sof0  = 0xC0 // baseline
	sof1  = 0xC1 // extended sequential
	sof2  = 0xC2 // progressive
	dht   = 0xC4
	jpg   = 0xC8
	dac   = 0xCC
	sof15 = 0xCF
	rst0  = 0xD0
	rst7  = 0xD7
	soi   = 0xD8
	eoi   = 0xD9
	sos   = 0xDA
	dqt   = 0xDB
	dri   = 0xDD
	app14 = 0xEE
)

// restarts reports whether a marker stands between two intervals of a scan.
func restarts(m byte) bool { return m >= rst0 && m <= rst7 }

// component is one of luma and chroma.
type component struct {
	id     byte
	h, v   int         // blocks in a unit of all components, along a side
	table  int         // which of the tables of steps
	factor [64]float32 // steps, in zigzag order
	w, hgt int         // blocks that hold the picture, along a side
	bw, bh int         // blocks with those that fill the last unit
	nh, nv int         // pixels that a block gives, along a side
	luma   bool
	plane  []byte          // of the blocks that are kept
	kept   image.Rectangle // blocks
	stride int
	coeffs []int16 // of progressive files: 64 a block, in zigzag order
	// something is, for each block, which of its coefficients are not zero, but for the first.
	something []uint64
	rough     bool    // the last bits of all but the first coefficient were not read
	seen      bool    // some scan has held it
	told      waiting // for the scans that told of it
}

// decoder reads one file.
type decoder struct {
	in          *source
	wanted      fit.Size
	part        image.Rectangle // of the stored picture; empty for all of it
	units       image.Rectangle // that hold it
	stored      fit.Size
	n           int
	progressive bool
	comps       []component
	quant       [4][64]uint16
	known       [4]bool // which tables of steps there are
	tables      [2][4]*huffman
	interval    int // units between restart markers; 0 for none
	rgb         bool
	after       byte // the marker that ended a scan; 0 for none
	relay       relay
}

// markers goes through the file from its start to its end.
func (d *decoder) markers() error {
	if !d.in.fill(2) {
		return d.in.failed()
	}
	if d.in.buf[0] != 0xFF || d.in.buf[1] != soi {
		return DamageError("it does not begin as a JPEG does")
	}
	d.in.pos = 2
	for {
		m := d.after
		if d.after = 0; m == 0 {
			var err error
			if m, err = d.in.marker(); err != nil {
				return err
			}
		}
		if m == eoi {
			return nil
		}
		if restarts(m) || m == 1 {
			continue // one that stands alone, where nobody expects it
		}
		body, err := d.in.segment()
		if err != nil {
			return err
		}
		if err := d.segment(m, body); err != nil {
			return err
		}
	}
}

func (d *decoder) segment(m byte, body []byte) error {
	switch {
	case m == sof0, m == sof1, m == sof2:
		d.progressive = m == sof2
		return d.frame(body)
	case m == dht:
		return d.huffmanTables(body)
	case m == dqt:
		return d.quantTables(body)
	case m == dri:
		if len(body) != 2 {
			return DamageError("a restart interval of another length")
		}
		d.interval = int(binary.BigEndian.Uint16(body))
	case m == sos:
		return d.scan(body)
	case m == app14:
		// An application's own segment that tells how colours were turned (T.872, 6.5.3).
		if len(body) >= 12 && string(body[:5]) == "Adobe" {
			d.rgb = body[11] == 0
		}
	case m == dac, m > sof2 && m <= sof15 && m != jpg:
		return ErrOther
	}
	return nil
}

func (d *decoder) quantTables(body []byte) error {
	for len(body) > 0 {
		deep, id := body[0]>>4, body[0]&15
		size := 64 * (1 + int(deep))
		if deep > 1 || id > 3 || len(body) < 1+size {
			return DamageError("a table of steps")
		}
		for k := range d.quant[id] {
			if deep == 0 {
				d.quant[id][k] = uint16(body[1+k])
			} else {
				d.quant[id][k] = binary.BigEndian.Uint16(body[1+2*k:])
			}
		}
		d.known[id] = true
		body = body[1+size:]
	}
	return nil
}

// frame reads what the picture measures and is made of (T.81, B.2.2).
func (d *decoder) frame(body []byte) error {
	if d.comps != nil {
		return DamageError("two pictures in one")
	}
	if len(body) < 6 || len(body) != 6+3*int(body[5]) {
		return DamageError("a head of another length")
	}
	d.stored = fit.Size{H: int(binary.BigEndian.Uint16(body[1:])), W: int(binary.BigEndian.Uint16(body[3:]))}
	count := int(body[5])
	if body[0] != 8 || d.stored.H == 0 || count != 1 && count != 3 {
		return ErrOther
	}
	if d.stored.W == 0 {
		return DamageError("a picture without width")
	}
	d.comps = make([]component, count)
	for i := range d.comps {
		b := body[6+3*i:]
		c := component{id: b[0], h: int(b[1] >> 4), v: int(b[1] & 15), table: int(b[2])}
		if c.h < 1 || c.h > 4 || c.v < 1 || c.v > 4 || c.table > 3 {
			return DamageError("a component")
		}
		d.comps[i] = c
	}
	return d.layOut()
}

// layOut works out blocks and planes. Chroma is decoded by the rule of luma on its own grid:
// where half of it is kept, it may be needed at twice the scale.
func (d *decoder) layOut() error {
	if len(d.comps) == 1 {
		d.comps[0].h, d.comps[0].v = 1, 1 // a unit of one component is one block (T.81, A.2.2)
	} else if d.rgb || d.comps[0].id == 'R' && d.comps[1].id == 'G' && d.comps[2].id == 'B' {
		return ErrOther
	}
	y := &d.comps[0]
	d.n = Eighths(d.stored, d.wanted)
	mx, my := ceil(d.stored.W, 8*y.h), ceil(d.stored.H, 8*y.v)
	d.units = d.holding(d.part.Intersect(d.stored.Rect()), image.Pt(d.n*y.h, d.n*y.v)).Intersect(image.Rect(0, 0, mx, my))
	for i := range d.comps {
		c := &d.comps[i]
		if i > 0 && (c.h != d.comps[1].h || c.v != d.comps[1].v || y.h%c.h != 0 || y.v%c.v != 0 || y.h/c.h > 2 || y.v/c.v > 2) {
			return ErrOther
		}
		c.w, c.hgt = ceil(ceil(d.stored.W*c.h, y.h), 8), ceil(ceil(d.stored.H*c.v, y.v), 8)
		c.bw, c.bh = mx*c.h, my*c.v
		c.kept = times(d.units, image.Pt(c.h, c.v))
		c.luma = i == 0
		c.nh = d.scaleOf(y.h/c.h, d.stored.W, d.wanted.W)
		c.nv = d.scaleOf(y.v/c.v, d.stored.H, d.wanted.H)
	}
	return nil
}

// scaleOf is how many pixels a block gives along a side, where one of several is kept of what
// luma has.
func (d *decoder) scaleOf(several, stored, wanted int) int {
	if several == 2 && 2*d.n <= 8 && !enough(ceil(stored, 2), d.n, wanted) {
		return 2 * d.n
	}
	return d.n
}

// holding are the units that hold a part, each of which gives so many pixels of luma. They begin at
// an even pixel, as two share their chroma.
func (d *decoder) holding(part image.Rectangle, each image.Point) image.Rectangle {
	if part.Empty() {
		part = d.stored.Rect()
	}
	first := func(min, each int) int {
		at := min * d.n / 8 &^ 1 / each
		if each%2 == 1 {
			at &^= 1
		}
		return at
	}
	return image.Rect(first(part.Min.X, each.X), first(part.Min.Y, each.Y), ceil(ceil(part.Max.X*d.n, 8), each.X), ceil(ceil(part.Max.Y*d.n, 8), each.Y))
}

// times is a rectangle of which each unit is so many along and down.
func times(r image.Rectangle, each image.Point) image.Rectangle {
	return image.Rect(r.Min.X*each.X, r.Min.Y*each.Y, r.Max.X*each.X, r.Max.Y*each.Y)
}

func ceil(a, b int) int { return (a + b - 1) / b }

// ratio is the sampling of chroma that is kept once along across pixels and once along down.
func ratio(across, down int) image.YCbCrSubsampleRatio {
	switch {
	case across == 2 && down == 2:
		return image.YCbCrSubsampleRatio420
	case across == 2:
		return image.YCbCrSubsampleRatio422
	case down == 2:
		return image.YCbCrSubsampleRatio440
	}
	return image.YCbCrSubsampleRatio444
}

// sampling is how the file keeps its chroma.
func (d *decoder) sampling() image.YCbCrSubsampleRatio {
	if len(d.comps) == 1 {
		return image.YCbCrSubsampleRatio444
	}
	return ratio(d.comps[0].h/d.comps[1].h, d.comps[0].v/d.comps[1].v)
}

// picture puts the planes together.
func (d *decoder) picture() (*Picture, error) {
	if d.comps == nil {
		return nil, DamageError("no picture in it")
	}
	for i := range d.comps {
		if !d.comps[i].seen {
			return nil, DamageError("a part of the colours is missing")
		}
	}
	if d.progressive {
		d.drawAll()
		if err := d.relay.end(); err != nil {
			return nil, err
		}
	}
	p := &Picture{Stored: d.stored, N: d.n, Sampling: d.sampling()}
	y := &d.comps[0]
	bounds := times(d.units, image.Pt(d.n*y.h, d.n*y.v)).Intersect(image.Rect(0, 0, ceil(d.stored.W*d.n, 8), ceil(d.stored.H*d.n, 8)))
	if len(d.comps) == 1 {
		p.Planes = &image.Gray{Pix: y.plane, Stride: y.stride, Rect: bounds}
		return p, nil
	}
	cb, cr := &d.comps[1], &d.comps[2]
	p.Planes = &image.YCbCr{
		Y: y.plane, Cb: cb.plane, Cr: cr.plane, YStride: y.stride, CStride: cb.stride,
		SubsampleRatio: ratio(y.h/cb.h*d.n/cb.nh, y.v/cb.v*d.n/cb.nv), Rect: bounds,
	}
	return p, nil
}
