package main

import (
	_ "embed"
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

// kindTitle says what findings of one kind are, how many there are, and what they cost together.
func kindTitle(kind []survey.Finding) string {
	text := fmt.Sprintf("%s: %d", sentences.SurveyedKind(kind[0].Code), len(kind))
	if bytes := survey.Bytes(kind); bytes > 0 {
		text += ", " + fit.Weight(bytes)
	}
	return text
}

// one reports whether what is wrong is the same for all of a kind, so that it is said once.
func one(kind []survey.Finding) bool {
	first, _ := sentences.Surveyed(kind[0])
	for _, f := range kind {
		if what, _ := sentences.Surveyed(f); what != first {
			return false
		}
	}
	return true
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
	share := 100.0
	if r.Sum.Bytes > 0 {
		share = 100 * float64(r.Sum.CouldBe) / float64(r.Sum.Bytes)
	}
	return auditPage.Execute(w, map[string]any{"Sum": r.Sum, "Columns": r.Columns[:min(len(r.Columns), fewColumns)], "Kinds": survey.ByKind(r.Findings), "Share": share})
}

//go:embed audit.html
var auditForm string

var auditPage = template.Must(template.New("audit").Funcs(template.FuncMap{
	"kind":   func(f survey.Finding) string { return sentences.SurveyedKind(f.Code) },
	"weight": fit.Weight,
	"sum":    survey.Bytes,
	"one":    one,
	"what":   func(f survey.Finding) string { what, _ := sentences.Surveyed(f); return what },
	"way":    func(f survey.Finding) string { _, way := sentences.Surveyed(f); return way },
}).Parse(auditForm))
