package t81_test

import (
	"fmt"

	"mivlet/core/t81"
)

// After the first coefficient comes the one beside it, and then the one below it.
func ExampleZigzag() {
	fmt.Println(t81.Zigzag[0], t81.Zigzag[1], t81.Zigzag[2], t81.Zigzag[63])
	// Output: 0 1 8 63
}
