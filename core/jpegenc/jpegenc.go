// Package jpegenc writes JPEG files (ITU-T T.81), baseline and progressive.
//
// Three things are unlike a plain encoder. The picture is transformed on all cores and only its
// codes are written one after the other. The codes are made for each picture (optimal Huffman
// tables, Annex K.2), which saves a few per cent of every file. And a quality can be tried
// without writing a file: a Trial transforms a picture once and tells for any quality what
// would be left of it.
//
// Files have three components, with the colour of each two by two pixels averaged (4:2:0) or that
// of each pixel (4:4:4), or one for a grey picture. They carry no metadata at all.
package jpegenc

import (
	"fmt"
	"image"

	"mivlet/core/cores"
)

// mostSide is how wide or high a JPEG can be, in pixels: its header has 16 bits for it.
const mostSide = 1<<16 - 1

// Colour says how many pixels share one colour.
type Colour int

// Photographs look the same with four pixels to a colour; letters and lines whose colour alone sets
// them off do not.
const (
	FourToOne Colour = iota // 4:2:0
	OneToOne                // 4:4:4
)

// EncodeSmall is Encode for files that are worth some time, and take 5 to 7 per cent less for
// the same likeness (see bench): bits are weighed against what they are worth, and a file of more than 10 kB is written
// in several scans (progressive), unless it has more than about 6 megapixels.
func EncodeSmall(m image.Image, quality int, c Colour) ([]byte, error) {
	p, luma, chroma, err := prepare(m, quality, c, true)
	if err != nil {
		return nil, err
	}
	one := p.single()
	if one.bytes >= worthScans && len(p.blocks) <= mostForScans {
		if scans := p.progressive(luma, chroma); len(scans) < one.bytes {
			return scans, nil
		}
	}
	return one.write(luma, chroma), nil
}

// Encode returns m as a file of a quality from 1 to 100, on the scale that is common practice:
// 50 takes the tables of Annex K as they are. What is outside of it is brought to its nearer
// end. Transparency is not looked at. It returns an error where m is empty, or wider or higher
// than 65535 pixels.
func Encode(m image.Image, quality int) ([]byte, error) {
	p, luma, chroma, err := prepare(m, quality, FourToOne, false)
	if err != nil {
		return nil, err
	}
	return p.single().write(luma, chroma), nil
}

// prepare makes the blocks of a picture.
func prepare(m image.Image, quality int, c Colour, weighed bool) (p *picture, luma, chroma *table, err error) {
	b := m.Bounds()
	if b.Empty() || b.Dx() > mostSide || b.Dy() > mostSide {
		return nil, nil, nil, fmt.Errorf("invalid size %d × %d: a JPEG has 1 to %d pixels each way", b.Dx(), b.Dy(), mostSide)
	}
	p = layOut(m, c)
	p.weighed = weighed
	luma, chroma = tablesFor(quality)
	p.transform(m, luma.divisors(), chroma.divisors())
	return p, luma, chroma, nil
}

// block is 64 coefficients in zigzag order, with a bit set in mask for each that is not nothing.
type block struct {
	at   [64]int16
	mask uint64
}

// picture is what is to be written: its blocks in the order of the scan. A unit is what the
// scan takes at a time: four blocks of luma and one each of the two of chroma, one of all three, or
// one of grey.
type picture struct {
	width, height int
	grey          bool
	weighed       bool // whether its bits are weighed against what they are worth
	across, down  int  // units
	each          int  // blocks of a unit
	side          int  // pixels of a unit
	blocks        []block
}

func layOut(m image.Image, c Colour) *picture {
	b := m.Bounds()
	p := &picture{width: b.Dx(), height: b.Dy(), each: 6, side: 16}
	if _, ok := m.(*image.Gray); ok {
		p.grey, p.each, p.side = true, 1, 8
	} else if c == OneToOne {
		p.each, p.side = 3, 8
	}
	p.across, p.down = (p.width+p.side-1)/p.side, (p.height+p.side-1)/p.side
	return p
}

// transform makes the blocks, rows of units beside each other on all cores.
func (p *picture) transform(m image.Image, luma, chroma *[64]float32) {
	p.blocks = make([]block, p.across*p.down*p.each)
	rows := reader(m)
	cores.Share(p.down, func(from, to int) {
		s := newStrip(p)
		for row := from; row < to; row++ {
			s.read(rows, row)
			s.transform(p.blocks[row*p.across*p.each:][:p.across*p.each], luma, chroma)
		}
	})
}
