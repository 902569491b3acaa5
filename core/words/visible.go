package words

import (
	"strings"
	"unicode"

	"golang.org/x/text/unicode/norm"
)

// Visible takes out of a text what nobody sees and what can make it read otherwise than
// it is: control characters other than line ends and tabs, marks that turn the direction
// of writing (Unicode Standard Annex #9, 2: LRM, RLM, ALM, embeddings, overrides and
// isolates), byte order marks and other invisible format characters. Those that join or
// part letters stay, as some scripts need them. What is left is composed (NFC) and
// trimmed.
func Visible(text string) string {
	text = strings.Map(func(r rune) rune {
		switch {
		case r == '\n' || r == '\t':
			return r
		case r == '\u200c' || r == '\u200d': // joins or parts letters
			return r
		case unicode.IsControl(r), unicode.Is(unicode.Cf, r), r == unicode.ReplacementChar:
			return -1
		}
		return r
	}, strings.ToValidUTF8(strings.ReplaceAll(text, "\r\n", "\n"), ""))
	return strings.TrimSpace(norm.NFC.String(text))
}

// VisibleLine is Visible for what stands on one line: of at most so many characters.
func VisibleLine(text string, most int) string {
	line := strings.Join(strings.Fields(Visible(text)), " ")
	if r := []rune(line); len(r) > most {
		line = strings.TrimSpace(string(r[:most]))
	}
	return line
}
