package face

import "golang.org/x/sys/cpu"

// wide reports whether the processor multiplies eight values at once. The Go assembler
// makes what it needs: there is no C in it.
var wide = cpu.X86.HasAVX2 && cpu.X86.HasFMA

// wider reports whether it multiplies sixteen.
var wider = wide && cpu.X86.HasAVX512F

//go:noescape
func mixWide(m *mixing)

//go:noescape
func mixWider(m *mixing)

//go:noescape
func channelsWide(c *channeling)

//go:noescape
func largestWide(dst, src *float32, n int)

//go:noescape
func pairWide(dst, src *float32, ch, n int)

//go:noescape
func pairMoreWide(dst, src *float32, ch, n int)

//go:noescape
func rectifyWide(v *float32, n int, slope float32)
