package banner_test

import (
	"fmt"

	"mivlet/core/banner"
	"mivlet/core/rules"
)

// A banner that starts on Saturday does not show on Thursday, and says so first.
func ExampleWhy() {
	r := rules.Default()
	r.Spots = []rules.Spot{{ID: "foot", Title: "Partners", Width: 300, Height: 250, Where: rules.Below, On: []string{rules.OnEvery}, Turn: rules.ByTurns}}
	ropes := banner.Banner{ID: 1, Approved: true, Fit: true, In: &banner.Occasion{Title: "Spring", From: "2026-03-01", Until: "2026-06-30"},
		Doc: banner.Doc{Title: "Ropes", Spot: "foot", From: "2026-05-16"}}
	launch := banner.Page{Section: "house", Title: "Spring launch", Live: true, Marked: []string{"foot"}}
	first := banner.Why(r, ropes, nil, launch, "2026-05-14")[0]
	fmt.Println(first.Code, first.Met, first.Day)
	spot, _ := r.Spot("foot")
	_, shows := banner.Pick(spot, banner.Running(r, spot, []banner.Banner{ropes}, launch, "2026-05-16"), 0)
	fmt.Println(shows)
	// Output:
	// begun false 2026-05-16
	// true
}
