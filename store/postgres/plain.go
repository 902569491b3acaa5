package postgres

import "strings"

// plain are values as PostgreSQL takes them: its text is UTF-8 without the character 0 (PostgreSQL, 8.3), and
// so is what its JSON says (8.14). Both stand in for nothing that anybody wrote: a camera's file may hold them.
func plain(args []any) []any {
	for i, arg := range args {
		if text, ok := arg.(string); ok {
			args[i] = plainText(text)
		}
	}
	return args
}

const instead = "\uFFFD" // Unicode, REPLACEMENT CHARACTER

func plainText(text string) string {
	text = strings.ToValidUTF8(text, instead)
	if strings.Contains(text, "\x00") {
		text = strings.ReplaceAll(text, "\x00", instead)
	}
	if (strings.HasPrefix(text, "{") || strings.HasPrefix(text, "[")) && strings.Contains(text, `\u0000`) {
		text = withoutZeros(text)
	}
	return text
}

// withoutZeros replaces the character 0 as JSON escapes it. A backslash before it may itself be escaped; then
// it is text that looks like it.
func withoutZeros(doc string) string {
	var b strings.Builder
	for i := 0; i < len(doc); i++ {
		if doc[i] != '\\' || i+1 == len(doc) {
			b.WriteByte(doc[i])
			continue
		}
		if strings.HasPrefix(doc[i:], `\u0000`) {
			b.WriteString(instead)
			i += len(`\u0000`) - 1
			continue
		}
		b.WriteString(doc[i : i+2])
		i++
	}
	return b.String()
}
