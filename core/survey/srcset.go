package survey

import "strings"

const space5 = " \t\n\f\r" // ASCII whitespace (Infra, 4.6)

// srcSet returns the addresses of a srcset attribute (HTML, 4.8.4.3.12: parse a srcset attribute). What
// stands beside them, widths and densities, is the browser's to weigh.
func srcSet(text string) []string {
	var all []string
	for {
		text = strings.TrimLeft(text, space5+",")
		if text == "" {
			return all
		}
		end := strings.IndexAny(text, space5)
		if end < 0 {
			end = len(text)
		}
		address := text[:end]
		text = text[end:]
		if bare := strings.TrimRight(address, ","); bare != address {
			if bare != "" {
				all = append(all, bare)
			}
			continue // a comma at its end: no descriptor follows
		}
		all = append(all, address)
		text = afterDescriptors(text)
	}
}

// afterDescriptors is what follows the comma that ends a candidate; commas in parentheses do not.
func afterDescriptors(text string) string {
	deep := 0
	for i, c := range text {
		switch {
		case c == '(':
			deep++
		case c == ')' && deep > 0:
			deep--
		case c == ',' && deep == 0:
			return text[i+1:]
		}
	}
	return ""
}
