package words_test

import (
	"fmt"

	"mivlet/core/words"
)

// An alt text is checked for what would not help whoever hears it.
func ExampleCheck() {
	for _, r := range words.Check(words.Said{Alt: "IMG_2101.JPG"}) {
		fmt.Println(r.Level, r.Code)
	}
	fmt.Println(len(words.Check(words.Said{Alt: "Three juniors paddle off the jetty"})))
	// Output:
	// stop file-name
	// 0
}
