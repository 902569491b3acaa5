package private_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"mivlet/core/private"
)

// Numbers are those that are kept free for plays (Ofcom; the Bundesnetzagentur's Drama
// numbers; the North American 555-01xx; memory); everything else is made up.
func TestWhatTells(t *testing.T) {
	for text, want := range map[string]private.Kind{
		"Ring 01632 960417 before noon":           private.Phone,
		"07700 900128":                            private.Phone,
		"(01632) 960 417":                         private.Phone,
		"+44 1632 960417":                         private.Phone,
		"+49 (30) 23125 012":                      private.Phone,
		"030 23125-012":                           private.Phone,
		"202-555-0143":                            private.Phone,
		"(202) 555-0143":                          private.Phone,
		"Tel. 960417":                             private.Phone,
		"s.pike@brindlemere.example":              private.Email,
		"BM24 PDL":                                private.Plate,
		"A van with the plate BM 417 at the lake": private.Plate,
		"AB-123-CD":                               private.Plate,
		"B-MV 1234":                               private.Plate,
		"They live at 14 Boatshed Lane":           private.Street,
		"Lindenstraße 12":                         private.Street,
		"Name: Ines Varrow":                       private.Name,
		"Class teacher: Odo Tamsin, room 4":       private.Name,
		"Pell Ashgrove pushes off":                private.Watched,
	} {
		got := private.Judge(text, "Pell", "", " ")
		if assert.Len(t, got, 1, text) {
			assert.Equal(t, want, got[0].Kind, text)
			assert.Equal(t, text[got[0].From:got[0].To], got[0].Text)
		}
	}
}

// What only looks like it.
func TestWhatTellsNothing(t *testing.T) {
	for _, text := range []string{
		"Class K 1 500 m final", "1998-2024 2000-2010", "On 12 September 2026", "2026-09-12 2026-09-13", "01.02.2026 03.04.2026", "Boat 17 of 2026",
		"Results: 1 200 m, 4 500 m, 10 000 m", "Score 12-10, 11-9, 12-14", "ISBN 978-0-306-40615-7", "IMG 2093", "Open 09:30 to 12:30", "A team of 14 and 3 boats",
		"ALL IN 12", "RUN TO 500", "The name of the lake is Brindlemere", "Pellets on a plate", "0.125 0.250 0.375", "Nobody rings at 10", "3 Juniors paddle off the jetty", "Saturday 7 November 2026",
	} {
		assert.Empty(t, private.Judge(text, "Pell"), text)
	}
}

func TestLinesThatStandAlone(t *testing.T) {
	for line, want := range map[string]private.Kind{"BM 417": private.Plate, "HH·AB 123": private.Plate, "Ines Varrow": private.Name, "Sunniva B. Pike": private.Name, " 07700 900128 ": private.Phone} {
		got := private.JudgeLine(line)
		if assert.Len(t, got, 1, line) {
			assert.Equal(t, want, got[0].Kind, line)
		}
	}
	for _, line := range []string{"ISO 200", "PAGE 112", "K1 500 m", "Saturday", "09:30", "The juniors meet", "E-mail", "A4", "KM 12"} {
		assert.Empty(t, private.JudgeLine(line), line)
	}
}

func TestTwoInOneText(t *testing.T) {
	got := private.Judge("odo@brindlemere.example or 07700 900128")
	assert.Equal(t, []private.Kind{private.Email, private.Phone}, []private.Kind{got[0].Kind, got[1].Kind})
}

func TestWholeWords(t *testing.T) {
	assert.True(t, private.Holds("Pell's boat", "pell"))
	assert.False(t, private.Holds("Pellets", "Pell"))
}

// How many digits make a number: from 8 to 15 with a country (ITU-T E.164), 9 to 13
// within one, 5 to 15 after a word that announces one (common practice).
func TestHowManyDigitsMakeANumber(t *testing.T) {
	for text, n := range map[string]int{
		"+44 90 90 09": 1, "+44 9 09 09": 0, "+4 4632 9604 1709 09": 1, "+44 1632 9604 170 90999": 0, // 8 and 7, 15 and 16
		"0163 29 609": 1, "0163 29 60": 0, "01632 960 417 99": 1, "01632 960 417 999": 0, // 9 and 8, 13 and 14
		"Tel. 96 090": 1, "Tel. 96 09": 0, "Tel. 9609 0417 0909 099": 1, // 5 and 4, 15
	} {
		assert.Len(t, private.Judge(text), n, text)
	}
}

func TestEachOfSeveralIsTold(t *testing.T) {
	got := private.Judge("Pell rang 07700 900128, then 07700 900129Ed, then Pell and Ed", "Pell", "Ed", "E")
	var parts []string
	for _, g := range got {
		parts = append(parts, g.Text)
	}
	assert.Equal(t, []string{"Pell", "07700 900128", "07700 900129", "Ed", "Pell", "Ed"}, parts, "also what follows at once, and words of two letters; a single letter tells nobody")
	assert.Len(t, private.JudgeLine("AB 12"), 1, "five signs alone may be a plate")
	assert.Empty(t, private.JudgeLine("AB12"))
}
