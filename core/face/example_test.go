package face_test

import (
	"fmt"
	"image"

	"mivlet/core/face"
)

// A crop is kept on the faces that were found.
func ExampleMiddle() {
	found := []face.Face{{Bounds: image.Rect(100, 100, 200, 200), Score: .9}, {Bounds: image.Rect(300, 100, 400, 200), Score: .8}}
	x, y, ok := face.Middle(found, image.Pt(1000, 500))
	fmt.Println(x, y, ok)
	// Output:
	// 0.25 0.3 true
}
