package audit_test

import (
	"fmt"

	"mivlet/core/audit"
	"mivlet/core/facts"
	"mivlet/core/fit"
	"mivlet/core/rules"
	"mivlet/core/words"
)

// What falls short of a picture is told in codes; the interface says them.
func ExampleCheck() {
	house := rules.Default()
	slot, _ := house.Slot("column")
	small := audit.Picture{Facts: facts.Facts{MediaType: "image/jpeg", Stored: fit.Size{W: 300, H: 200}, Orientation: facts.Upright}, Slot: &slot, House: house, Section: "juniors", Today: "2026-11-02",
		Name: "juniors-boat", Said: words.Said{Alt: "A boat on a quiet lake"}}
	for _, f := range audit.Check(small) {
		fmt.Println(f.Level, f.Code)
	}
	// Output:
	// stop soft
}
