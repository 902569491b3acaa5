package motion

import (
	"encoding/binary"
	"image"
	"image/color"
	"math"
	"time"
)

// unit is the unit of time of a GIF.
const unit = 10 * time.Millisecond

// gifFile is a GIF that is being written (GIF89a specification; the repeats as in Netscape's
// application extension, which all browsers read: common practice).
type gifFile struct {
	out    []byte
	global color.Palette
}

// beginGIF begins a file of a size with the palette that frames have where they have none of their
// own. loop is how often it plays; 0 is for ever.
func beginGIF(size image.Point, global color.Palette, loop int) *gifFile {
	f := &gifFile{out: []byte("GIF89a"), global: global}
	f.short(size.X, size.Y)
	f.out = append(f.out, 0xF0|byte(leastBits(len(global))-1), 0, 0)
	f.palette(global)
	if loop != 1 {
		f.out = append(f.out, "\x21\xFF\x0BNETSCAPE2.0\x03\x01"...)
		f.short(min(max(loop-1, 0), math.MaxUint16)) // how often it is repeated
		f.out = append(f.out, 0)
	}
	return f
}

// frame writes a frame in a rectangle: what it shows is packed already. It shows for some time, and is
// cleared after that where it is disposed of.
func (f *gifFile) frame(r image.Rectangle, packed []byte, t *table, delay time.Duration, disposed bool) {
	flags := byte(1 << 2) // it stays
	if disposed {
		flags = 2 << 2
	}
	if t.hasClear {
		flags |= 1
	}
	f.out = append(f.out, 0x21, 0xF9, 4, flags)
	f.short(int(min(max(delay.Round(unit)/unit, 0), math.MaxUint16)))
	f.out = append(f.out, t.clear, 0)

	f.out = append(f.out, 0x2C)
	f.short(r.Min.X, r.Min.Y, r.Dx(), r.Dy())
	own := byte(0)
	if !same(t.palette, f.global) {
		own = 0x80 | byte(leastBits(len(t.palette))-1)
	}
	f.out = append(f.out, own)
	if own != 0 {
		f.palette(t.palette)
	}
	f.out = append(f.out, byte(leastBits(len(t.palette))))
	for len(packed) > 0 {
		n := min(len(packed), 255)
		f.out = append(append(f.out, byte(n)), packed[:n]...)
		packed = packed[n:]
	}
	f.out = append(f.out, 0)
}

func (f *gifFile) end() []byte { return append(f.out, 0x3B) }

// palette writes colours; a palette has two to the power of something of them.
func (f *gifFile) palette(p color.Palette) {
	for i := range 1 << leastBits(len(p)) {
		c := color.RGBA{}
		if i < len(p) {
			c = p[i].(color.RGBA)
		}
		f.out = append(f.out, c.R, c.G, c.B)
	}
}

func (f *gifFile) short(all ...int) {
	for _, v := range all {
		f.out = binary.LittleEndian.AppendUint16(f.out, uint16(v))
	}
}

// same reports whether two palettes are one.
func same(a, b color.Palette) bool { return len(a) == len(b) && (len(a) == 0 || &a[0] == &b[0]) }
