package hdr_test

import (
	"fmt"

	"mivlet/core/hdr"
)

// A lamp of 600 candelas is not quite white, and a wall of 60 is as it was.
func ExampleMapped() {
	fmt.Printf("%.2f %.2f\n", hdr.Mapped(600), hdr.Mapped(60)*203/60)
	// Output: 0.99 1.00
}
