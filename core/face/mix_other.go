//go:build !amd64

package face

// Elsewhere everything is plain Go.
const wide = false

func mixWide(*float32, uintptr, *float32, uintptr, *float32, int, *float32) {}
func spreadWide(_, _, _ *float32, _, _ int)                                 {}
func largestWide(_, _ *float32, _ int)                                      {}
func pairWide(_, _ *float32, _, _ int)                                      {}
func rectifyWide(*float32, int, float32)                                    {}
