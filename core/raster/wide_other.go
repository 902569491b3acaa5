//go:build !amd64

package raster

// Elsewhere everything is plain Go.
const wide = false

func narrowWide(_, _ *float32, _ *taps, _, _ int)      {}
func leastOfWide(_, _, _ *float32, _ int)              {}
func atLeastWide(_, _ *float32, _ int)                 {}
func addTwoWide(_, _, _ *float32, _, _ float32, _ int) {}
