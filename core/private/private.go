// Package private finds what tells of a person in a text, by its shape and by what stands
// beside it: telephone numbers, e-mail addresses, number plates, streets, names. One judge
// serves alt texts, captions, file names, what a camera wrote, and what is read in a
// picture.
//
// It is no proof that a text is harmless: a name that nobody watches for is not found.
package private

import (
	"cmp"
	"regexp"
	"slices"
	"strings"
	"sync"
)

// Kind is what a part of a text tells.
type Kind string

// The kinds.
const (
	Phone   Kind = "phone"
	Email   Kind = "email"
	Plate   Kind = "plate"
	Street  Kind = "street"
	Name    Kind = "name"
	Watched Kind = "watched" // a word that the house watches for
)

// Tell is one part of a text that tells of a person.
type Tell struct {
	Kind     Kind
	Text     string
	From, To int // bytes of the text
}

// rule finds a kind. The part that tells is its last group, or all of it.
type rule struct {
	kind  Kind
	shape *regexp.Regexp
	also  func(string) bool // what must hold besides; nil for nothing
}

// rules are made when the first text is judged: a program that judges none starts without them.
var rules = sync.OnceValue(func() []rule {
	return []rule{
		// RFC 5322 allows more; this is what people write.
		{Email, regexp.MustCompile(`(?i)[a-z0-9._%+-]+@[a-z0-9-]+(?:\.[a-z0-9-]+)+`), nil},
		// With its country: a plus, and up to fifteen digits (ITU-T E.164).
		{Phone, regexp.MustCompile(`\+\d[\d ./()-]{6,22}\d`), between(8, 15)},
		// Within a country: a zero and its area, or three, three and four digits.
		{Phone, regexp.MustCompile(`(?:^|[^\d.,-])(\(?0\d[\d ()/-]{6,18}\d)`), between(9, 13)},
		{Phone, regexp.MustCompile(`(?:^|[^\d.,-])(\(?[2-9]\d{2}\)?[ .-]\d{3}[ .-]\d{4})(?:\D|$)`), nil},
		// After a word that announces one, shorter numbers, too.
		{Phone, regexp.MustCompile(`(?i)\b(?:tel(?:ephone)?|phone|ring|call|mobile|cell|fax|fon|handy|telefon|t[ée]l)\b[^\d+]{0,12}(\+?\d[\d ()/-]{3,18}\d)`), between(5, 15)},
		// Plates as several countries write them (common practice).
		{Plate, regexp.MustCompile(`\b[A-Z]{2}\d{2} ?[A-Z]{3}\b`), nil},
		{Plate, regexp.MustCompile(`\b[A-Z]{2}-\d{3}-[A-Z]{2}\b`), nil},
		{Plate, regexp.MustCompile(`\b[A-ZÄÖÜ]{1,3}-[A-Z]{1,2} ?\d{1,4}\b`), nil},
		{Plate, regexp.MustCompile(`(?i:\b(?:number ?plate|plate|registration|reg|kennzeichen|immatriculation)\b)[^A-Z\d]{0,12}([A-Z]{1,3}[ -]?[A-Z]{0,2}[ -]?\d{1,4}[ -]?[A-Z]{0,3})\b`), nil},
		{Street, regexp.MustCompile(`\b\d{1,4}[a-z]?,? (?:\p{Lu}\p{Ll}+ ){1,3}(?:Street|St|Road|Rd|Lane|Avenue|Ave|Close|Drive|Crescent|Terrace|Way)\b`), nil},
		{Street, regexp.MustCompile(`\b\p{Lu}\p{Ll}+(?:straße|strasse|str\.|weg|gasse|allee|platz) \d{1,4}[a-z]?\b`), nil},
		// What stands beside a word that announces a name.
		{Name, regexp.MustCompile(`(?i:\b(?:first name|last name|surname|full name|name|pupil|student|teacher|coach|parent|contact|signed|schüler(?:in)?|lehrer(?:in)?|nom|prénom))\s*[:=]\s*(\p{Lu}[\p{L}'’-]+(?: \p{Lu}[\p{L}'’-]+){0,3})`), nil},
	}
})

