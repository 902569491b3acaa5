// Package naming checks names of pictures against the house convention and
// proposes names that follow it: the section first, then what the picture
// shows, in lower-case letters and digits parted by single hyphens, such as
// juniors-first-launch. The extension is never part of a name; it comes from
// what the file is.
package naming

import (
	"fmt"
	"regexp"
	"slices"
	"strings"
	"time"

	"github.com/mozillazg/go-unidecode"
)

// MaxLength is the longest name in characters, without extension.
const MaxLength = 80

// Problem is one way in which a name breaks the convention.
type Problem struct {
	Code string // stable, for programs
	Text string // for the editor
}

// camera matches what cameras, phones and screen captures call their files:
// DCF names of four letters and four digits (JEITA CP-3461) and common practice.
var camera = regexp.MustCompile(`(?i)^(?:[a-z_]{3,4}_?\d{3,6}|p\d{7}|img[-_ ]?\d+.*|dsc[-_ nf]?\d+.*|dcim.*|mvc-?\d+|pict?\d+|screen[-_ ]?shot.*|screenshot.*|bildschirmfoto.*|whatsapp.*|\d{8}[-_]\d{6}.*|(?:image|photo|picture|bild|untitled|scan|unnamed|download)[-_ ]*\(?\d*\)?)$`)

// reserved are names that widely used systems refuse, with any extension.
var reserved = regexp.MustCompile(`^(?:con|prn|aux|nul|com[1-9]|lpt[1-9])$`)

// idle are words that tell nothing about what a picture shows.
var idle = map[string]bool{
	"image": true, "images": true, "photo": true, "picture": true, "pic": true, "untitled": true, "copy": true,
	"final": true, "new": true, "img": true, "dsc": true, "screenshot": true, "edited": true, "scan": true,
}

// small words carry nothing at the end of a shortened name.
var small = map[string]bool{
	"a": true, "an": true, "the": true, "of": true, "in": true, "on": true, "at": true, "and": true, "with": true,
	"to": true, "by": true, "for": true, "from": true, "is": true, "are": true, "his": true, "her": true, "their": true, "its": true,
}

// FromCamera reports whether a name, with or without extension, is one that a
// camera, a phone or a screen capture gives.
func FromCamera(name string) bool { return camera.MatchString(stem(name)) }

// Check returns every way in which name breaks the convention for a section,
// most telling first. A good name gives nil.
func Check(name, section string) []Problem {
	var ps []Problem
	add := func(code, format string, args ...any) { ps = append(ps, Problem{code, fmt.Sprintf(format, args...)}) }

	if strings.TrimSpace(name) == "" {
		add("empty", "A picture needs a name, so that someone finds it in two years.")
		return ps
	}
	rest := strings.TrimPrefix(strings.TrimPrefix(name, section), "-")
	if FromCamera(name) || (rest != "" && FromCamera(rest)) {
		add("camera", "“%s” is what a camera called it. Say what the picture shows.", name)
	}
	if strings.ContainsAny(name, " \t\u00a0") {
		add("space", "Spaces break in addresses. Hyphens part the words.")
	}
	if bad := strangers(name); bad != "" {
		add("symbol", "%s: only a–z, 0–9 and hyphens travel well.", bad)
	}
	if name != strings.ToLower(name) {
		add("case", "Capitals make two names out of one on some systems. Lower case, please.")
	}
	if strings.HasPrefix(name, "-") || strings.HasSuffix(name, "-") || strings.Contains(name, "--") {
		add("hyphens", "Hyphens stand single, and only between words.")
	}
	if reserved.MatchString(strings.ToLower(name)) {
		add("reserved", "“%s” is a name that some systems refuse.", name)
	}
	if section != "" {
		switch {
		case strings.EqualFold(name, section) || (strings.EqualFold(name, section+"-")):
			add("subject", "The section alone is no name. Say what the picture shows.")
		case !strings.HasPrefix(strings.ToLower(name), section+"-"):
			add("section", "The section comes first: “%s-…”.", section)
		}
	}
	if onlyIdle(name, section) {
		add("idle", "These words fit any picture. Say what this one shows.")
	}
	if n := len([]rune(name)); n > MaxLength {
		add("long", "%d characters; %d is the most.", n, MaxLength)
	}
	return ps
}

