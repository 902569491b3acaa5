package rules

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"
)

// Change is one difference between two versions of the rules.
type Change struct {
	At   string // path, such as /slots/side/rule/fixed
	What string // in words, such as “Slot Side picture, fixed width”
	From string // empty where it is new
	To   string // empty where it is gone
}

// String writes the change in one line.
func (c Change) String() string {
	switch {
	case c.From == "":
		return fmt.Sprintf("%s: new, %s", c.What, c.To)
	case c.To == "":
		return fmt.Sprintf("%s: taken out, was %s", c.What, c.From)
	}
	return fmt.Sprintf("%s: %s → %s", c.What, c.From, c.To)
}

// Compare lists what differs between two versions, in the order of the document.
func Compare(from, to Rules) []Change {
	a, b := leavesOf(from), leavesOf(to)
	var all []Change
	for _, path := range union(a.order, b.order) {
		va, vb := a.values[path], b.values[path]
		if va == vb {
			continue
		}
		all = append(all, Change{path, inWords(path, from, to), va, vb})
	}
	return wholes(all, a, b)
}

// leaves are the values of a document by their paths.
type leaves struct {
	order  []string
	values map[string]string
}

func leavesOf(r Rules) leaves {
	var doc any
	if err := json.Unmarshal(r.Encode(), &doc); err != nil {
		panic(err) // just written
	}
	l := leaves{values: map[string]string{}}
	l.walk("", doc)
	slices.Sort(l.order)
	return l
}

func (l *leaves) walk(path string, v any) {
	switch v := v.(type) {
	case map[string]any:
		for k, inner := range v {
			l.walk(path+"/"+k, inner)
		}
		return
	case []any:
		if len(v) > 0 && keyOf(v[0]) != "" {
			var keys []string
			for _, inner := range v {
				l.walk(path+"/"+keyOf(inner), inner)
				keys = append(keys, keyOf(inner))
			}
			l.put(path+"/", strings.Join(keys, ", ")) // their order
			return
		}
		parts := make([]string, len(v))
		for i, inner := range v {
			parts[i] = fmt.Sprint(inner)
		}
		l.put(path, strings.Join(parts, ", "))
		return
	}
	l.put(path, valueText(v))
}

func (l *leaves) put(path, text string) {
	l.order = append(l.order, path)
	l.values[path] = text
}

func valueText(v any) string {
	switch v := v.(type) {
	case bool:
		if v {
			return "yes"
		}
		return "no"
	case float64:
		if v == float64(int64(v)) {
			return fmt.Sprint(int64(v))
		}
	case string:
		if v == "" {
			return "nothing"
		}
	}
	return fmt.Sprint(v)
}

func union(a, b []string) []string {
	all := slices.Concat(a, b)
	slices.Sort(all)
	return slices.Compact(all)
}

// wholes tells an element that is new or gone once, and not value by value.
func wholes(all []Change, a, b leaves) []Change {
	elements := func(l leaves) map[string]bool {
		m := map[string]bool{}
		for path, keys := range l.values {
			if list, ok := strings.CutSuffix(path, "/"); ok {
				for _, k := range strings.Split(keys, ", ") {
					m[list+"/"+k] = true
				}
			}
		}
		return m
	}
	was, is := elements(a), elements(b)
	var out []Change
	told := map[string]bool{}
	for _, c := range all {
		if strings.HasSuffix(c.At, "/") {
			if sameKeys(c.From, c.To) {
				c.What += ", their order"
				out = append(out, c)
			}
			continue
		}
		element := elementOf(c.At, was, is)
		if element == "" || was[element] == is[element] {
			out = append(out, c)
			continue
		}
		if !told[element] {
			told[element] = true
			what, _, _ := strings.Cut(c.What, ",")
			if is[element] {
				out = append(out, Change{element, what, "", "added"})
			} else {
				out = append(out, Change{element, what, "there", ""})
			}
		}
	}
	return out
}

func sameKeys(a, b string) bool {
	x, y := strings.Split(a, ", "), strings.Split(b, ", ")
	slices.Sort(x)
	slices.Sort(y)
	return slices.Equal(x, y)
}

func elementOf(path string, maps ...map[string]bool) string {
	for p := path; p != ""; p = p[:strings.LastIndexByte(p, '/')] {
		for _, m := range maps {
			if m[p] {
				return p
			}
		}
	}
	return ""
}

