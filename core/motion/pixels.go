package motion

import "image"

// pixel is red, green, blue and alpha of a place, with straight alpha.
type pixel [4]byte

// row is a row of a picture, four bytes for each pixel.
func row(m *image.NRGBA, y int) []byte { return m.Pix[y*m.Stride:][:4*m.Rect.Dx()] }

// at is a pixel of a row.
func at(row []byte, x int) pixel { return pixel(row[4*x:]) }

// set sets a pixel of a row.
func set(row []byte, x int, p pixel) { copy(row[4*x:], p[:]) }
