// Package words checks the words that go with a picture: is this alt text one?
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

// Finding is one thing that falls short in some words, and how to mend it.
type Finding struct {
	Level Level
	Code  string
	Text  string
}

// LongAlt is the length in characters from which an alt text is better split
// into a caption and a shorter alt text (common practice).
const LongAlt = 150

var (
	placeholder = regexp.MustCompile(`(?i)^(?:image|photo|picture|pic|graphic|img|spacer|placeholder|alt|alt text|untitled|todo|tbd|xxx|test|n/?a|none|[.\-_*?]+)\s*\d*$`)
	imageOf     = regexp.MustCompile(`(?i)^(?:an?\s+|the\s+|this\s+is\s+an?\s+)?(?:image|photo|photograph|picture|pic|graphic)\s+(?:of|showing|shows|that shows)\b`)
	fileName    = regexp.MustCompile(`(?i)^\S+\.(?:jpe?g|png|gif|webp|avif|heic|svg|bmp|tiff?)$`)
)

// CheckAlt returns what falls short in an alt text that stands with the given
// caption. A good alt text gives nil.
func CheckAlt(alt, caption string) []Finding {
	text := strings.TrimSpace(alt)
	switch {
	case text == "":
		return []Finding{{Stop, "missing", "Say in a few words what it shows, for those who cannot see it. (WCAG F65)"}}
	case placeholder.MatchString(text):
		return []Finding{{Stop, "placeholder", "That word fits any picture: say what this one shows. (WCAG F30)"}}
	case fileName.MatchString(text) || naming.FromCamera(text):
		return []Finding{{Stop, "file-name", "That is a file name. Read aloud it tells nothing: say what the picture shows. (WCAG F30)"}}
	}
	var fs []Finding
	if imageOf.MatchString(text) {
		fs = append(fs, Finding{Hint, "image-of", "A screen reader already says that it is an image. Begin with what it shows. (common practice)"})
	}
	if n := utf8.RuneCountInString(text); n > LongAlt {
		fs = append(fs, Finding{Warn, "long", "Long to listen to. Keep the gist here and put the rest into the caption. (common practice)"})
	}
	if caption != "" && strings.EqualFold(text, strings.TrimSpace(caption)) {
		fs = append(fs, Finding{Warn, "same-as-caption", "The caption says the same: a listener hears it twice. (common practice)"})
	}
	if shouting(text) {
		fs = append(fs, Finding{Hint, "shouting", "All capitals are read letter by letter by some readers. (common practice)"})
	}
	return fs
}

// Stops reports whether any finding is a stop.
func Stops(fs []Finding) bool {
	for _, f := range fs {
		if f.Level == Stop {
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
