// Package words checks the words that go with a picture: is this alt text one?
// and this caption?
//
// The rules follow WCAG 2.2, success criterion 1.1.1, and its techniques; each
// finding names the one it comes from.
package words

import (
	"regexp"
	"strings"
	"unicode"
	"unicode/utf8"

	"mivlet/core/naming"
)

// Level tells how much a finding weighs.
type Level string

// A Stop keeps a picture from going live, a Warn asks to look again, a Hint
// could be better.
const (
	Stop Level = "stop"
	Warn Level = "warn"
	Hint Level = "hint"
)

// Remark is one thing that falls short in some words, and how to mend it.
type Remark struct {
	Level  Level
	Code   Code
	Values []any // what it is about, in the order that the code tells
}

// LongAlt is the length in characters from which an alt text is better split
// into a caption and a shorter alt text (common practice).
const LongAlt = 150

// Said is all that is said with a picture, and around it.
type Said struct {
	Alt        string
	Caption    string
	Decorative bool   // it deliberately says nothing
	Reason     string // why it is decorative
	Beside     []string
	Others     []string // alt texts of the other pictures of the page
	Links      bool     // it leads somewhere
	LinkName   string   // what the place it leads to is called, where known
	Hidden     []string // names that a veil of the picture hides
	Watch      []string // words that the house watches for
	Language   string   // of the page, BCP 47
	Longest    int      // characters of an alt text; 0 for LongAlt
	LongestCap int      // characters of a caption; 0 for none
}

// fileName is a text that ends as names of files do.
var fileName = regexp.MustCompile(`(?i)\S\.(?:jpe?g|png|gif|webp|avif|heic|svg|bmp|tiff?)$`)

// Check returns what falls short in the words of a picture. Good ones give nil.
func Check(s Said) []Remark {
	text := strings.TrimSpace(s.Alt)
	lang := languageOf(s.Language)
	switch {
	case s.Decorative:
		return checkDecorative(s, text)
	case text == "" && s.Links:
		return []Remark{{Stop, MissingLink, nil}}
	case text == "":
		return []Remark{{Stop, Missing, nil}}
	case lang.isPlaceholder(text) || languages()["en"].isPlaceholder(text):
		return []Remark{{Stop, Placeholder, nil}}
	case fileName.MatchString(text) || naming.FromCamera(text):
		return []Remark{{Stop, FileName, nil}}
	}
	rest, says := lang.withoutImageOf(text)
	if says && rest == "" {
		return []Remark{{Stop, Placeholder, nil}} // of what?
	}
	fs := checkPrivate(text+"\n"+s.Caption, s.Hidden, s.Watch)
	if says {
		fs = append(fs, Remark{Hint, ImageOf, []any{lang.upperFirst(rest)}})
	}
	fs = append(fs, s.checkLength(text)...)
	fs = append(fs, s.checkRepeats(text)...)
	if s.Links && s.LinkName != "" && !shares(text, s.LinkName) {
		fs = append(fs, Remark{Warn, Link, []any{s.LinkName, text}})
	}
	if shouting(text) {
		fs = append(fs, Remark{Hint, Shouting, []any{lang.upperFirst(lang.lower(text))}})
	}
	return fs
}

// checkDecorative wants a decorative picture to say nothing, to lead nowhere,
// and to have its reason.
func checkDecorative(s Said, text string) []Remark {
	var fs []Remark
	if text != "" {
		fs = append(fs, Remark{Warn, DecorativeWords, nil})
	}
	if s.Links {
		fs = append(fs, Remark{Stop, DecorativeLink, nil})
	}
	if strings.TrimSpace(s.Reason) == "" {
		fs = append(fs, Remark{Warn, DecorativeReason, nil})
	}
	return fs
}

func (s Said) checkLength(text string) []Remark {
	longest := s.Longest
	if longest == 0 {
		longest = LongAlt
	}
	var fs []Remark
	if n := utf8.RuneCountInString(text); n > longest {
		fs = append(fs, Remark{Warn, Long, nil})
	}
	if n := utf8.RuneCountInString(s.Caption); s.LongestCap > 0 && n > s.LongestCap {
		fs = append(fs, Remark{Warn, CaptionLong, nil})
	}
	return fs
}

func (s Said) checkRepeats(text string) []Remark {
	var fs []Remark
	if s.Caption != "" && alike(text, s.Caption) {
		fs = append(fs, Remark{Warn, SameAsCaption, nil})
	}
	for _, b := range s.Beside {
		if alike(text, b) {
			fs = append(fs, Remark{Warn, SameAsText, nil})
			break
		}
	}
	for _, o := range s.Others {
		if alike(text, o) {
			fs = append(fs, Remark{Warn, SameAsOther, nil})
			break
		}
	}
	return fs
}

// Stops reports whether any finding is a stop.
func Stops(fs []Remark) bool {
	for _, f := range fs {
		if f.Level == Stop {
			return true
		}
	}
	return false
}

// alike compares texts by their letters and figures alone.
func alike(a, b string) bool {
	fold := func(s string) string {
		return strings.Join(strings.FieldsFunc(strings.ToLower(s), func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) }), " ")
	}
	x := fold(a)
	return x != "" && x == fold(b)
}

// shares reports whether two texts have a telling word in common.
func shares(a, b string) bool {
	words := map[string]bool{}
	for _, w := range strings.FieldsFunc(strings.ToLower(a), func(r rune) bool { return !unicode.IsLetter(r) }) {
		words[w] = true
	}
	for _, w := range strings.FieldsFunc(strings.ToLower(b), func(r rune) bool { return !unicode.IsLetter(r) }) {
		if utf8.RuneCountInString(w) > 3 && words[w] {
			return true
		}
	}
	return false
}

func shouting(text string) bool {
	upper, lower := 0, 0
	for _, r := range text {
		switch {
		case unicode.IsUpper(r):
			upper++
		case unicode.IsLower(r):
			lower++
		}
	}
	return upper >= 8 && lower == 0
}
