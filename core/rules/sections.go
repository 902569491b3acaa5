package rules

import (
	"slices"
	"strings"

	"mivlet/core/naming"
)

// WithSectionTitles returns the rules with sections called as titles say, by their codes, and with
// further ones for more, whose codes follow from their titles. A section whose title is empty goes;
// one that titles does not name stays as it is. It fails with [Faults] where the result breaks a
// rule, such as that no house is without a section.
func (r Rules) WithSectionTitles(titles map[string]string, more []string) (Rules, error) {
	out := *r.clone()
	var all []Section
	for _, s := range out.Sections {
		title, named := titles[s.Code]
		if title = strings.TrimSpace(title); named && title == "" {
			continue
		}
		if named {
			s.Title = title
		}
		all = append(all, s)
	}
	out.Sections = all
	for _, title := range more {
		title = strings.TrimSpace(title)
		if title == "" {
			continue
		}
		code := naming.Identifier(title)
		if slices.ContainsFunc(out.Sections, func(s Section) bool { return s.Code == code }) {
			return r, Faults{{"/sections/" + code, "another section has that code already: call it something else"}}
		}
		out.Sections = append(out.Sections, Section{Code: code, Title: title, Sign: out.freeSign(), Folder: code})
	}
	for _, f := range out.Check() {
		if f.At == "/sections" || strings.HasPrefix(f.At, "/sections/") {
			return r, Faults{f}
		}
	}
	return out, nil
}
