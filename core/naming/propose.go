package naming

import (
	"fmt"
	"slices"
	"strings"
	"time"
)

// Clues is what a proposal can be drawn from.
type Clues struct {
	Subject  string // what the editor says it shows
	Typed    string // the name that was typed, or that the file came with
	Alt      string // the description of the picture
	Section  string // code of the section
	Others   []string
	Detail   string
	Place    string
	Slot     string
	Variant  string
	Taken    time.Time // zero where nobody knows
	Today    time.Time
	Number   int    // 0 for none, unless the convention wants one
	Fallback string // last resort, such as a short part of a content hash
	Language string // of the house, BCP 47: how letters are spelled in plain ones
}

// said is what is given for a part that takes its words as they are.
func (k Clues) said(kind Kind) string {
	return map[Kind]string{Detail: k.Detail, Place: k.Place, Slot: k.Slot, Variant: k.Variant}[kind]
}

// another reports whether a word is the code of another section.
func (k Clues) another(word string) bool {
	return slices.ContainsFunc(k.Others, func(o string) bool { return o != k.Section && strings.EqualFold(o, word) })
}

// Proposal is a name with the steps that led to it, in plain words.
type Proposal struct {
	Name  string
	Steps []string
}

func (p *Proposal) step(format string, args ...any) {
	p.Steps = append(p.Steps, fmt.Sprintf(format, args...))
}

// mostWords is how many telling words a subject keeps.
const mostWords = 6

// Propose returns a name that follows the convention, with each step that led
// to it. The subject is drawn from what the editor says, else from the typed
// name, else from the description, else from the day it was taken. Proposing
// from a proposal changes nothing.
func (c Convention) Propose(k Clues) Proposal {
	var p Proposal
	c.language = k.Language
	subject := c.subject(k, &p)
	parts := make([]string, 0, len(c.Parts))
	place := -1 // of the subject among the parts
	for _, part := range c.Parts {
		if part.Kind == Subject {
			place = len(parts)
			parts = append(parts, "")
			continue
		}
		if v := c.value(part, k, &p); v != "" {
			parts = append(parts, v)
		}
	}
	if place < 0 {
		place, parts = 0, append([]string{""}, parts...)
	}
	for {
		parts[place] = c.write(subject)
		p.Name = c.join(parts)
		if len(p.Name) <= c.Longest || len(subject) == 1 {
			break
		}
		p.step("Shortened to %d characters, without “%s”.", c.Longest, subject[len(subject)-1])
		subject = subject[:len(subject)-1]
	}
	if n := len(p.Name) - c.Longest; n > 0 { // one endless word
		parts[place] = strings.TrimRight(parts[place][:max(1, len(parts[place])-n)], "-_")
		p.Name = c.join(parts)
	}
	if reserved.MatchString(p.Name) {
		parts[place] = c.write(append(subject, "view"))
		p.step("“%s” alone is a name that some systems refuse: “view” added.", p.Name)
		p.Name = c.join(parts)
	}
	return p
}

// join puts the parts together. Where nothing joins them, two figures would run
// into each other: a hyphen parts those.
func (c Convention) join(parts []string) string {
	var b strings.Builder
	last := byte(0)
	for _, part := range parts {
		if part == "" {
			continue
		}
		if b.Len() > 0 {
			if c.Joiner != "" {
				b.WriteString(c.Joiner)
			} else if last >= '0' && last <= '9' && part[0] >= '0' && part[0] <= '9' {
				b.WriteByte('-')
			}
		}
		b.WriteString(part)
		last = part[len(part)-1]
	}
	return b.String()
}

// value is what a part other than the subject says; "" leaves it out.
func (c Convention) value(part Part, k Clues, p *Proposal) string {
	switch part.Kind {
	case Section:
		if k.Section == "" {
			return ""
		}
		p.step("The section first: %s.", k.Section)
		return c.write(c.Words(k.Section))
	case Taken, Today:
		return c.date(part, k, p)
	case Number:
		if !part.Required && k.Number == 0 {
			return ""
		}
		n := k.Number
		if n == 0 {
			n = max(part.Start, c.typedNumber(part, k))
		}
		p.step("Number %d.", n)
		return fmt.Sprintf("%0*d", part.Width, n)
	}
	words := c.Words(k.said(part.Kind))
	if len(words) == 0 {
		if !part.Required {
			return ""
		}
		p.step("No %s is given: the word stands for it.", part.Kind)
		words = c.Words(string(part.Kind))
	}
	return c.write(words)
}

// undated stands where a date is required and nobody knows one.
const undated = "undated"

func (c Convention) date(part Part, k Clues, p *Proposal) string {
	if !part.Required {
		return ""
	}
	day, which := k.Taken, "The day it was taken"
	if part.Kind == Today {
		day, which = k.Today, "Today"
	}
	if day.IsZero() {
		p.step("No date is known.")
		return c.write([]string{undated})
	}
	p.step("%s: %s.", which, day.Format("2 January 2006"))
	return day.Format(part.Form)
}

