package words_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"mivlet/core/words"
)

// In each language: texts that say they are of a picture, and what is left without that; texts that
// stand for others; and good ones, which nothing is said of. All of them are invented.
var spoken = map[string]struct {
	of    [][2]string
	empty []string
	good  []string
}{
	"en": {[][2]string{{"A photo of three boats", "Three boats"}, {"Picture showing the jetty", "The jetty"}}, []string{"photo", "Picture 3", "n/a", "..."},
		[]string{"Picture books lie on a table", "A photographer kneels on the jetty", "Test match on the lake", "None of the boats is on the water", "Images hang in the shed"}},
	"de": {[][2]string{{"Foto von drei Booten", "Drei Booten"}, {"Das Bild zeigt den Steg", "Den Steg"}, {"Auf dem Bild ist ein Boot", "Ein Boot"}}, []string{"Bild", "Foto 2", "Ohne Titel"},
		[]string{"Bilderbücher liegen auf dem Tisch", "Fotografin am Steg", "Bildstock am Ufer", "Das Bildungshaus am See", "Aufnahme von Mitgliedern am Steg"}},
	"fr": {[][2]string{{"Une photo de trois bateaux", "Trois bateaux"}, {"Image d’un ponton", "Un ponton"}}, []string{"image", "Photo 2", "Sans titre"},
		[]string{"Imagerie du lac sur un panneau", "Photographe sur le ponton", "Trois bateaux"}},
	"es": {[][2]string{{"Foto de tres barcas", "Tres barcas"}, {"En la imagen se ven dos niños", "Dos niños"}}, []string{"imagen", "Foto 4", "sin título"},
		[]string{"Fotógrafa en el muelle", "Imágenes religiosas en una vitrina", "Tres barcas en el lago"}},
	"it": {[][2]string{{"Una foto di tre barche", "Tre barche"}, {"Immagine dell’imbarcadero", "Imbarcadero"}}, []string{"immagine", "Foto 1", "senza titolo"},
		[]string{"Fotografa sul pontile", "Immaginette su un tavolo", "Tre barche sul lago"}},
	"nl": {[][2]string{{"Foto van drie boten", "Drie boten"}, {"Op de foto zie je de steiger", "De steiger"}}, []string{"afbeelding", "Foto 2", "zonder titel"},
		[]string{"Fotograaf op de steiger", "Plaatjesboek op tafel", "Drie boten"}},
	"pl": {[][2]string{{"Zdjęcie przedstawia trzy łodzie", "Trzy łodzie"}, {"Zdjęcie jeziora", "Jeziora"}, {"Na zdjęciu widać pomost", "Pomost"}}, []string{"zdjęcie", "obrazek 2", "bez tytułu"},
		[]string{"Fotograf na pomoście", "Trzy łodzie na jeziorze", "Obraz wisi na ścianie szatni"}},
	"pt": {[][2]string{{"Foto de três barcos", "Três barcos"}, {"Na imagem vê-se o cais", "O cais"}}, []string{"imagem", "Foto 3", "sem título"},
		[]string{"Fotógrafa no cais", "Três barcos no lago"}},
	"sv": {[][2]string{{"En bild på tre båtar", "Tre båtar"}, {"Bilden visar bryggan", "Bryggan"}}, []string{"bild", "Foto 2", "utan titel"},
		[]string{"Bilder hänger i boden", "Fotograf på bryggan", "Bildelar på en bänk"}},
	"tr": {[][2]string{{"Üç teknenin fotoğrafı", "Üç teknenin"}, {"Fotoğrafta iki çocuk", "İki çocuk"}}, []string{"resim", "fotoğraf 2", "Başlıksız"},
		[]string{"Fotoğrafçı iskelede duruyor", "İskelede üç tekne", "Resim sergisi salonda"}},
	"uk": {[][2]string{{"Фото трьох човнів", "Трьох човнів"}, {"На світлині видно причал", "Видно причал"}}, []string{"фото", "зображення 2", "без назви"},
		[]string{"Фотограф на причалі", "Три човни на озері", "Фотовиставка у клубі"}},
	"ar": {[][2]string{{"صورة تظهر ثلاثة قوارب", "ثلاثة قوارب"}, {"صورة القارب", "القارب"}}, []string{"صورة", "صورة 2", "بدون عنوان"},
		[]string{"ثلاثة قوارب على البحيرة", "مصورة تقف على الرصيف"}},
}

func TestEachLanguageInItsOwnWords(t *testing.T) {
	t.Parallel()
	assert.Len(t, spoken, 12)
	for tag, c := range spoken {
		for _, text := range c.empty {
			got := words.Check(words.Said{Alt: text, Language: tag})
			if assert.Len(t, got, 1, "%s: %s", tag, text) {
				assert.Equal(t, words.Placeholder, got[0].Code, "%s: %s", tag, text)
			}
		}
		for _, of := range c.of {
			got := words.Check(words.Said{Alt: of[0], Language: tag + "-XX"})
			if assert.Len(t, got, 1, "%s: %s: %v", tag, of[0], got) {
				assert.Equal(t, words.Remark{Level: words.Hint, Code: words.ImageOf, Values: []any{of[1]}}, got[0], "%s: %s", tag, of[0])
			}
		}
		for _, text := range c.good {
			assert.Empty(t, words.Check(words.Said{Alt: text, Language: tag}), "%s: %s", tag, text)
		}
	}
}

// A name of a file is one with blanks in it, too; letters grow as their language has them.
func TestNamesOfFilesAndLetters(t *testing.T) {
	t.Parallel()
	for _, text := range []string{"Screenshot 2026-11-02 at 10.22.png", "boats on the lake.JPG", "boats.webp"} {
		got := words.Check(words.Said{Alt: text})
		if assert.Len(t, got, 1, text) {
			assert.Equal(t, words.FileName, got[0].Code, text)
		}
	}
	assert.Empty(t, words.Check(words.Said{Alt: "A door with a sign that says jpg."}))
	got := words.Check(words.Said{Alt: "İKİ ÇOCUK İSKELEDE", Language: "tr"})
	if assert.Len(t, got, 1) {
		assert.Equal(t, []any{"İki çocuk iskelede"}, got[0].Values)
	}
}
