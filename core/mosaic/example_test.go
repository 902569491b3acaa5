package mosaic_test

import (
	"fmt"
	"image"
	"image/color"

	"mivlet/core/mosaic"
)

// A part of a picture whose squares have one colour each was covered.
func ExampleFind() {
	m := image.NewGray(image.Rect(0, 0, 400, 300))
	for y := range 300 {
		for x := range 400 {
			m.SetGray(x, y, color.Gray{uint8(60 + (x+y)/5)})
			if image.Pt(x, y).In(image.Rect(96, 80, 256, 176)) {
				m.SetGray(x, y, color.Gray{uint8(x / 8 * 37 * (y / 8) % 200)})
			}
		}
	}
	for _, r := range mosaic.Find(m) {
		fmt.Println(r.Overlaps(image.Rect(96, 80, 256, 176)))
	}
	// Output: true
}
