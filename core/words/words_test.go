package words_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"mivlet/core/words"
)

func codes(fs []words.Remark) []string {
	var cs []string
	for _, f := range fs {
		cs = append(cs, string(f.Code))
	}
	return cs
}

const good = "Three juniors paddle off the jetty on a clear morning"

// Each rule with what fails and what passes; the techniques of WCAG 2.2, SC
// 1.1.1, are named beside those that come from them (memory).
func TestEachRuleFailsAndPasses(t *testing.T) {
	for name, c := range map[string]struct {
		fails, passes words.Said
		code          string
		level         words.Level
	}{
		"F65: informative without alt":             {words.Said{}, words.Said{Alt: good}, "missing", words.Stop},
		"F65: spaces are no words":                 {words.Said{Alt: "  "}, words.Said{Alt: good}, "missing", words.Stop},
		"F30: a file name":                         {words.Said{Alt: "DSC_0417.JPG"}, words.Said{Alt: good}, "file-name", words.Stop},
		"F30: a camera's name":                     {words.Said{Alt: "IMG_2093"}, words.Said{Alt: good}, "file-name", words.Stop},
		"F30: a placeholder":                       {words.Said{Alt: "image 1"}, words.Said{Alt: good}, "placeholder", words.Stop},
		"F30: spacer":                              {words.Said{Alt: "spacer"}, words.Said{Alt: good}, "placeholder", words.Stop},
		"F39: decorative with words":               {words.Said{Decorative: true, Reason: "a line", Alt: "a line"}, words.Said{Decorative: true, Reason: "a line"}, "decorative-words", words.Warn},
		"F89: a decorative link":                   {words.Said{Decorative: true, Reason: "a line", Links: true}, words.Said{Decorative: true, Reason: "a line"}, "decorative-link", words.Stop},
		"F89, H30: a link without words":           {words.Said{Links: true}, words.Said{Links: true, Alt: "All dates of the autumn"}, "missing-link", words.Stop},
		"F89, H30: a link that does not say where": {words.Said{Links: true, Alt: "A red kayak", LinkName: "Dates of the autumn"}, words.Said{Links: true, Alt: "A red kayak: dates of the autumn", LinkName: "Dates of the autumn"}, "link", words.Warn},
		"common practice: image of":                {words.Said{Alt: "Image of three juniors"}, words.Said{Alt: good}, "image-of", words.Hint},
		"common practice: too long":                {words.Said{Alt: strings.Repeat("long ", 40)}, words.Said{Alt: good}, "long", words.Warn},
		"house rules: too long":                    {words.Said{Alt: good, Longest: 40}, words.Said{Alt: good, Longest: 60}, "long", words.Warn},
		"common practice: twice":                   {words.Said{Alt: good, Caption: strings.ToUpper(good) + "."}, words.Said{Alt: good, Caption: "Red led."}, "same-as-caption", words.Warn},
		"common practice: text beside":             {words.Said{Alt: good, Beside: []string{good}}, words.Said{Alt: good, Beside: []string{"Next Saturday"}}, "same-as-text", words.Warn},
		"common practice: two pictures":            {words.Said{Alt: good, Others: []string{good}}, words.Said{Alt: good, Others: []string{"A red kayak"}}, "same-as-other", words.Warn},
		"common practice: shouting":                {words.Said{Alt: "THREE JUNIORS PADDLE"}, words.Said{Alt: good}, "shouting", words.Hint},
		"common practice: e-mail":                  {words.Said{Alt: "Write to odo.tamsin@brindlemere.example"}, words.Said{Alt: good}, "email", words.Warn},
		"common practice: phone":                   {words.Said{Alt: "Ring 01632 960417 for a place"}, words.Said{Alt: "Boat 17 of 2026"}, "phone", words.Warn},
		"common practice: mobile":                  {words.Said{Alt: "Ring 07700 900128"}, words.Said{Alt: "On 12 September 2026"}, "phone", words.Warn},
		"common practice: plate":                   {words.Said{Alt: "A van with the plate BM 417 at the shore", Caption: ""}, words.Said{Alt: "A white van at the shore"}, "plate", words.Warn},
		"common practice: a hidden name":           {words.Said{Alt: "Pell pushes off", Hidden: []string{"Pell"}}, words.Said{Alt: "Pellets on a plate", Hidden: []string{"Pell"}}, "hidden-name", words.Stop},
		"decorative without a reason":              {words.Said{Decorative: true}, words.Said{Decorative: true, Reason: "a line between two parts"}, "decorative-reason", words.Warn},
		"common practice: image of nothing":        {words.Said{Alt: "image of"}, words.Said{Alt: "Image of: three juniors"}, "placeholder", words.Stop},
		"common practice: a photo of dots":         {words.Said{Alt: "A photo of …"}, words.Said{Alt: good}, "placeholder", words.Stop},
		"German page":                              {words.Said{Alt: "Foto von drei Booten", Language: "de"}, words.Said{Alt: "Drei Boote", Language: "de-CH"}, "image-of", words.Hint},
		"German placeholder":                       {words.Said{Alt: "Bild 3", Language: "de"}, words.Said{Alt: "Bildstock am Ufer", Language: "de"}, "placeholder", words.Stop},
		"French page":                              {words.Said{Alt: "Une photo de trois bateaux", Language: "fr"}, words.Said{Alt: "Trois bateaux", Language: "fr"}, "image-of", words.Hint},
		"caption too long":                         {words.Said{Alt: good, Caption: strings.Repeat("x", 60), LongestCap: 50}, words.Said{Alt: good, Caption: "short", LongestCap: 50}, "caption-long", words.Warn},
	} {
		fs := words.Check(c.fails)
		assert.Contains(t, codes(fs), c.code, name)
		for _, f := range fs {
			if string(f.Code) == c.code {
				assert.Equal(t, c.level, f.Level, name)
			}
		}
		assert.NotContains(t, codes(words.Check(c.passes)), c.code, name)
	}
	assert.Empty(t, words.Check(words.Said{Alt: good, Caption: "Red led, yellow followed."}))
	assert.True(t, words.Stops(words.Check(words.Said{})))
	assert.False(t, words.Stops(words.Check(words.Said{Alt: good})))
	assert.Contains(t, codes(words.Check(words.Said{Alt: good, Caption: "Ring 01632 960417"})), "phone", "a caption is words, too")
	assert.Contains(t, codes(words.Check(words.Said{Alt: "Odo Tamsin pushes off", Watch: []string{"Tamsin"}})), "watched")
}

func TestAnExampleSaysItBetter(t *testing.T) {
	fs := words.Check(words.Said{Alt: "Photo of three juniors"})
	assert.Equal(t, "Three juniors", fs[0].Values[0])
	fs = words.Check(words.Said{Alt: "Picture of: three juniors"})
	assert.Equal(t, "Three juniors", fs[0].Values[0])
}
