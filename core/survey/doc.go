// Package survey looks through a site that was made elsewhere: a folder or an archive of pages and the
// files that they show. It reads pages as browsers do that run no scripts, and pictures by their heads. It
// works out how wide each picture is shown, and says what is wrong, with what it costs visitors and what it
// tells of people.
//
// It changes nothing, follows no link to other hosts, and decodes pixels only where somebody asks for it.
// Widths that follow from HTML and CSS alone are estimates: columns that flow (flex, grid, float) are taken
// to be as wide as what holds them.
//
//	found, err := survey.Read(ctx, os.DirFS("public_html"), survey.Options{})
//	for _, f := range found.Findings() { … }
package survey
