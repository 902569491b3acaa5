//go:build !amd64

package raster

// Elsewhere everything is plain Go.
const wide = false

func narrowWide(_, _ *float32, _ *taps, _, _ int) {}

func stackWide(_ *float32, _ *[]float32, _ *float32, _, _, _, _ int) {}

func addLightWide(_ *float32, _, _, _ *uint8, _ *[3][mask + 1]uint32, _ int, _ bool) {}

func addTwosWide(_ *float32, _, _, _ *uint8, _ *[3][mask + 1]uint32, _ int) {}

func addFoursWide(_ *float32, _, _, _, _ *uint8, _ *[3][mask + 1]uint32, _ int) {}

func unlikeWide(_, _, _ *uint8, _, _ int) {}
