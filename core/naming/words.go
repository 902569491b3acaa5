package naming

import (
	"regexp"
	"strings"
	"unicode"
)

// camera matches what cameras, phones and screen captures call their files:
// DCF names of four letters and four digits (JEITA CP-3461) and common practice.
var camera = regexp.MustCompile(`(?i)^(?:[a-z_]{3,4}_?\d{3,6}|p\d{7}|img[-_ ]?\d+.*|dsc[-_ nf]?\d+.*|dcim.*|mvc-?\d+|pict?\d+|screen[-_ ]?shot.*|screenshot.*|bildschirmfoto.*|whatsapp.*|\d{8}[-_]\d{6}.*|(?:image|photo|picture|bild|untitled|scan|unnamed|download)[-_ ]*\(?\d*\)?)$`)

// reserved are names that widely used systems refuse, with any extension.
var reserved = regexp.MustCompile(`(?i)^(?:con|prn|aux|nul|com[1-9]|lpt[1-9])$`)

// Reserved reports whether a file name means a device on some widely used systems,
// whatever its extension, so that no file of that name could be kept there.
func Reserved(name string) bool {
	base, _, _ := strings.Cut(name, ".")
	return reserved.MatchString(strings.TrimSpace(base))
}

// small words carry nothing at the end of a shortened name.
var small = map[string]bool{
	"a": true, "an": true, "the": true, "of": true, "in": true, "on": true, "at": true, "and": true, "with": true,
	"to": true, "by": true, "for": true, "from": true, "is": true, "are": true, "his": true, "her": true, "their": true, "its": true,
}

// FromCamera reports whether a name, with or without extension, is one that a
// camera, a phone or a screen capture gives.
func FromCamera(name string) bool { return camera.MatchString(stem(name)) }

// stem takes off what looks like an extension of a picture.
func stem(name string) string {
	return extension.ReplaceAllString(strings.TrimSpace(name), "")
}

var extension = regexp.MustCompile(`(?i)\.(?:jpe?g|png|gif|webp|avif|hei[cf]|bmp|tiff?|svg|txt|pdf)$`)

func letterOrDigit(r rune) bool {
	return r >= 'a' && r <= 'z' || r >= 'A' && r <= 'Z' || r >= '0' && r <= '9'
}

// Words cuts a text into words as the convention writes them.
func (c Convention) Words(text string) []string {
	written, _ := c.plain(text)
	fields := strings.FieldsFunc(written, func(r rune) bool { return !letterOrDigit(r) })
	switch c.Case {
	case AsTyped:
		return fields
	case Capitals:
		var all []string
		for _, f := range fields {
			all = append(all, atCapitals(f)...)
		}
		return mergeLetters(all)
	}
	for i := range fields {
		fields[i] = strings.ToLower(fields[i])
	}
	return fields
}

// atCapitals cuts where a capital begins a word, and between letters and
// digits: GPSPosition2 → gps, position, 2.
func atCapitals(s string) []string {
	var words []string
	from := 0
	for i := 1; i < len(s); i++ {
		before, here := rune(s[i-1]), rune(s[i])
		lowerNext := i+1 < len(s) && unicode.IsLower(rune(s[i+1]))
		switch {
		case unicode.IsDigit(before) != unicode.IsDigit(here),
			unicode.IsUpper(here) && (unicode.IsLower(before) || lowerNext):
			words = append(words, strings.ToLower(s[from:i]))
			from = i
		}
	}
	return append(words, strings.ToLower(s[from:]))
}

// mergeLetters joins single letters that stand beside each other: two capitals
// in a row would be read as one word.
func mergeLetters(words []string) []string {
	var out []string
	single := func(s string) bool { return len(s) == 1 && s[0] >= 'a' && s[0] <= 'z' }
	run := false
	for _, w := range words {
		if single(w) && run {
			out[len(out)-1] += w
			continue
		}
		run = single(w)
		out = append(out, w)
	}
	return out
}

// write joins the words of one part as the convention has it.
func (c Convention) write(words []string) string {
	if c.Case != Capitals {
		return strings.Join(words, c.Joiner)
	}
	var b strings.Builder
	for _, w := range words {
		b.WriteString(strings.ToUpper(w[:1]) + w[1:])
	}
	return b.String()
}

func allDigits(words []string) bool {
	for _, w := range words {
		if strings.Trim(w, "0123456789") != "" {
			return false
		}
	}
	return true
}

// without takes a row of words out of another one: the first place it stands in
// where front is asked for, else the last. It reports whether it was there.
func without(words, row []string, front bool) ([]string, bool) {
	if len(row) == 0 || len(row) > len(words) {
		return words, false
	}
	at := len(words) - len(row)
	if front {
		at = 0
	}
	for i, w := range row {
		if !strings.EqualFold(words[at+i], w) {
			return words, false
		}
	}
	if front {
		return words[len(row):], true
	}
	return words[:at], true
}
