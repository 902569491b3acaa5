package words_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"mivlet/core/words"
)

func TestCheckAlt(t *testing.T) {
	const good = "Three juniors paddle off the jetty on a clear morning"
	for _, c := range []struct {
		alt, caption string
		level        words.Level
		code, source string
	}{
		{"", "", words.Stop, "missing", "WCAG 2.2 F65, memory"},
		{" \t", "", words.Stop, "missing", "WCAG 2.2 F65, memory"},
		{"DSC_0417.JPG", "", words.Stop, "file-name", "WCAG 2.2 F30, memory"},
		{"juniors-launch.jpg", "", words.Stop, "file-name", "WCAG 2.2 F30, memory"},
		{"IMG_2101", "", words.Stop, "file-name", "WCAG 2.2 F30, memory"},
		{"photo", "", words.Stop, "placeholder", "WCAG 2.2 F30, memory"},
		{"placeholder", "", words.Stop, "placeholder", "WCAG 2.2 F30, memory"},
		{"spacer", "", words.Stop, "placeholder", "WCAG 2.2 F30, memory"},
		{"Picture 3", "", words.Stop, "placeholder", "WCAG 2.2 F30, memory"},
		{"Photo of three juniors", "", words.Hint, "image-of", "common practice"},
		{strings.Repeat("long ", 40), "", words.Warn, "long", "common practice"},
		{good, strings.ToUpper(good), words.Warn, "same-as-caption", "common practice"},
		{"THREE JUNIORS PADDLE", "", words.Hint, "shouting", "common practice"},
	} {
		got := words.CheckAlt(c.alt, c.caption)
		if assert.NotEmpty(t, got, "%q (%s)", c.alt, c.source) {
			assert.Equal(t, c.level, got[0].Level, c.alt)
			assert.Equal(t, c.code, got[0].Code, c.alt)
		}
		assert.Equal(t, c.level == words.Stop, words.Stops(got), c.alt)
	}
	assert.Empty(t, words.CheckAlt(good, "Saturday's first launch"))
	assert.Empty(t, words.CheckAlt("Picture frames on a wall", ""), "a picture may show pictures")
}
