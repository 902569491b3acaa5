package private_test

import (
	"fmt"

	"mivlet/core/private"
)

// A text is read for what gives somebody away.
func ExampleJudge() {
	for _, t := range private.Judge("Ring Odo on 01632 960417 or write to odo@brindlemere.example", "Odo") {
		fmt.Printf("%s: %s\n", t.Kind, t.Text)
	}
	// Output:
	// watched: Odo
	// phone: 01632 960417
	// email: odo@brindlemere.example
}
