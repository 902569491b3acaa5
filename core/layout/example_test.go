package layout_test

import (
	"fmt"
	"math"

	"mivlet/core/layout"
)

// A picture fills a column of a third of a page that is no wider than 960 px; below 600 px
// the columns stand below each other.
func ExamplePlace_Width() {
	place := layout.Place{
		Section: layout.Band{Breaks: layout.Breaks{Tablet: 600, Desktop: 1000}, Cap: 960, Padding: layout.Same(15), Gutter: layout.Same(30), Shares: []float64{1, 1, 1}},
		Rule:    layout.Rule{Percent: 100},
	}
	for _, viewport := range []int{1280, 800, 390} {
		fmt.Println(viewport, math.Round(place.Width(viewport)))
	}
	fmt.Println(place.Sizes())
	// Output:
	// 1280 290
	// 800 237
	// 390 360
	// (max-width: 599px) calc(100vw - 30px), (max-width: 959px) calc(33.3333vw - 30px), 290px
}
