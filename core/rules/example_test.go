package rules_test

import (
	"fmt"

	"mivlet/core/rules"
)

// A house changes one figure; what else it changes is told before it is applied.
func ExampleCompare() {
	before := rules.Default()
	after, err := before.Set("/limits/side", "12000")
	if err != nil {
		panic(err)
	}
	for _, c := range rules.Compare(before, after) {
		fmt.Println(c.At, c.From, c.To)
	}
	// Output:
	// /limits/side 30000 12000
}
