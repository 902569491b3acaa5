package fit_test

import (
	"fmt"
	"image"

	"mivlet/core/fit"
)

// A photo of 24 megapixels is cut for a column of 640 px, once and twice as sharp.
func ExamplePlan() {
	whole := image.Rect(0, 0, 6000, 4000)
	for _, c := range fit.Plan(whole, fit.Focus{X: .5, Y: .5}, fit.Want{Width: 640}, []float64{1, 2}) {
		fmt.Printf("%d × %d for %d CSS px at density %v\n", c.Size.W, c.Size.H, c.CSSWidth, c.Density)
	}
	// Output:
	// 640 × 427 for 640 CSS px at density 1
	// 1280 × 853 for 640 CSS px at density 2
}
