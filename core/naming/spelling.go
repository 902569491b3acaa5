package naming

import (
	"strings"
	"unicode"

	"github.com/mozillazg/go-unidecode"
	"golang.org/x/text/unicode/norm"
	"golang.org/x/text/unicode/runenames"
)

// unquoted takes the apostrophes out, which part no words.
var unquoted = strings.NewReplacer("'", "", "’", "", "`", "", "ʼ", "")

// spellings are how languages write their own letters in plain ones, where that is not leaving the
// marks out. German: DIN 5007-2 and passports (ICAO Doc 9303, part 3). Danish and Norwegian: common
// practice of addresses. Ukrainian: resolution 55 of its Cabinet of Ministers, 2010.
var spellings = map[string]map[rune]string{
	"de": {'ä': "ae", 'ö': "oe", 'ü': "ue", 'ß': "ss"},
	"da": scandinavian, "nb": scandinavian, "nn": scandinavian, "no": scandinavian,
	"uk": {'г': "h", 'ґ': "g", 'є': "ie", 'ж': "zh", 'и': "y", 'і': "i", 'ї': "i", 'й': "i", 'х': "kh", 'ц': "ts", 'ч': "ch", 'ш': "sh", 'щ': "shch", 'ь': "", 'ю': "iu", 'я': "ia"},
}

var scandinavian = map[rune]string{'å': "aa", 'æ': "ae", 'ø': "oe"}

// atBeginning are Ukrainian letters that are written otherwise where a word begins.
var atBeginning = map[rune]string{'є': "ye", 'ї': "yi", 'й': "y", 'ю': "yu", 'я': "ya"}

// wordless are scripts that cannot be spelled letter by letter: their vowels are not written, or
// what a sign sounds like depends on the language and on the word.
var wordless = []*unicode.RangeTable{unicode.Arabic, unicode.Hebrew, unicode.Syriac, unicode.Thai, unicode.Lao, unicode.Khmer, unicode.Myanmar}

// plain writes letters of other scripts in plain ones, as the language of the house does. Emoji are
// written by their names in Unicode; what cannot be spelled is left out, and told.
func (c Convention) plain(text string) (written string, leftOut bool) {
	language, _, _ := strings.Cut(strings.ToLower(c.language), "-")
	letters := []rune(unquoted.Replace(norm.NFC.String(text)))
	han := language != "zh" && strings.ContainsFunc(text, func(r rune) bool { return unicode.Is(unicode.Han, r) })
	var out strings.Builder
	for i, r := range letters {
		begins := i == 0 || !unicode.IsLetter(letters[i-1])
		switch lower := unicode.ToLower(r); {
		case unicode.IsOneOf(wordless, r), han && unicode.In(r, unicode.Han, unicode.Hiragana, unicode.Katakana):
			leftOut = true
			out.WriteByte(' ')
		case emoji(r):
			out.WriteString(" " + strings.ToLower(runenames.Name(r)) + " ")
		case language == "uk" && (lower == 'г' && i > 0 && unicode.ToLower(letters[i-1]) == 'з'):
			out.WriteString("gh") // for зг and жг are not the same
		case language == "uk" && begins && atBeginning[lower] != "":
			out.WriteString(asHigh(atBeginning[lower], r, letters[i+1:]))
		default:
			if spelled, ok := spellings[language][lower]; ok {
				out.WriteString(asHigh(spelled, r, letters[i+1:]))
			} else {
				out.WriteRune(r)
			}
		}
	}
	return unquoted.Replace(unidecode.Unidecode(out.String())), leftOut
}

// asHigh writes what a letter is spelled as with a capital where the letter is one: all of them
// where the next letter is one, too.
func asHigh(spelled string, letter rune, rest []rune) string {
	switch {
	case !unicode.IsUpper(letter) || spelled == "":
		return spelled
	case len(rest) > 0 && unicode.IsUpper(rest[0]):
		return strings.ToUpper(spelled)
	}
	return strings.ToUpper(spelled[:1]) + spelled[1:]
}

// emoji says whether a rune is a drawing with a name of its own: a symbol beyond the first plane, or
// one of the older ones (Unicode, blocks Miscellaneous Symbols and Dingbats).
func emoji(r rune) bool {
	return unicode.Is(unicode.So, r) && (r >= 0x1F300 && r <= 0x1FAFF || r >= 0x2600 && r <= 0x27BF)
}
