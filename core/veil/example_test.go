package veil_test

import (
	"fmt"
	"image"

	"mivlet/core/veil"
)

// A veil over a name hides more than its box: it grows by half the height of the letters.
func ExampleVeil_Hides() {
	name := image.Rect(100, 50, 300, 74)
	v := veil.Veil{Shape: veil.Rect, Bounds: name, Style: veil.Cover, Reason: veil.Name, Letters: 24}
	fmt.Println(v.Check() == nil, v.Margin(), v.Hides(name), v.Hides(image.Rect(0, 0, 300, 74)))
	fmt.Println(v.Bits(), "bits of what is hidden are told")
	// Output:
	// true 12 true false
	// 0 bits of what is hidden are told
}
