package jpegdec

import "golang.org/x/sys/cpu"

// wide reports whether the processor works on eight values at once.
var wide = cpu.X86.HasAVX2

// inverseWide transforms rows × cols coefficients of b into nv rows of pixels, of each of which
// it writes eight.
//
//go:noescape
func inverseWide(at *byte, stride int, b, down, across *[64]float32, nv, rows, cols int)
