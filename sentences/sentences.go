// Package sentences says in words what core only names: findings, and what would fix them.
// Each language is one file; English is complete.
package sentences

import (
	"fmt"
	"strings"

	"mivlet/core/audit"
	"mivlet/core/rules"
)

// language is what a language says. A sentence may have two forms parted by a bar: for a
// first value of one, and for any other.
type language struct {
	findings map[audit.Code]string
	fixes    map[audit.Mending]string
}

// Of says a finding.
func Of(f audit.Finding) string {
	form, ok := english.findings[f.Code]
	if !ok {
		return string(f.Code)
	}
	return say(form, f.Values)
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
