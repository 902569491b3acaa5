// Package mend makes a site that was made elsewhere better, and leaves alone what it does not understand: it
// cuts pictures at the widths at which pages show them, takes out what files tell of people, brings in
// descriptions and names that somebody gave, and changes of each page only the tags that are concerned, byte
// for byte.
//
// What is mended keeps its place on the page: a tag is changed only where all that styles say of the size of
// its picture was understood. And no address stops working: a file that gets another name stays under the old
// one, too.
//
//	plan, err := mend.New(ctx, files, found, mend.Choices{})
//	for _, p := range plan.Pages { … }           // what would change
//	err = plan.Write(ctx, files, found, limits, put, nil)
package mend
