package carry

import (
	"html"
	"regexp"
	"strings"
)

// leading are the places of a text, CommonMark or HTML, at which an address stands that is led to.
var leading = regexp.MustCompile(`(\]\(<)([^<>\n]*)(>)|(\]\()([^\s()<>]+)([\s)])|(\bhref\s*=\s*")([^"]*)(")`)

// Links leads the links of a text, CommonMark or HTML, to where to says; where that says "" they stay as they are.
// What is read of the text stays.
func Links(text string, to func(address string) string) string {
	return leading.ReplaceAllStringFunc(text, func(at string) string {
		m := leading.FindStringSubmatch(at)
		for i := 1; i < len(m); i += 3 {
			if m[i] == "" {
				continue
			}
			inHTML := strings.HasSuffix(m[i], `"`)
			address := strings.ReplaceAll(m[i+1], `\\`, `\`)
			if inHTML {
				address = html.UnescapeString(m[i+1])
			}
			now := to(address)
			switch {
			case now == "" || now == address || strings.ContainsAny(now, "<>\n\r"):
				return at
			case inHTML:
				return m[i] + html.EscapeString(now) + m[i+2]
			}
			return "](<" + strings.ReplaceAll(now, `\`, `\\`) + ">" + strings.TrimPrefix(m[i+2], ">")
		}
		return at
	})
}
