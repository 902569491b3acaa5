package page_test

import (
	"fmt"

	"mivlet/core/page"
)

// Blocks are put into gaps of a page; a document is never changed, but a new one is made.
func ExampleDoc_InsertAt() {
	d := page.Doc{Version: page.Version, Title: "Autumn", Blocks: []page.Block{{ID: "a", Kind: page.Text, Text: "One."}}}
	longer, err := d.InsertAt(page.Behind("a"), page.Block{ID: "b", Kind: page.Heading, Text: "On the water"})
	fmt.Println(len(d.Blocks), len(longer.Blocks), err)
	fmt.Print(page.TextHTML("A *quiet* lake"))
	// Output:
	// 1 2 <nil>
	// <p>A <em>quiet</em> lake</p>
}
