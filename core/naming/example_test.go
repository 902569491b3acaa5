package naming_test

import (
	"fmt"

	"mivlet/core/naming"
)

// A name is made from what is known of a picture.
func ExampleConvention_Propose() {
	house := naming.Usual()
	p := house.Propose(naming.Clues{Section: "juniors", Alt: "Three juniors paddle off the jetty", Typed: "DSC_0417.JPG"})
	fmt.Println(p.Name)
	// Output:
	// juniors-three-juniors-paddle-off-the-jetty
}
