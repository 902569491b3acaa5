package page

import (
	"fmt"
	"html"
	"io"
	"net/url"
	"strings"
)

// Document is a whole HTML document that works from a folder, without a server.
type Document struct {
	Language string // such as en (BCP 47)
	Title    string
	Style    string // file name of a stylesheet, besides page.css; "" for none
	Script   string // file name of a script; "" for none
	Main     string // HTML that this package wrote
}

// Write writes the document.
func (d Document) Write(w io.Writer) error {
	var b strings.Builder
	fmt.Fprintf(&b, `<!DOCTYPE html>
<html lang="%s">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>%s</title>
<link rel="stylesheet" href="page.css">
`, html.EscapeString(d.Language), html.EscapeString(d.Title))
	if d.Style != "" {
		fmt.Fprintf(&b, "<link rel=\"stylesheet\" href=\"%s\">\n", fileLink(d.Style))
	}
	if d.Script != "" {
		fmt.Fprintf(&b, "<script src=\"%s\" defer></script>\n", fileLink(d.Script))
	}
	fmt.Fprintf(&b, "</head>\n<body>\n<main class=\"content\">\n%s</main>\n</body>\n</html>\n", d.Main)
	_, err := io.WriteString(w, b.String())
	return err
}

// Listed is a document that a list of contents leads to.
type Listed struct{ Name, Title string }

// WriteContents writes a list of documents, as the main part of one that leads to them.
func WriteContents(w io.Writer, title string, all []Listed) error {
	var b strings.Builder
	fmt.Fprintf(&b, "<h1>%s</h1>\n<div class=\"flow\">\n  <ul>\n", html.EscapeString(title))
	for _, l := range all {
		fmt.Fprintf(&b, "    <li><a href=\"%s\">%s</a></li>\n", fileLink(l.Name), html.EscapeString(l.Title))
	}
	b.WriteString("  </ul>\n</div>\n")
	_, err := io.WriteString(w, b.String())
	return err
}

// fileLink is the address of a file in the same folder.
func fileLink(name string) string {
	return html.EscapeString((&url.URL{Path: name}).String())
}

// spaceColour is what a neutral space is filled with.
const spaceColour = "#e4e0d6"

// SpaceSVG is a neutral space of w × h CSS px, as a file.
func SpaceSVG(w, h int) string {
	return fmt.Sprintf(`<svg xmlns="http://www.w3.org/2000/svg" width="%d" height="%d" viewBox="0 0 %[1]d %[2]d"><rect width="%[1]d" height="%[2]d" fill="%[3]s"/></svg>`, w, h, spaceColour)
}
