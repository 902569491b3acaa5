package main

import (
	"encoding/csv"
	"fmt"
	"html/template"
	"io"
	"strconv"
	"strings"

	"mivlet/core/fit"
	"mivlet/core/survey"
	"mivlet/sentences"
)

// kindTitle says what findings of one kind are about, and what they cost together.
func kindTitle(kind []survey.Finding) string {
	bytes := int64(0)
	for _, f := range kind {
		bytes += f.Cost.Bytes
	}
	text := fmt.Sprintf("%s: %d", kind[0].Code, len(kind))
	if bytes > 0 {
		text += ", " + fit.Weight(bytes)
	}
	return text
}

// auditLine is one finding on a line: where, what, and the way out.
func auditLine(f survey.Finding) string {
	at := f.Picture
	if f.Page != "" {
		at = f.Page
		if f.Picture != "" {
			at += " · " + f.Picture
		}
	}
	what, way := sentences.Surveyed(f)
	text := at + ": " + what
	if f.Cost.Seconds >= 0.1 {
		text += fmt.Sprintf(" It costs %s, %.1f s on a slow line.", fit.Weight(f.Cost.Bytes), f.Cost.Seconds)
	}
	if way != "" {
		text += " " + way
	}
	return text
}

// auditCSV writes one line for each finding (RFC 4180). What would begin a formula in a spreadsheet is
// kept from that by an apostrophe (common practice).
func auditCSV(w io.Writer, r survey.Report) error {
	c := csv.NewWriter(w)
	lines := [][]string{{"level", "code", "page", "picture", "address", "what", "way", "bytes", "seconds", "pages", "tells of people", "wcag"}}
	for _, f := range r.Findings {
		what, way := sentences.Surveyed(f)
		line := []string{string(f.Level), string(f.Code), f.Page, f.Picture, f.Address, what, way, strconv.FormatInt(f.Cost.Bytes, 10),
			strconv.FormatFloat(f.Cost.Seconds, 'f', 1, 64), strconv.Itoa(f.Cost.Pages), strconv.FormatBool(f.Cost.Private), f.Technique}
		for i, cell := range line {
			if cell != "" && strings.ContainsRune("=+-@\t\r", rune(cell[0])) {
				line[i] = "'" + cell
			}
		}
		lines = append(lines, line)
	}
	return c.WriteAll(lines)
}

// auditHTML writes the report as a page that needs no other file.
func auditHTML(w io.Writer, r survey.Report) error {
	return auditPage.Execute(w, map[string]any{"Sum": r.Sum, "Kinds": survey.ByKind(r.Findings)})
}

var auditPage = template.Must(template.New("audit").Funcs(template.FuncMap{
	"title":  kindTitle,
	"weight": fit.Weight,
	"what":   func(f survey.Finding) string { what, _ := sentences.Surveyed(f); return what },
	"way":    func(f survey.Finding) string { _, way := sentences.Surveyed(f); return way },
}).Parse(`<!doctype html>
<html lang="en">
<meta charset="utf-8">
<meta name="viewport" content="width=device-width">
<title>What is wrong with the site</title>
<style>
body { font: 1rem/1.5 system-ui, sans-serif; max-width: 75rem; margin: 2rem auto; padding: 0 1rem; color: #22201c; background: #faf8f3 }
table { border-collapse: collapse; width: 100% }
th, td { text-align: left; vertical-align: top; padding: .3rem .8rem .3rem 0; border-bottom: 1px solid #d8d3c6; overflow-wrap: anywhere }
td.n { text-align: right; font-variant-numeric: tabular-nums; white-space: nowrap }
h2 { margin: 2rem 0 .3rem; font-size: 1.1rem }
</style>
<h1>What is wrong with the site</h1>
<p>{{.Sum.Pages}} pages, {{.Sum.Pictures}} pictures: {{.Sum}}.{{if .Sum.Estimated}} How wide pictures are shown follows from HTML and CSS, as an estimate.{{end}}</p>
{{range .Kinds}}<h2>{{(index . 0).Level}} · {{title .}}</h2>
<table><tr><th>where<th>what<th>way out<th>costs</tr>
{{range .}}<tr><td>{{.Page}}{{if and .Page .Picture}}<br>{{end}}{{.Picture}}{{if and (not .Picture) .Address}}<br>{{.Address}}{{end}}<td>{{what .}}<td>{{way .}}<td class="n">{{if .Cost.Bytes}}{{weight .Cost.Bytes}}{{end}}</tr>
{{end}}</table>
{{else}}<p>Nothing is wrong.</p>
{{end}}`))
