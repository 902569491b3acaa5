package access

import (
	"cmp"
	"crypto/rand"
	"fmt"
	"slices"
	"strings"

	"mivlet/store"
)

// Sentence is an error as a sentence.
func Sentence(err error) string {
	text := err.Error()
	return strings.ToUpper(text[:1]) + strings.TrimSuffix(text[1:], ".") + "."
}

// NewBlock is a random name for a block, a veil or an entry: ten letters and digits.
func NewBlock() string { return strings.ToLower(rand.Text()[:10]) }

// NameOr is what a picture is called: by its name, or by that of its file.
func NameOr(p store.Picture) string {
	return cmp.Or(p.Work.Name, p.OriginalName)
}

// Count is a number of things: "1 page", "3 pages".
func Count(n int, what string) string {
	if n == 1 {
		return "1 " + what
	}
	return fmt.Sprintf("%d %ss", n, what)
}

// AddOnce adds a text to a list that does not hold it yet.
func AddOnce[T comparable](list []T, s T) []T {
	if slices.Contains(list, s) {
		return list
	}
	return append(list, s)
}

// formula are the signs that begin a formula in a table program.
const formula = "=+-@\t\r"

// Guarded is a field of a CSV that no table program takes for a formula (OWASP, CSV Injection,
// memory).
func Guarded(text string) string {
	if text != "" && strings.IndexByte(formula, text[0]) >= 0 {
		return "'" + text
	}
	return text
}

// Unguarded is a field as it was before.
func Unguarded(text string) string {
	if rest, ok := strings.CutPrefix(text, "'"); ok && rest != Guarded(rest) {
		return rest
	}
	return text
}
