package face

import "golang.org/x/sys/cpu"

// wide reports whether the processor multiplies eight values at once. The Go assembler
// makes what it needs: there is no C in it.
var wide = cpu.X86.HasAVX2 && cpu.X86.HasFMA

//go:noescape
func mixWide(dst *float32, dstStep uintptr, src *float32, srcStep uintptr, weights *float32, taps int, bias *float32)

//go:noescape
func spreadWide(dst, src, weights *float32, ch, n int)

//go:noescape
func largestWide(dst, src *float32, n int)

//go:noescape
func pairWide(dst, src *float32, ch, n int)

//go:noescape
func rectifyWide(v *float32, n int, slope float32)
