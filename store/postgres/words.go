package postgres

import (
	"fmt"
	"strings"
	"unicode"

	"golang.org/x/text/unicode/norm"

	"mivlet/store/relational"
)

// Words are found whatever their case and accents, as SQLite's own tokenizer has it (SQLite, "FTS5
// Extension", 4.3.1: unicode61): they are folded here, and PostgreSQL is told the words themselves, so
// that no language's rules and no setting of the database changes what is found.

// longest is how many bytes of a word count; PostgreSQL takes 2,046 (PostgreSQL, 12.11).
const longest = 200

// highest is the last place in a text that is told apart (PostgreSQL, 12.11).
const highest = 16383

// fold takes case and accents off a word.
func fold(word string) string {
	folded := strings.Map(func(r rune) rune {
		if unicode.Is(unicode.Mn, r) {
			return -1
		}
		return unicode.ToLower(r)
	}, norm.NFD.String(word))
	for len(folded) > longest {
		runes := []rune(folded)
		folded = string(runes[:len(runes)-1-(len(folded)-longest)/4])
	}
	return folded
}

// vectorOf is what a picture is found by, as PostgreSQL writes it (PostgreSQL, 8.11.1): each word with its
// place and the label of what it stands in.
func vectorOf(f relational.Findable) string {
	var b strings.Builder
	n := 0
	for _, part := range []struct{ text, label string }{{f.Name, "A"}, {f.Words, "B"}, {f.Tags, "C"}, {f.Credit, "D"}, {f.Folder, "D"}, {f.Former, "D"}} {
		for _, word := range relational.Words(part.text) {
			if folded := fold(word); folded != "" {
				n++
				fmt.Fprintf(&b, "'%s':%d%s ", folded, min(n, highest), part.label)
			}
		}
	}
	return b.String()
}

// queryOf asks for all of some words, or what begins with them.
func queryOf(words []string) string {
	var all []string
	for _, word := range words {
		if folded := fold(word); folded != "" {
			all = append(all, "'"+folded+"':*")
		}
	}
	return strings.Join(all, " & ")
}
