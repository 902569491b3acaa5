package light

import "golang.org/x/sys/cpu"

// wide reports whether the processor works on eight values at once.
var wide = cpu.X86.HasAVX2

// pixelsWide is Pixels for n pixels, a multiple of eight: the same to the bit.
//
//go:noescape
func pixelsWide(pix *uint8, line *float32, codes *uint8, n int)
