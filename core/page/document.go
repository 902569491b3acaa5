package page

import (
	"fmt"
	"html/template"
	"io"
)

// Document is a whole HTML document that works from a folder, without a server.
type Document struct {
	Language string // such as en; see BCP 47
	Title    string
	Style    string // name of a stylesheet beside it, besides page.css; "" for none
	Script   string // name of a script beside it; "" for none
	Main     string // HTML that this package wrote
}

var document = template.Must(template.New("document").Parse(`<!DOCTYPE html>
<html lang="{{.Language}}">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>{{.Title}}</title>
<link rel="stylesheet" href="page.css">
{{with .Style}}<link rel="stylesheet" href="{{.}}">
{{end}}{{with .Script}}<script src="{{.}}" defer></script>
{{end}}</head>
<body>
<main class="content">
{{.Body}}</main>
</body>
</html>
`))

// Write writes the document.
func (d Document) Write(w io.Writer) error {
	return document.Execute(w, struct {
		Document
		Body template.HTML
	}{d, template.HTML(d.Main)}) //nolint:gosec // made and escaped by this package
}

// Listed is a document that a list of contents leads to.
type Listed struct{ Name, Title string }

var contents = template.Must(template.New("contents").Parse(`<h1>{{.Title}}</h1>
<div class="flow">
  <ul>
{{range .All}}    <li><a href="{{.Name}}">{{.Title}}</a></li>
{{end}}  </ul>
</div>
`))

// WriteContents writes a list of documents, as the main part of one that leads to them.
func WriteContents(w io.Writer, title string, all []Listed) error {
	return contents.Execute(w, struct {
		Title string
		All   []Listed
	}{title, all})
}

// spaceColour is what a neutral space is filled with.
const spaceColour = "#e4e0d6"

// SpaceSVG is a neutral space of w × h CSS px, as a file.
func SpaceSVG(w, h int) string {
	return fmt.Sprintf(`<svg xmlns="http://www.w3.org/2000/svg" width="%d" height="%d" viewBox="0 0 %[1]d %[2]d"><rect width="%[1]d" height="%[2]d" fill="%[3]s"/></svg>`, w, h, spaceColour)
}
