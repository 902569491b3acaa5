// Package sentences says in words what core only names: findings, and what would fix them.
// Each language is one file; English is complete.
package sentences

import (
	"cmp"
	"fmt"
	"strings"

	"mivlet/core/audit"
	"mivlet/core/banner"
	"mivlet/core/naming"
	"mivlet/core/private"
	"mivlet/core/rules"
	"mivlet/core/survey"
	"mivlet/core/words"
)

// language is what a language says. A sentence may have two forms parted by a bar: for a
// first value of one, and for any other.
type language struct {
	findings map[audit.Code]string
	fixes    map[audit.Mending]string
	remarks  map[words.Code]remark
	problems map[naming.Code]string
	survey   map[survey.Code]remark
	kinds    map[survey.Code]string
	tells    map[private.Kind]string

	banners    map[banner.Fault]string
	conditions map[banner.Code]condition
	// What is said of a condition in a special case.
	occasionOver, spotNotPut, heldForGood string
	house                                 string // as the owner of a page
	yesterday, today, tomorrow            string
}

// remark is what is said of words, and an example of how they could be; "" for none.
type remark struct{ text, example string }

// Of says a finding.
func Of(f audit.Finding) string {
	if f.Code == audit.Said {
		switch of := f.Values[0].(type) {
		case words.Remark:
			return Remark(of)
		case naming.Problem:
			return Problem(of)
		}
	}
	form, ok := english.findings[f.Code]
	if !ok {
		return string(f.Code)
	}
	return say(form, f.Values)
}

// Remark says what falls short in words.
func Remark(r words.Remark) string { return say(english.remarks[r.Code].text, r.Values) }

// Surveyed says what is wrong with a site that was made elsewhere, and the way out; that may be empty.
func Surveyed(f survey.Finding) (what, way string) {
	if code, of := strings.CutPrefix(string(f.Code), "alt-"); of && f.Code != survey.NoAlt {
		r := words.Remark{Code: words.Code(code), Values: f.Values}
		return Remark(r), Example(r)
	}
	if f.Code == survey.Readable {
		f.Values = []any{tellsListed(f.Values)}
	}
	said := english.survey[f.Code]
	what = say(said.text, f.Values)
	if near := nearest(f); near != "" {
		return what, "Perhaps " + near + " is meant."
	}
	return what, say(said.example, f.Values)
}

// tellsListed names kinds of what tells of people, as the beginning of a sentence.
func tellsListed(kinds []any) string {
	var all []string
	for _, k := range kinds {
		name, _ := k.(string)
		all = append(all, cmp.Or(english.tells[private.Kind(name)], "something private"))
	}
	text := words.Listed(all)
	if text == "" {
		return "Something private"
	}
	return strings.ToUpper(text[:1]) + text[1:]
}

// SurveyedKind is what findings with a code are called together.
func SurveyedKind(code survey.Code) string {
	if title := english.kinds[code]; title != "" {
		return title
	}
	what, _ := Surveyed(survey.Finding{Code: code})
	return what
}

// nearest is the file that a broken address may mean; empty where there is none.
func nearest(f survey.Finding) string {
	if f.Code != survey.BrokenPicture && f.Code != survey.BrokenLink || len(f.Values) < 2 {
		return ""
	}
	near, _ := f.Values[1].(string)
	return near
}

// Problem says what is wrong with a name.
func Problem(p naming.Problem) string { return say(english.problems[p.Code], p.Values) }

// Example shows how words could be that a remark is about; empty where what is said tells it.
func Example(r words.Remark) string { return say(english.remarks[r.Code].example, r.Values) }

// ExampleOf is Example for a finding; empty where it is not about words.
func ExampleOf(f audit.Finding) string {
	if f.Code == audit.Said {
		if r, ok := f.Values[0].(words.Remark); ok {
			return Example(r)
		}
	}
	return ""
}

// Fix says on a button what would fix a finding. Slots are called as the house calls them.
func Fix(f audit.OnPage, house rules.Rules) string {
	value := any(f.Mend.Value)
	if f.Mend.Do == audit.SetSlot {
		if s, ok := house.Slot(f.Mend.Value); ok {
			value = s.Title
		}
	}
	return say(english.fixes[f.Mend.Do], []any{value})
}

func say(form string, values []any) string {
	if one, many, both := strings.Cut(form, "|"); both {
		form = many
		if len(values) > 0 && values[0] == 1 {
			form = one
		}
	}
	if !strings.Contains(form, "%") {
		return form
	}
	return fmt.Sprintf(form, values...)
}
