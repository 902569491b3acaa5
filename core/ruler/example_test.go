package ruler_test

import (
	"fmt"

	"mivlet/core/ruler"
)

// A column between two edges of a screenshot of a sharp screen, and the pixels that a
// picture for it needs.
func ExampleBetween() {
	l := ruler.Between(160, 1440, 2)
	fmt.Println(l.Device, l.CSS, l.Needs(2, 0))
	// Output:
	// 1280 640 1280
}
