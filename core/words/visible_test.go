package words_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"mivlet/core/words"
)

func TestWhatNobodySeesIsTakenOut(t *testing.T) {
	for in, out := range map[string]string{
		"  Two boats\r\nat dusk \x00":      "Two boats\nat dusk",
		"photo\u202egpj.exe":               "photogpj.exe", // reads “photoexe.jpg” otherwise (Unicode Standard Annex #9, 2.3)
		"a\u200b\ufeff\u2066b\u2069\u061c": "ab",
		"می\u200cخواهم":                    "می\u200cخواهم", // letters that are parted stay so
		"Le\u0301man":                      "L\u00e9man",    // composed (Unicode Standard Annex #15, NFC)
		"broken \xff bytes":                "broken  bytes",
		"bell\a and \x1b[31mcolour":        "bell and [31mcolour",
	} {
		assert.Equal(t, out, words.Visible(in), "%q", in)
	}
	assert.Equal(t, "a b", words.VisibleLine("a\n\tb\u200f", 80))
	assert.Equal(t, strings.Repeat("é", 10), words.VisibleLine(strings.Repeat("é", 5000), 10), "counted in characters")
}