// Clues is what a proposal can be drawn from.
type Clues struct {
	Typed    string // what the editor typed, or the name the file came with
	Alt      string // what the picture shows
	Section  string // code of the section
	Taken    time.Time
	Fallback string // last resort, such as a short part of a content hash
}

// Propose returns a name that follows the convention, drawn from the typed
// name, else from the alt text, else from the day it was taken. Proposing from
// a proposal changes nothing.
func Propose(c Clues) string {
	for _, from := range []string{c.Typed, c.Alt} {
		text := stem(from)
		if from == c.Alt {
			text = c.Alt
		}
		if c.Section != "" {
			text = trimSection(text, c.Section)
		}
		if FromCamera(text) {
			continue
		}
		if words := subject(text); len(words) > 0 {
			return join(c.Section, words)
		}
	}
	if !c.Taken.IsZero() {
		return join(c.Section, []string{c.Taken.Format("2006-01-02")})
	}
	if words := split(c.Fallback); len(words) > 0 {
		return join(c.Section, append([]string{"unsorted"}, words...))
	}
	return join(c.Section, []string{"unsorted"})
}

// subject returns up to six telling words of text.
func subject(text string) []string {
	var words []string
	for _, w := range split(text) {
		if !idle[w] {
			words = append(words, w)
		}
	}
	const most = 6
	if len(words) > most {
		kept := words[:0:0]
		for _, w := range words {
			if !small[w] {
				kept = append(kept, w)
			}
		}
		words = kept[:min(most, len(kept))]
	}
	for len(words) > 0 && small[words[len(words)-1]] {
		words = words[:len(words)-1]
	}
	digits := true
	for _, w := range words {
		digits = digits && strings.Trim(w, "0123456789") == ""
	}
	if digits {
		return nil
	}
	return words
}

// split transliterates to plain letters and cuts at everything else.
func split(text string) []string {
	plain := strings.ToLower(unidecode.Unidecode(text))
	plain = strings.NewReplacer("'", "", "’", "").Replace(plain)
	return strings.FieldsFunc(plain, func(r rune) bool { return !portable(r) || r == '-' })
}

func join(section string, words []string) string {
	if section != "" {
		words = append([]string{section}, words...)
	}
	name := strings.Join(words, "-")
	if len(name) > MaxLength {
		name = name[:MaxLength]
		if cut := strings.LastIndexByte(name, '-'); cut > len(section) {
			name = name[:cut]
		}
	}
	return strings.Trim(name, "-")
}

// trimSection takes the section off the front of text, however it is joined.
func trimSection(text, section string) string {
	if len(text) < len(section) || !strings.EqualFold(text[:len(section)], section) {
		return text
	}
	rest := text[len(section):]
	trimmed := strings.TrimLeft(rest, " -_.,")
	if rest != "" && trimmed == rest {
		return text // the section's letters only begin a longer word
	}
	return trimmed
}

// stem takes off what looks like an extension of a picture.
func stem(name string) string {
	return extension.ReplaceAllString(strings.TrimSpace(name), "")
}

var extension = regexp.MustCompile(`(?i)\.(?:jpe?g|png|gif|webp|avif|hei[cf]|bmp|tiff?|svg|txt)$`)

func portable(r rune) bool { return r >= 'a' && r <= 'z' || r >= '0' && r <= '9' || r == '-' }

// strangers lists the characters that may not stand in a name, each once.
func strangers(name string) string {
	var seen []string
	for _, r := range strings.ToLower(name) {
		if s := string(r); !portable(r) && !strings.ContainsRune(" \t\u00a0", r) && !slices.Contains(seen, s) {
			seen = append(seen, s)
		}
	}
	return strings.Join(seen, " ")
}

func onlyIdle(name, section string) bool {
	words := split(trimSection(name, section))
	if len(words) == 0 {
		return false
	}
	for _, w := range words {
		if !idle[w] && strings.Trim(w, "0123456789") != "" {
			return false
		}
	}
	for _, w := range words {
		if idle[w] {
			return true
		}
	}
	return false
}
