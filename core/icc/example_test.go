package icc_test

import (
	"fmt"

	"mivlet/core/icc"
)

// Lightness of a half is light of less than a fifth.
func ExampleLuminance() {
	fmt.Printf("%.3f\n", icc.Luminance(0.5))
	// Output: 0.184
}
