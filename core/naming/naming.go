// Package naming checks names of pictures against the convention of a house and
// proposes names that follow it: an ordered row of parts, such as the section,
// what the picture shows and a number, as in juniors-first-launch-2. The
// extension is never part of a name; it comes from what the file is.
package naming

import (
	"fmt"
	"regexp"
	"slices"
	"strings"
)

// Problem is one way in which a name breaks the convention.
type Problem struct {
	Code   Code
	Values []any // what it is about, in the order that the code tells
}

// Check returns every way in which a name breaks the convention, most telling
// first. A good name gives nil. Of the clues the section, the other sections
// and the dates count.
func (c Convention) Check(name string, k Clues) []Problem {
	var ps []Problem
	add := func(code Code, values ...any) { ps = append(ps, Problem{code, values}) }
	if strings.TrimSpace(name) == "" {
		add(Empty)
		return ps
	}
	c.checkLetters(name, add)
	if reserved.MatchString(name) {
		add(ReservedName, name)
	}
	words := c.Words(name)
	rest := c.checkSection(words, k, add)
	c.checkParts(words, add)
	c.checkSubject(name, c.bare(rest, Clues{Taken: k.Taken}), add)
	if n := len([]rune(name)); n > c.Longest {
		add(TooLong, n, c.Longest)
	}
	// What hides everything else comes first.
	slices.SortStableFunc(ps, func(a, b Problem) int { return rank(a.Code) - rank(b.Code) })
	return ps
}

func rank(code Code) int {
	if code == CameraName {
		return 0
	}
	return 1
}

// smallBegins matches a word that begins with a small letter.
var smallBegins = regexp.MustCompile(`(?:^|[^A-Za-z])[a-z]`)

func (c Convention) checkLetters(name string, add func(code Code, values ...any)) {
	joiner := c.Joiner
	if joiner == "" {
		joiner = "-"
	}
	if strings.ContainsAny(name, " \t\u00a0") {
		add(c.spaces())
	}
	if bad := c.strangers(name); bad != "" {
		add(Symbol, bad, joiner)
	}
	if c.Case == Lower && name != strings.ToLower(name) {
		add(SmallLetters)
	}
	if c.Case == Capitals && smallBegins.MatchString(name) {
		add(Capitalised, c.write(c.Words(name)))
	}
	if strings.HasPrefix(name, joiner) || strings.HasSuffix(name, joiner) || strings.Contains(name, joiner+joiner) || strings.HasPrefix(name, "-") || strings.HasSuffix(name, ".") {
		add(Hyphens, joiner)
	}
}

// spaces tells of spaces by what separates words instead.
func (c Convention) spaces() Code {
	switch {
	case c.Case == Capitals:
		return SpaceCapitals
	case c.Joiner == "_":
		return SpaceUnderscores
	}
	return Space
}

// strangers lists the characters that may not stand in a name, each once. A
// hyphen may, as dates have it.
func (c Convention) strangers(name string) string {
	var seen []string
	for _, r := range name {
		s := string(r)
		if letterOrDigit(r) || s == c.Joiner || r == '-' && (c.Joiner != "_" || c.hasDate()) || strings.ContainsRune(" \t\u00a0", r) || slices.Contains(seen, s) {
			continue
		}
		seen = append(seen, s)
	}
	return strings.Join(seen, " ")
}

func (c Convention) hasDate() bool {
	return slices.ContainsFunc(c.Parts, func(p Part) bool { return p.Required && (p.Kind == Taken || p.Kind == Today) })
}

// checkSection wants the section where the convention has it, and returns the
// words without it.
func (c Convention) checkSection(words []string, k Clues, add func(code Code, values ...any)) []string {
	if k.Section == "" || !c.wants(Section) {
		rest, _ := without(words, c.Words(k.Section), true)
		return rest
	}
	section := c.Words(k.Section)
	first := c.Parts[0].Kind == Section
	rest, there := without(words, section, first)
	switch {
	case there || !first && strings.Contains(strings.Join(words, " "), strings.Join(section, " ")):
		return rest
	case len(words) > 0 && k.another(words[0]):
		add(OtherSection, words[0], c.write(section)+c.Joiner)
	default:
		add(NeedsSection, c.write(section)+c.Joiner)
	}
	return words
}

// dateShapes match a date of each form among words that hyphens join.
var dateShapes = func() map[string]*regexp.Regexp {
	shapes := map[string]*regexp.Regexp{}
	digit := regexp.MustCompile(`\d`)
	for _, form := range DateForms {
		shapes[form] = regexp.MustCompile(`(?:^|-)` + digit.ReplaceAllString(form, `\d`) + `(?:$|-)`)
	}
	return shapes
}()

// checkParts wants the dates and numbers that are required.
func (c Convention) checkParts(words []string, add func(code Code, values ...any)) {
	joined := strings.ToLower(strings.Join(words, "-"))
	for _, p := range c.Parts {
		if !p.Required {
			continue
		}
		switch p.Kind {
		case Taken, Today:
			if shape, ok := dateShapes[p.Form]; (!ok || !shape.MatchString(joined)) && !slices.Contains(strings.Split(joined, "-"), undated) {
				add(NeedsDate, p.Form)
			}
		case Number:
			if !regexp.MustCompile(fmt.Sprintf(`(?:^|-|[a-z])\d{%d,}(?:$|-)`, p.Width)).MatchString(joined) {
				add(NeedsNumber, p.Width)
			}
		}
	}
}

func (c Convention) checkSubject(name string, rest []string, add func(code Code, values ...any)) {
	if FromCamera(name) || cameraWords(rest) {
		add(CameraName, name)
	}
	switch {
	case len(rest) == 0:
		add(NeedsSubject)
	case c.idle(rest):
		add(IdleWords)
	}
}

// idle reports whether words are such as fit any picture.
func (c Convention) idle(words []string) bool {
	found := false
	for _, w := range words {
		never := slices.Contains(c.Never, strings.ToLower(w))
		found = found || never
		if !never && strings.Trim(w, "0123456789") != "" {
			return false
		}
	}
	return found
}
