package consent_test

import (
	"fmt"

	"mivlet/core/consent"
)

// Somebody who refused keeps a picture from going live until a veil covers them.
func ExampleBinding() {
	seen := []consent.Entry{
		{ID: "a", Whom: "the girl in the red boat", State: consent.Refused, Veils: []string{"veil1"}},
		{ID: "b", Whom: "Odo", State: consent.Allowed, Until: "2026-12-31"},
	}
	fmt.Println(len(consent.Binding(seen, nil, "2026-11-02")))
	fmt.Println(len(consent.Binding(seen, []string{"veil1"}, "2026-11-02")))
	fmt.Println(len(consent.Binding(seen, []string{"veil1"}, "2027-01-01")))
	// Output:
	// 1
	// 0
	// 1
}
