package relational

import (
	"strings"
	"unicode"

	"golang.org/x/text/unicode/norm"
)

// Words are found whatever their case and accents. They are folded here, so that all databases find the same: the
// tokenizer of one knows Latin accents and no Greek ones, another goes by the language that it was set up with.

// longestWord is how many bytes of a word count.
const longestWord = 200

// Words are the words of a text, folded: runs of letters, digits and their accents. What is no word is left out.
func Words(text string) []string {
	all := strings.FieldsFunc(text, func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsNumber(r) && !unicode.Is(unicode.Mn, r) })
	folded := all[:0]
	for _, word := range all {
		if word = fold(word); word != "" {
			folded = append(folded, word)
		}
	}
	return folded
}

// fold takes case and accents off a word (Unicode Standard Annex 15, canonical decomposition; marks that take no room are
// left out).
func fold(word string) string {
	folded := strings.Map(func(r rune) rune {
		if unicode.Is(unicode.Mn, r) {
			return -1
		}
		return unicode.ToLower(r)
	}, norm.NFD.String(word))
	for len(folded) > longestWord {
		runes := []rune(folded)
		folded = string(runes[:len(runes)-1-(len(folded)-longestWord)/4])
	}
	return folded
}
