package access

import (
	"cmp"
	"crypto/rand"
	"fmt"
	"slices"
	"strings"

	"mivlet/store"
)

func Sentence(err error) string {
	text := err.Error()
	return strings.ToUpper(text[:1]) + text[1:] + "."
}

func NewBlock() string { return strings.ToLower(rand.Text()[:10]) }

func NameOr(p store.Picture) string {
	return cmp.Or(p.Work.Name, p.OriginalName)
}

func Count(n int, what string) string {
	if n == 1 {
		return "1 " + what
	}
	return fmt.Sprintf("%d %ss", n, what)
}

func AddOnce(list []string, s string) []string {
	if slices.Contains(list, s) {
		return list
	}
	return append(list, s)
}
