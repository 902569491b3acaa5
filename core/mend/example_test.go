package mend_test

import (
	"context"
	"fmt"
	"testing/fstest"

	"mivlet/core/mend"
	"mivlet/core/survey"
)

// What would change on a page is known before anything is written.
func ExampleNew() {
	site := fstest.MapFS{
		"index.html": {Data: []byte(`<h1>Club</h1><img src="pier.jpg" width="300">`)},
		"pier.jpg":   {Data: photo(2400, 1600, 3)},
	}
	ctx := context.Background()
	found, _ := survey.Read(ctx, site, survey.Options{})
	plan, _ := mend.New(ctx, site, found, mend.Choices{Words: map[mend.Spot]string{{Page: "index.html", Address: "pier.jpg"}: "The pier"}})
	fmt.Println(plan.Pages[0].Changes[0].After)
	// Output: <img src="pier.jpg" width="300" alt="The pier" srcset="pier.jpg 600w, pier-300.jpg 300w" sizes="300px" height="200">
}
