//go:build !amd64

package light

// Elsewhere everything is plain Go.
const wide = false

func pixelsWide(_ *uint8, _ *float32, _ *uint8, _ int) {}
