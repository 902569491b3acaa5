package textline_test

import (
	"fmt"
	"image"

	"mivlet/core/textline"
)

// Lines that stand below each other are one column of a table.
func ExampleColumns() {
	line := func(x, y int) textline.Line {
		return textline.Line{Bounds: image.Rect(x, y, x+120, y+16), Height: 16}
	}
	fmt.Println(textline.Columns([]textline.Line{line(10, 10), line(400, 10), line(10, 40), line(400, 40), line(10, 70), line(400, 70)}))
	// Output:
	// [[0 2 4] [1 3 5]]
}
