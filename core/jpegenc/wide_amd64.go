package jpegenc

import "golang.org/x/sys/cpu"

// wide reports whether the processor works on eight values at once. Each of these gives what its
// plain form gives, to the bit.
var wide = cpu.X86.HasAVX2

// singlesWide is singles for n pixels, a multiple of eight.
//
//go:noescape
func singlesWide(row *byte, luma, blue, red *float32, n int)

// quadsWide is quads for n pixels in each row, a multiple of eight.
//
//go:noescape
func quadsWide(top, bottom *byte, upper, lower, blue, red *float32, n int)

// forwardWide is forward.
//
//go:noescape
func forwardWide(b *[64]float32, from *float32, step int)

// quantiseWide is quantise: it writes the steps and returns the mask.
//
//go:noescape
func quantiseWide(at *[64]int16, from, divisors *[64]float32, zigzag *[64]uint8) uint64

// valuesWide is values.
//
//go:noescape
func valuesWide(b *[64]float32)
