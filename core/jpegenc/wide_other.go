//go:build !amd64

package jpegenc

// Elsewhere everything is plain Go.
const wide = false

func singlesWide(_ *byte, _, _, _ *float32, _ int) {}

func quadsWide(_, _ *byte, _, _, _, _ *float32, _ int) {}

func forwardWide(_ *[64]float32, _ *float32, _ int) {}

func quantiseWide(_ *[64]int16, _, _ *[64]float32, _ *[64]uint8) uint64 { return 0 }

func valuesWide(_ *[64]float32) {}