// made makes a shape when it is first asked for.
func made(shape string) func() *regexp.Regexp {
	return sync.OnceValue(func() *regexp.Regexp { return regexp.MustCompile(shape) })
}

// between holds for texts with that many digits, unless they are dates.
func between(least, most int) func(string) bool {
	return func(s string) bool {
		n := 0
		for _, r := range s {
			if r >= '0' && r <= '9' {
				n++
			}
		}
		return n >= least && n <= most && !date().MatchString(s)
	}
}

var date = made(`\b(?:\d{4}[-./]\d{1,2}[-./]\d{1,2}|\d{1,2}[-./ ]\d{1,2}[-./ ](?:19|20)\d{2})\b`)

// Judge returns what a text tells of persons, in its order. watch are the words that the
// house watches for: they are found as whole words, in small and capital letters alike.
func Judge(text string, watch ...string) []Tell {
	var all []Tell
	for _, r := range rules() {
		for _, m := range r.shape.FindAllStringSubmatchIndex(text, -1) {
			from, to := m[len(m)-2], m[len(m)-1]
			if part := text[from:to]; r.also == nil || r.also(part) {
				all = append(all, Tell{r.kind, part, from, to})
			}
		}
	}
	for _, w := range watch {
		if w = strings.TrimSpace(w); len(w) < 2 {
			continue
		}
		for _, m := range word(w).FindAllStringSubmatchIndex(text, -1) {
			all = append(all, Tell{Watched, text[m[2]:m[3]], m[2], m[3]})
		}
	}
	slices.SortStableFunc(all, func(a, b Tell) int { return cmp.Or(cmp.Compare(a.From, b.From), cmp.Compare(b.To, a.To)) })
	// Of two that overlap the earlier and longer one is told.
	var kept []Tell
	for _, t := range all {
		if len(kept) == 0 || t.From >= kept[len(kept)-1].To {
			kept = append(kept, t)
		}
	}
	return kept
}

// Holds reports whether a word stands in a text as a whole word.
func Holds(text, w string) bool { return word(strings.TrimSpace(w)).MatchString(text) }

func word(w string) *regexp.Regexp {
	return regexp.MustCompile(`(?i)(?:^|[^\pL])(` + regexp.QuoteMeta(w) + `)(?:$|[^\pL])`)
}

// What is read in a picture stands alone in its line: there a few letters and digits are a
// plate, and two words with capitals a name.
var (
	alonePlate = made(`^[A-ZÄÖÜ]{1,3}[ ·-]{0,2}[A-Z]{0,2}[ ·-]{0,2}\d{2,4}[ ·-]?[A-Z]{0,3}$`)
	aloneName  = made(`^\p{Lu}\p{Ll}+(?:-\p{Lu}\p{Ll}+)? (?:\p{Lu}\. )?\p{Lu}\p{Ll}+(?:-\p{Lu}\p{Ll}+)?$`)
	noPlate    = made(`^(?:ISO|NO|NR|PAGE|P|ROOM|CLASS|DIN|EN|BS|VAT|PO|AM|PM|CO|KM|MM|CM|KG)\b`)
)

// JudgeLine is Judge for a line that was read in a picture.
func JudgeLine(line string, watch ...string) []Tell {
	line = strings.TrimSpace(line)
	all := Judge(line, watch...)
	if len(all) > 0 {
		return all
	}
	switch {
	case alonePlate().MatchString(line) && !noPlate().MatchString(line) && len(line) >= 5:
		return []Tell{{Plate, line, 0, len(line)}}
	case aloneName().MatchString(line):
		return []Tell{{Name, line, 0, len(line)}}
	}
	return nil
}
