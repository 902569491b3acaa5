package page

import (
	"bytes"
	"encoding/json"
	"html"
	"regexp"
	"slices"
	"strings"
	"unicode"

	"github.com/microcosm-cc/bluemonday"
	"github.com/yuin/goldmark"
	"github.com/yuin/goldmark/parser"
	"github.com/yuin/goldmark/util"
)

// Captions are CommonMark of one line: strong and slanted words, code and links. What begins a
// list or a heading elsewhere, and HTML, are just words here.
var captions = goldmark.New(goldmark.WithParser(parser.NewParser(
	parser.WithBlockParsers(util.Prioritized(parser.NewParagraphParser(), 1)),
	parser.WithInlineParsers(slices.DeleteFunc(parser.DefaultInlineParsers(), func(p util.PrioritizedValue) bool { return p.Value == parser.NewRawHTMLParser() })...),
)))

// cleanCaption lets through what captions are made of.
var cleanCaption = func() *bluemonday.Policy {
	p := linking()
	p.AllowElements("strong", "em", "code")
	return p
}()

// CaptionHTML turns a caption into sanitised HTML, in one line.
func CaptionHTML(source string) string {
	var b bytes.Buffer
	if err := captions.Convert([]byte(oneLine(source)), &b); err != nil {
		return html.EscapeString(source)
	}
	return strings.TrimSpace(cleanCaption.Sanitize(b.String()))
}

// CaptionText gives the words of a caption alone.
func CaptionText(source string) string {
	return html.UnescapeString(tags.ReplaceAllString(CaptionHTML(source), ""))
}

// tags are those of sanitised HTML, whose attributes have no pointed bracket.
var tags = regexp.MustCompile(`<[^>]*>`)

// oneLine has what breaks lines as spaces.
func oneLine(text string) string {
	return strings.TrimSpace(strings.Map(func(r rune) rune {
		if unicode.IsControl(r) {
			return ' '
		}
		return r
	}, text))
}

// PlainCaption makes a caption that reads as a plain text does: what CommonMark would take for
// a sign (0.31, 6) has a backslash before it (0.31, 2.4). An underscore within a word, and an
// ampersand that begins no name or number, are none.
func PlainCaption(text string) string {
	letters := []rune(oneLine(text))
	at := func(i int) rune {
		if i < 0 || i >= len(letters) {
			return ' '
		}
		return letters[i]
	}
	word := func(r rune) bool { return unicode.IsLetter(r) || unicode.IsDigit(r) }
	var b strings.Builder
	for i, r := range letters {
		if strings.ContainsRune("\\`*[]<", r) || r == '_' && !(word(at(i-1)) && word(at(i+1))) || r == '&' && (word(at(i+1)) || at(i+1) == '#') {
			b.WriteByte('\\')
		}
		b.WriteRune(r)
	}
	return b.String()
}

// UnmarshalJSON reads a page of any version. Until version 4 captions were plain text.
func (d *Doc) UnmarshalJSON(data []byte) error {
	type stored Doc
	if err := json.Unmarshal(data, (*stored)(d)); err != nil {
		return err
	}
	if d.Version < 1 || d.Version > 4 {
		return nil
	}
	for i, b := range d.Blocks {
		for n, p := range b.Holds() {
			p.Caption = PlainCaption(p.Caption)
			b, _ = b.WithPlacement(n, p)
		}
		d.Blocks[i] = b
	}
	d.Version = Version
	return nil
}

// captionLinks are the addresses that the captions of a block lead to, in reading order.
func (b Block) captionLinks() (links []string) {
	for _, p := range b.Holds() {
		if strings.Contains(p.Caption, "](") || strings.Contains(p.Caption, "<") {
			links = append(links, hrefsOf(CaptionHTML(p.Caption))...)
		}
	}
	return slices.Clip(links)
}
