package survey_test

import (
	"context"
	"fmt"
	"testing/fstest"

	"mivlet/core/survey"
)

// A page shows a picture that is not there, and links to another page with a picture that has no words.
func ExampleRead() {
	site := fstest.MapFS{
		"index.html": {Data: []byte(`<title>Club</title><p><a href="team.html"><img src="gone.jpg" alt=""></a><p><img src="../pier.png">`)},
		"team.html":  {Data: []byte(`<title>Team</title><p>Nobody is here.`)},
	}
	found, err := survey.Read(context.Background(), site, survey.Options{})
	if err != nil {
		fmt.Println(err)
		return
	}
	for _, f := range found.Findings() {
		fmt.Println(f.Level, f.Code, f.Page, f.Address)
	}
	// Output:
	// stop alt-absent index.html ../pier.png
	// stop alt-decorative-link index.html gone.jpg
	// stop broken-picture index.html ../pier.png
	// stop broken-picture index.html gone.jpg
	// hint not-sized index.html ../pier.png
	// hint not-sized index.html gone.jpg
}
