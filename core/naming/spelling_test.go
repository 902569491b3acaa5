package naming

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
)

// Letters are written as the language of the house writes them in plain ones.
func TestSpellings(t *testing.T) {
	for language, pairs := range map[string]map[string]string{
		// ICAO Doc 9303, part 3, section 6: ä, ö, ü, ß.
		"de":    {"Müller trägt Größe": "Mueller traegt Groesse", "Ärger in Öde": "Aerger in Oede", "ÄRGER": "AERGER", "u\u0308ber": "ueber", "STRAẞE": "STRASSE"},
		"de-CH": {"Zürich": "Zuerich"},
		"en":    {"Müller’s café": "Mullers cafe", "Größe": "Grosse"},
		"sv":    {"Västerås": "Vasteras"},
		// The authority of Danish names: å as aa, æ as ae, ø as oe (common practice).
		"da": {"Ærø Ålborg": "Aeroe Aalborg"},
		"nb": {"Bodø": "Bodoe"},
		// Examples of resolution 55 of the Cabinet of Ministers of Ukraine, 27 January 2010.
		"uk": {"Київ": "Kyiv", "Згорани": "Zghorany", "Юрій": "Yurii", "Єнакієве": "Yenakiieve", "Щербухи": "Shcherbukhy", "Знам'янка": "Znamianka", "Феодосія": "Feodosiia",
			"Їжакевич": "Yizhakevych", "Йосипівка": "Yosypivka", "Ґалаґан": "Galagan", "Рівне": "Rivne", "Яготин": "Yahotyn"},
		"zh": {"北京": "Bei Jing"},
	} {
		for text, want := range pairs {
			got, leftOut := Convention{language: language}.plain(text)
			assert.Equal(t, want, trimmed(got), "%s in %s", text, language)
			assert.False(t, leftOut, text)
		}
	}
}

func trimmed(text string) string { return join(Convention{Case: AsTyped}.Words(text)) }

func join(words []string) (all string) {
	for i, w := range words {
		if i > 0 {
			all += " "
		}
		all += w
	}
	return all
}

// What cannot be spelled letter by letter is left out and told, never written as another language
// would say it; the day stands for what is left.
func TestScriptsThatCannotBeSpelled(t *testing.T) {
	for _, text := range []string{"مدرسة", "בית ספר", "โรงเรียน", "学校の写真", "東京"} {
		p := Usual().Propose(Clues{Subject: text, Section: "juniors", Taken: time.Date(2026, 11, 2, 0, 0, 0, 0, time.UTC), Language: "ja"})
		assert.Equal(t, "juniors-2026-11-02", p.Name, text)
		assert.Contains(t, join(p.Steps), "cannot be spelled in plain ones", text)
	}
	p := Usual().Propose(Clues{Subject: "東京 trip", Section: "juniors", Language: "ja"})
	assert.Equal(t, "juniors-trip", p.Name)
	p = Usual().Propose(Clues{Subject: "さくら", Section: "juniors", Language: "ja"}) // syllables are spelled
	assert.Equal(t, "juniors-sakura", p.Name)
}

// Emoji are written by their names (Unicode, character names).
func TestEmojiHaveNames(t *testing.T) {
	p := Usual().Propose(Clues{Subject: "Winter 🎉", Section: "socials"})
	assert.Equal(t, "socials-winter-party-popper", p.Name)
	p = Usual().Propose(Clues{Subject: "🦆", Section: "river"})
	assert.Equal(t, "river-duck", p.Name)
}

// Proposing from a proposal changes nothing, in any language.
func TestSpellingsAreProposedOnce(t *testing.T) {
	for _, language := range []string{"de", "da", "uk", "ja", "en"} {
		for _, text := range []string{"Größe der Öfen", "Ærø", "Згорани 🎉", "東京 trip"} {
			k := Clues{Subject: text, Section: "juniors", Language: language, Taken: time.Date(2026, 11, 2, 0, 0, 0, 0, time.UTC)}
			first := Usual().Propose(k).Name
			k.Subject = first
			assert.Equal(t, first, Usual().Propose(k).Name, "%s in %s", text, language)
		}
	}
}
