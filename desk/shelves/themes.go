package shelves

import (
	"strings"

	"mivlet/core/page"
	"mivlet/core/rules"
)

// KeysOfTheme are what a shelf is asked for by what pages are about: a category of the house
// with those that were joined to it, written category:code, or a tag, written tag:word.
// They come a line each, as [store.ShelfQuery] takes them.
func KeysOfTheme(r rules.Rules, theme string) string {
	code, ok := strings.CutPrefix(theme, page.Key(page.OfCategory, ""))
	if !ok {
		return theme
	}
	c, ok := r.Category(code)
	if !ok {
		return theme
	}
	keys := []string{page.Key(page.OfCategory, c.Code)}
	for _, was := range c.Was {
		keys = append(keys, page.Key(page.OfCategory, was))
	}
	return strings.Join(keys, "\n")
}
