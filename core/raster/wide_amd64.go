package raster

import "golang.org/x/sys/cpu"

// wide reports whether the processor works on eight values at once. The Go assembler makes
// what it needs: there is no C in it.
var wide = cpu.X86.HasAVX2

//go:noescape
func narrowWide(dst, src *float32, cols *taps, n, ch int)

//go:noescape
func stackWide(line *float32, rows *[]float32, weights *float32, count, near, far, n int)

//go:noescape
func addLightWide(acc *float32, luma, cb, cr *uint8, tables *[3][mask + 1]uint32, n int, shared bool)

//go:noescape
func addTwosWide(acc *float32, luma, cb, cr *uint8, tables *[3][mask + 1]uint32, n int)

//go:noescape
func addFoursWide(acc *float32, top, low, cb, cr *uint8, tables *[3][mask + 1]uint32, n int)

//go:noescape
func unlikeWide(marks, upper, lower *uint8, n, most int)
