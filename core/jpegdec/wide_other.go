//go:build !amd64

package jpegdec

const wide = false

func inverseWide(at *byte, stride int, b, down, across *[64]float32, nv, rows, cols int) {
	panic("there is no wide form")
}
