package words

import (
	"strings"

	"mivlet/core/private"
)

// codes of each kind of detail that tells of a person. Numbers, addresses and plates hardly
// ever help a listener. (common practice)
var codes = map[private.Kind]Code{
	private.Email:   Email,
	private.Phone:   Phone,
	private.Plate:   Plate,
	private.Street:  Street,
	private.Name:    Name,
	private.Watched: Watched,
}

// checkPrivate finds details of persons in words: what a veil hides must not be told.
func checkPrivate(text string, hidden, watch []string) []Remark {
	var fs []Remark
	for _, name := range hidden {
		if name = strings.TrimSpace(name); len(name) > 1 && private.Holds(text, name) {
			fs = append(fs, Remark{Stop, HiddenName, []any{name}})
		}
	}
	told := map[private.Kind]bool{}
	for _, t := range private.Judge(text, watch...) {
		code, known := codes[t.Kind]
		if !known || told[t.Kind] {
			continue
		}
		told[t.Kind] = true
		fs = append(fs, Remark{Warn, code, []any{t.Text}})
	}
	return fs
}
