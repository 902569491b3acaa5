package words

import (
	"regexp"
	"strings"
)

// What tells of a person, found by its shape alone.
var (
	email = regexp.MustCompile(`(?i)[a-z0-9._%+-]+@[a-z0-9-]+(?:\.[a-z0-9-]+)+`)
	phone = regexp.MustCompile(`(?:\+\d{1,3}[ .-]?)?(?:\(?0?\d{2,5}\)?[ .-]?)\d{2,4}(?:[ .-]?\d{2,4}){1,3}`)
	plate = regexp.MustCompile(`\b(?:[A-Z]{1,3}[ -][A-Z]{0,2} ?\d{1,4}|[A-Z]{2}\d{2} ?[A-Z]{3}|[A-Z]{2}[ -]\d{3}[ -][A-Z]{2})\b`)
)

// checkPrivate finds details of persons in words: what a veil hides must not be
// told, and numbers, addresses and plates hardly ever help a listener.
func checkPrivate(text string, hidden []string) []Finding {
	var fs []Finding
	for _, name := range hidden {
		if name = strings.TrimSpace(name); len(name) > 1 && containsWord(text, name) {
			fs = append(fs, Finding{Stop, "hidden-name", "A veil hides “" + name + "” in the picture, and the words tell it. (common practice)", "Say what happens without the name."})
		}
	}
	if email.MatchString(text) {
		fs = append(fs, Finding{Warn, "email", "An e-mail address in the words is found by everybody, also by machines. (common practice)", ""})
	}
	if m := phone.FindString(text); digits(m) >= 9 {
		fs = append(fs, Finding{Warn, "phone", "A phone number in the words is found by everybody, also by machines. (common practice)", ""})
	}
	if plate.MatchString(text) {
		fs = append(fs, Finding{Warn, "plate", "That looks like a number plate: it tells whose vehicle it is. (common practice)", "“a white van”"})
	}
	return fs
}

// Private tells what details of persons a text holds: "email", "phone", "plate".
func Private(text string) []string {
	var kinds []string
	for _, f := range checkPrivate(text, nil) {
		kinds = append(kinds, f.Code)
	}
	return kinds
}

func digits(s string) int {
	n := 0
	for _, r := range s {
		if r >= '0' && r <= '9' {
			n++
		}
	}
	return n
}

func containsWord(text, word string) bool {
	return regexp.MustCompile(`(?i)(?:^|[^\pL])` + regexp.QuoteMeta(word) + `(?:$|[^\pL])`).MatchString(text)
}
