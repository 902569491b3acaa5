// Package jpegenc writes baseline JPEG files (ITU-T T.81).
//
// Three things are unlike a plain encoder. The picture is transformed on all cores and only its
// codes are written one after the other. The codes are made for each picture (optimal Huffman
// tables, Annex K.2), which saves a few per cent of every file. And a quality can be tried
// without writing a file: a Trial transforms a picture once and tells for any quality what
// would be left of it.
//
// Files have three components with the colour of each two by two pixels averaged (4:2:0), or
// one for a grey picture. They carry no metadata at all.
package jpegenc

import (
	"fmt"
	"image"
	"runtime"
	"sync"
)

// mostSide is how wide or high a JPEG can be, in pixels: its header has 16 bits for it.
const mostSide = 1<<16 - 1

// Encode returns m as a file of a quality from 1 to 100, on the scale that is common practice:
// 50 takes the tables of Annex K as they are. What is outside of it is brought to its nearer
// end. Transparency is not looked at. It returns an error where m is empty, or wider or higher
// than 65535 pixels.
func Encode(m image.Image, quality int) ([]byte, error) {
	b := m.Bounds()
	if b.Empty() || b.Dx() > mostSide || b.Dy() > mostSide {
		return nil, fmt.Errorf("invalid size %d × %d: a JPEG has 1 to %d pixels each way", b.Dx(), b.Dy(), mostSide)
	}
	p := layOut(m)
	luma, chroma := tablesFor(quality)
	p.transform(m, luma.divisors(), chroma.divisors())
	return p.file(luma, chroma), nil
}

// block is 64 coefficients in zigzag order, with a bit set in mask for each that is not nothing.
type block struct {
	at   [64]int16
	mask uint64
}

// picture is what is to be written: its blocks in the order of the scan. A unit is what the
// scan takes at a time: four blocks of luma and one each of the two of chroma, or one of grey.
type picture struct {
	width, height int
	grey          bool
	across, down  int // units
	each          int // blocks of a unit
	side          int // pixels of a unit
	blocks        []block
}

func layOut(m image.Image) *picture {
	b := m.Bounds()
	p := &picture{width: b.Dx(), height: b.Dy(), each: 6, side: 16}
	if _, ok := m.(*image.Gray); ok {
		p.grey, p.each, p.side = true, 1, 8
	}
	p.across, p.down = (p.width+p.side-1)/p.side, (p.height+p.side-1)/p.side
	return p
}

// transform makes the blocks, rows of units beside each other on all cores.
func (p *picture) transform(m image.Image, luma, chroma *[64]float32) {
	p.blocks = make([]block, p.across*p.down*p.each)
	rows := reader(m)
	bands := min(runtime.GOMAXPROCS(0), p.down)
	var wg sync.WaitGroup
	for b := range bands {
		wg.Go(func() {
			s := newStrip(p)
			for row := b * p.down / bands; row < (b+1)*p.down/bands; row++ {
				s.read(rows, row)
				s.transform(p.blocks[row*p.across*p.each:][:p.across*p.each], luma, chroma)
			}
		})
	}
	wg.Wait()
}
