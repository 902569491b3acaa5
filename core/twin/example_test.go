package twin_test

import (
	"fmt"
	"image"
	"image/color"
	"math"

	"mivlet/core/twin"
)

// The same picture in another size has nearly the same fingerprint.
func ExampleHash_Distance() {
	picture := func(w, h int, change float64) image.Image {
		m := image.NewGray(image.Rect(0, 0, w, h))
		for y := range h {
			for x := range w {
				u, v := float64(x)/float64(w), float64(y)/float64(h)
				m.SetGray(x, y, color.Gray{uint8(127 + 60*math.Sin(7*u+change) + 60*math.Cos(5*v*u+change))})
			}
		}
		return m
	}
	photo := twin.Of(picture(640, 480, 0))
	fmt.Println(photo.Distance(twin.Of(picture(320, 240, 0))) < 8)
	fmt.Println(photo.Distance(twin.Of(picture(640, 480, 2))) > 20)
	// Output:
	// true
	// true
}
