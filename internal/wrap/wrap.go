// Package wrap breaks the long lines of templates where a line break means what a space
// does: between the attributes of a tag, between the words of a text and between those of
// an action.
package wrap

import (
	"strings"
	"unicode/utf8"
)

// Most is the most characters of a line.
const Most = 119

// place is where in a template a character stands.
type place struct {
	action bool   // between {{ and }}
	aside  bool   // in an action that is a comment
	inner  byte   // the quote that is open in an action; 0 for none
	tag    bool   // between < and >
	value  byte   // the quote that is open in a tag; 0 for none
	whole  string // the element whose spaces count that it stands in; "" for none
}

// spaced are elements in which a line break is another thing than a space.
var spaced = []string{"pre", "textarea", "script", "style"}

// step returns the place after what begins at i, and how many bytes that is.
func (p place) step(text string, i int) (place, int) {
	c, rest := text[i], text[i:]
	switch {
	case p.action && p.inner != 0:
		if c == p.inner {
			p.inner = 0
		}
	case p.action && !p.aside && (c == '"' || c == '`'):
		p.inner = c
	case p.action && p.aside:
		p.aside = !strings.HasPrefix(rest, "*/")
	case p.action:
		if strings.HasPrefix(rest, "}}") {
			p.action = false
			return p, 2
		}
	case strings.HasPrefix(rest, "{{"):
		p.action, p.aside = true, strings.HasPrefix(strings.TrimLeft(rest[2:], "- "), "/*")
		return p, 2
	case p.tag && p.value != 0:
		if c == p.value {
			p.value = 0
		}
	case p.tag && (c == '"' || c == '\''):
		p.value = c
	case p.tag:
		p.tag = c != '>'
	case p.whole != "" && !strings.HasPrefix(rest, "</"+p.whole):
	case c == '<':
		p.tag, p.whole = true, ""
		for _, e := range spaced {
			if strings.HasPrefix(rest[1:], e+" ") || strings.HasPrefix(rest[1:], e+">") {
				p.whole = e
			}
		}
	}
	return p, 1
}

// over returns the place after text.
func (p place) over(text string) place {
	for i := 0; i < len(text); {
		var n int
		p, n = p.step(text, i)
		i += n
	}
	return p
}

// free reports whether a space there may be a line break.
func (p place) free() bool {
	if p.action {
		return p.inner == 0 && !p.aside
	}
	return p.value == 0 && (p.tag || p.whole == "")
}

// Template returns a template whose lines are broken where they are longer than [Most] and
// may be. A line that may be broken nowhere stays.
func Template(text string) string {
	var out []string
	var at place
	for _, line := range strings.Split(text, "\n") {
		indent := line[:len(line)-len(strings.TrimLeft(line, " "))] + "  "
		for utf8.RuneCountInString(line) > Most {
			i := last(line, at)
			if i < 0 {
				break
			}
			at = at.over(line[:i])
			out, line = append(out, line[:i]), indent+line[i+1:]
		}
		at = at.over(line)
		out = append(out, line)
	}
	return strings.Join(out, "\n")
}

// last finds the space that a line is broken at: the last one within [Most] characters
// between attributes, or else between words, or else in an action; otherwise the first that
// there is. It returns -1 where there is none.
func last(line string, at place) int {
	tag, text, action, late := -1, -1, -1, -1
	lead := len(line) - len(strings.TrimLeft(line, " "))
	for i := 0; i < len(line); {
		if line[i] == ' ' && i > lead && at.free() {
			switch {
			case utf8.RuneCountInString(line[:i]) > Most:
				if late < 0 {
					late = i
				}
			case at.action:
				action = i
			case at.tag:
				tag = i
			default:
				text = i
			}
		}
		var n int
		at, n = at.step(line, i)
		i += n
	}
	for _, at := range []int{tag, text, action} {
		if at > Most/3 {
			return at
		}
	}
	if early := max(tag, text, action); early >= 0 {
		return early
	}
	return late
}
