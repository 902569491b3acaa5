package postgres

import (
	"fmt"
	"strings"

	"mivlet/store/relational"
)

// highest is the last place in a text that is told apart (PostgreSQL, 12.11).
const highest = 16383

// vectorOf is what a picture is found by, as PostgreSQL writes it (PostgreSQL, 8.11.1): each word with its
// place and the label of what it stands in.
func vectorOf(f relational.Findable) string {
	var b strings.Builder
	n := 0
	for _, part := range []struct{ text, label string }{{f.Name, "A"}, {f.Words, "B"}, {f.Tags, "C"}, {f.Credit, "D"}, {f.Folder, "D"}, {f.Former, "D"}} {
		for _, word := range relational.Words(part.text) {
			n++
			fmt.Fprintf(&b, "'%s':%d%s ", word, min(n, highest), part.label)
		}
	}
	return b.String()
}

// queryOf asks for all of some words, or what begins with them.
func queryOf(words []string) string {
	var all []string
	for _, word := range words {
		all = append(all, "'"+word+"':*")
	}
	return strings.Join(all, " & ")
}
