package words

import (
	"regexp"
	"strings"
	"sync"
	"unicode"
	"unicode/utf8"
)

// language holds what differs from tongue to tongue. All of it is from memory.
type language struct {
	placeholder *regexp.Regexp // words that stand for a text that is still to come
	imageOf     *regexp.Regexp // how a text begins that says it is a picture
	ends        *regexp.Regexp // how one ends, where the word comes last; nil where it does not
	letters     unicode.SpecialCase
}

// isWord is a whole text that is one of some words, with a number behind it or not.
func isWord(words string) *regexp.Regexp {
	return regexp.MustCompile(`(?i)^(?:` + words + `|[.\-_*?…]+)\s*\d*$`)
}

// opening is how a text begins; what comes next is a word of its own.
func opening(words string) *regexp.Regexp {
	return regexp.MustCompile(`(?i)^(?:` + words + `)(?:[\s:,–-]+|$)`)
}

// languages are those most spoken in schools and clubs around. Their patterns take long to compile,
// so that is done when the first description is judged.
var languages = sync.OnceValue(func() map[string]language {
	return map[string]language{
		"en": {placeholder: isWord(`image|photo|picture|pic|graphic|img|spacer|placeholder|alt|alt text|untitled|todo|tbd|xxx|test|n/?a|none`),
			imageOf: opening(`(?:an?\s+|the\s+|this\s+is\s+an?\s+)?(?:image|photo|photograph|picture|pic|graphic)\s+(?:of|showing|shows|that shows)`)},
		"de": {placeholder: isWord(`bild|foto|grafik|platzhalter|alttext|alternativtext|ohne titel|kein|keine|folgt|test`),
			imageOf: opening(`(?:(?:auf dem|das|dieses|ein)\s+)?(?:bild|foto)\s+(?:von|vom|der|des|mit|zeigt)|(?:(?:eine|die)\s+)?(?:fotografie|grafik|abbildung)\s+(?:von|vom|der|des|mit|zeigt)|auf (?:dem|diesem) (?:bild|foto) (?:ist|sind|sieht man)`)},
		"fr": {placeholder: isWord(`image|photo|illustration|sans titre|aucune?|à venir|texte alternatif|test`),
			imageOf: regexp.MustCompile(`(?i)^(?:une?\s+|la\s+|cette\s+|l['’])?(?:image|photo|photographie|illustration)\s+(?:(?:de|du|des|montrant|montre|avec|représentant)(?:\s+|$)|d['’])`)},
		"es": {placeholder: isWord(`imagen|foto|gráfico|sin título|ninguna?|pendiente|texto alternativo|prueba|test`),
			imageOf: opening(`(?:una\s+|la\s+|esta\s+)?(?:imagen|foto|fotografía)\s+(?:de|del|con|que muestra|muestra|mostrando)|en la (?:imagen|foto) (?:se ve|se ven|aparece|aparecen)`)},
		"it": {placeholder: isWord(`immagine|foto|grafica|senza titolo|nessuna?|testo alternativo|prova|test`),
			imageOf: regexp.MustCompile(`(?i)^(?:un['’]|una\s+|l['’]|la\s+|questa\s+)?(?:immagine|foto|fotografia)\s+(?:(?:di|del|della|dei|delle|degli|dello|con|che mostra|mostra|raffigurante)(?:\s+|$)|dell['’]|d['’])`)},
		"nl": {placeholder: isWord(`afbeelding|foto|plaatje|grafiek|zonder titel|geen|alttekst|volgt|test`),
			imageOf: opening(`(?:een\s+|de\s+|deze\s+|het\s+)?(?:afbeelding|foto|plaatje)\s+(?:van|met|toont|waarop|met daarop)|op de (?:foto|afbeelding) (?:is|zijn|zie je|staat|staan)`)},
		"pl": {placeholder: isWord(`obraz|obrazek|zdjęcie|fotografia|grafika|bez tytułu|brak|tekst alternatywny|test`),
			imageOf: opening(`(?:to\s+)?(?:zdjęcie|fotografia)(?:\s+(?:przedstawia|przedstawiające|przedstawiająca|pokazuje|pokazujące|pokazująca|ukazujące|z))?|na (?:zdjęciu|fotografii) (?:jest|są|widać|widoczny|widoczna|widoczne)`)},
		"pt": {placeholder: isWord(`imagem|foto|gráfico|sem título|nenhuma?|texto alternativo|teste|test`),
			imageOf: opening(`(?:uma\s+|a\s+|esta\s+)?(?:imagem|foto|fotografia)\s+(?:de|do|da|dos|das|com|que mostra|mostrando|mostra)|na (?:imagem|foto) (?:vê-se|veem-se|aparece|aparecem)`)},
		"sv": {placeholder: isWord(`bild|foto|grafik|utan titel|ingen|alt-?text|kommer|test`),
			imageOf: opening(`(?:en\s+|ett\s+|den här\s+)?(?:bild|foto|fotografi)\s+(?:av|på|med|som visar|visar)|(?:bilden|fotot)\s+(?:visar|föreställer)|på (?:bilden|fotot) (?:syns|ser man|finns)`)},
		"tr": {placeholder: isWord(`resim|fotoğraf|görsel|grafik|başlıksız|yok|alternatif metin|deneme|test`),
			imageOf: opening(`(?:bu\s+)?(?:resimde|fotoğrafta|görselde)`),
			ends:    regexp.MustCompile(`(?i)\s(?:resmi|fotoğrafı|görseli)\.?$`), letters: unicode.TurkishCase},
		"uk": {placeholder: isWord(`зображення|фото|фотографія|світлина|картинка|без назви|немає|текст|тест`),
			imageOf: opening(`(?:це\s+)?(?:фото|фотографія|світлина|зображення|знімок)(?:,?\s+(?:на якому|на якій|з|із|зі|показує))?|на (?:фото|фотографії|світлині|зображенні|знімку)`)},
		"ar": {placeholder: isWord(`صورة|الصورة|صوره|بدون عنوان|لا يوجد|نص بديل|اختبار|تجربة`),
			imageOf: regexp.MustCompile(`^(?:هذه\s+)?(?:صورة|صوره)(?:\s+(?:تظهر|تُظهر|توضح|فوتوغرافية|تبين))?(?:\s+|$)|^(?:تظهر|تُظهر)\s+(?:الصورة|في الصورة)\s+`)},
	}
})

// languageOf is what is known of a language by its tag (BCP 47); of one that is not known, English.
func languageOf(tag string) language {
	code, _, _ := strings.Cut(strings.ToLower(tag), "-")
	if l, ok := languages()[code]; ok {
		return l
	}
	return languages()["en"]
}

func (l language) isPlaceholder(text string) bool { return l.placeholder.MatchString(text) }

// withoutImageOf takes off what says that the text is of a picture, and tells whether it was there.
func (l language) withoutImageOf(text string) (string, bool) {
	tells := func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) }
	if begins := l.imageOf.FindString(text); begins != "" {
		return strings.TrimLeftFunc(text[len(begins):], tells), true
	}
	if l.ends != nil {
		if at := l.ends.FindStringIndex(text); at != nil {
			return strings.TrimRightFunc(text[:at[0]], tells), true
		}
	}
	return text, false
}

// upperFirst writes the first letter large, as the language does.
func (l language) upperFirst(s string) string {
	r, n := utf8.DecodeRuneInString(s)
	if n == 0 {
		return s
	}
	return string(l.letters.ToUpper(r)) + s[n:]
}

// lower writes all letters small, as the language does.
func (l language) lower(s string) string { return strings.ToLowerSpecial(l.letters, s) }