// fieldWords are the words for the last parts of a path.
var fieldWords = map[string]string{
	"house": "name of the house", "cap": "widest", "breaks": "breaks", "padding": "outer padding", "gutter": "gutter", "column_padding": "padding inside columns",
	"spacing": "steps of air", "shares": "shares", "order": "order on a phone", "title": "title", "purpose": "purpose", "pattern": "column plan", "column": "column",
	"fixed": "width", "percent": "percent of the column", "width": "width", "height": "height", "inside": "whole picture inside", "buffer": "buffer",
	"densities": "densities", "budget": "byte budget", "formats": "formats", "fixed_ratio": "ratio fixed", "do": "what is done", "to": "converted to", "say": "sentence",
	"bytes": "bytes", "extension": "extension", "side": "longest side", "pixels": "most pixels", "bin_days": "days in the bin", "frames": "most frames", "frame_pixels": "most pixels of all frames", "cache_hours": "hours that browsers keep a picture", "air": "air", "line": "line",
	"line_colour": "colour of the line", "link": "link", "enlarged": "enlarged size", "keep": "what may stay inside a cut", "lighter": "lighter files beside JPEG", "inline": "styles inside the HTML",
	"cut_mark": "how addresses change", "joiner": "joiner", "case": "letters", "longest": "longest name", "never": "words never wanted", "required": "required", "form": "form", "start": "first number",
	"language": "language", "longest_alt": "longest alt text", "longest_caption": "longest caption", "credit_asked": "credit asked", "consent_asked": "consent asked",
	"colour": "colour of veils", "leave_face": "faces are not looked for", "faces_stop": "uncovered faces stop", "watch": "words to watch for",
	"sign": "sign", "folder": "folder", "unused_days": "days until unused pictures are thrown away", "phone": "on phones", "tablet": "on tablets", "desktop": "on desktops", "patterns": "column plans", "slots": "slots", "types": "types", "sections": "sections", "categories": "categories", "was": "joined to it", "shape": "proportions", "parts": "parts",
	"spots": "spots", "text_sizes": "text sizes", "lead": "lead", "small": "small text", "note": "note", "time_zone": "time zone", "phone_width": "width on phones", "phone_height": "height on phones", "where": "place on pages", "on": "pages", "turn": "how banners share it", "empty": "what shows when nothing runs",
}

// inWords says what a path is about.
func inWords(path string, versions ...Rules) string {
	steps := strings.Split(strings.Trim(path, "/"), "/")
	lead, rest := "", steps
	switch {
	case len(steps) > 1 && steps[0] == "slots":
		lead, rest = "Slot "+titleIn(versions, func(r Rules) (string, bool) { s, ok := r.Slot(steps[1]); return s.Title, ok }, steps[1]), steps[2:]
	case len(steps) > 2 && steps[1] == "patterns":
		lead, rest = "Column plan "+titleIn(versions, func(r Rules) (string, bool) { p, ok := r.Pattern(steps[2]); return p.Title, ok }, steps[2]), steps[3:]
	case len(steps) > 1 && steps[0] == "sections":
		lead, rest = "Section "+titleIn(versions, func(r Rules) (string, bool) { s, ok := r.Section(steps[1]); return s.Title, ok }, steps[1]), steps[2:]
	case len(steps) > 1 && steps[0] == "spots":
		lead, rest = "Spot "+titleIn(versions, func(r Rules) (string, bool) { s, ok := r.Spot(steps[1]); return s.Title, ok }, steps[1]), steps[2:]
	case len(steps) > 1 && steps[0] == "categories":
		lead, rest = "Category "+titleIn(versions, func(r Rules) (string, bool) { c, ok := r.Category(steps[1]); return c.Title, ok }, steps[1]), steps[2:]
	case len(steps) > 2 && steps[0] == "types":
		kind := steps[1] + "/" + steps[2]
		lead, rest = "Type "+titleIn(versions, func(r Rules) (string, bool) { t, ok := r.Type(kind); return t.Title, ok }, kind), steps[3:]
	case steps[0] == "page":
		lead, rest = "Page", steps[1:]
	case len(steps) > 2 && steps[1] == "parts":
		lead, rest = "Part "+steps[2]+" of names", steps[3:]
	case len(steps) > 1:
		lead, rest = map[string]string{"limits": "Limits", "placing": "Placing", "naming": "Names", "words": "Words", "hiding": "Hiding", "text_sizes": "Text sizes"}[steps[0]], steps[1:]
	}
	var words []string
	for _, s := range rest {
		if w := fieldWords[s]; w != "" {
			words = append(words, w)
		}
	}
	text := strings.Join(words, " ")
	switch {
	case lead == "":
		return strings.ToUpper(text[:1]) + text[1:]
	case text == "":
		return lead
	}
	return lead + ", " + text
}

func titleIn(versions []Rules, find func(Rules) (string, bool), otherwise string) string {
	for _, r := range versions {
		if t, ok := find(r); ok {
			return t
		}
	}
	return otherwise
}