// typedNumber is the number that a typed name ends in, where the convention
// wants one there; 0 for none.
func (c Convention) typedNumber(part Part, k Clues) int {
	words := c.Words(stem(k.Typed))
	if len(words) == 0 {
		return 0
	}
	last := words[len(words)-1]
	n := 0
	if len(last) == part.Width && strings.Trim(last, "0123456789") == "" {
		_, _ = fmt.Sscanf(last, "%d", &n)
	}
	return n
}

// subject finds what the picture shows.
func (c Convention) subject(k Clues, p *Proposal) []string {
	for _, from := range []struct{ text, what string }{{k.Subject, "what you say it shows"}, {stem(k.Typed), "the name it has"}, {k.Alt, "its description"}} {
		if strings.TrimSpace(from.text) == "" {
			continue
		}
		words := c.Words(from.text)
		rest := c.bare(words, k)
		if cameraWords(rest) || FromCamera(from.text) {
			p.step("“%s” is what a camera called it: left out.", from.text)
			continue
		}
		spelled, leftOut := c.plain(from.text)
		if spelled = strings.Join(strings.Fields(spelled), " "); spelled != "" && spelled != unquoted.Replace(from.text) {
			p.step("Letters are spelled in plain ones: %s.", spelled)
		}
		if leftOut {
			p.step("“%s” has letters that cannot be spelled in plain ones: they are left out. Type the name as it sounds.", from.text)
		}
		if told := c.telling(rest, p); len(told) > 0 {
			p.step("Drawn from %s.", from.what)
			return told
		}
	}
	if !k.Taken.IsZero() && !c.wants(Taken) {
		p.step("Nothing says what it shows, so the day it was taken is used.")
		return c.Words(k.Taken.Format("2006-01-02"))
	}
	p.step("Nothing says what it shows.")
	return append(c.Words("unsorted"), c.Words(k.Fallback)...)
}

// wants reports whether a part is required.
func (c Convention) wants(kind Kind) bool {
	return slices.ContainsFunc(c.Parts, func(p Part) bool { return p.Kind == kind && p.Required })
}

// bare takes off the words that other parts of the convention will say.
func (c Convention) bare(words []string, k Clues) []string {
	section := c.Words(k.Section)
	for there := true; there; {
		words, there = without(words, section, true)
	}
	for i := len(c.Parts) - 1; i >= 0; i-- {
		part := c.Parts[i]
		switch part.Kind {
		case Number:
			if n := len(words); part.Required && n > 1 && len(words[n-1]) == part.Width && allDigits(words[n-1:]) {
				words = words[:n-1]
			}
		case Taken, Today:
			if !part.Required {
				continue
			}
			words = withoutDate(words, part.Form)
		case Detail, Place, Slot, Variant:
			text := k.said(part.Kind)
			if text == "" && part.Required {
				text = string(part.Kind)
			}
			words, _ = without(words, c.Words(text), false)
		}
	}
	if len(words) > 1 && k.another(words[0]) {
		words = words[1:] // the section of another
	}
	return words
}

// withoutDate takes a date of a form off the end, or the word that stands for
// one.
func withoutDate(words []string, form string) []string {
	if rest, there := without(words, []string{undated}, false); there {
		return rest
	}
	shape := strings.Split(form, "-")
	if len(words) < len(shape) {
		return words
	}
	rest := len(words) - len(shape)
	for i, piece := range shape {
		if w := words[rest+i]; len(w) != len(piece) || !allDigits([]string{w}) {
			return words
		}
	}
	return words[:rest]
}

// makers are what cameras and phones begin names with.
var makers = map[string]bool{
	"dsc": true, "dscf": true, "dscn": true, "img": true, "imag": true, "cimg": true, "pict": true, "pic": true, "mvc": true, "sam": true, "pxl": true, "gopr": true, "mov": true, "vid": true,
}

// cameraWords reports whether words are what is left of a camera's name.
func cameraWords(words []string) bool {
	switch {
	case len(words) == 0:
		return false
	case camera.MatchString(strings.Join(words, "-")):
		return true
	}
	return makers[strings.ToLower(words[0])] && camera.MatchString(strings.Join(words, ""))
}

// telling keeps up to six words that tell what a picture shows.
func (c Convention) telling(words []string, p *Proposal) []string {
	var kept, idle []string
	for _, w := range words {
		if slices.Contains(c.Never, strings.ToLower(w)) {
			idle = append(idle, w)
			continue
		}
		kept = append(kept, w)
	}
	if len(kept) > mostWords {
		some := kept[:0:0]
		for _, w := range kept {
			if !small[strings.ToLower(w)] {
				some = append(some, w)
			}
		}
		kept = some[:min(mostWords, len(some))]
		p.step("The %d most telling words.", len(kept))
	}
	for len(kept) > 0 && small[strings.ToLower(kept[len(kept)-1])] {
		kept = kept[:len(kept)-1]
	}
	if c.Case == Capitals {
		kept = mergeLetters(kept)
	}
	if allDigits(kept) || cameraWords(kept) {
		return nil
	}
	if len(idle) > 0 {
		p.step("Words that fit any picture left out: %s.", strings.Join(idle, ", "))
	}
	return kept
}
