package titlecard_test

import (
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/contrast"
	"mivlet/core/titlecard"
)

var (
	deep  = color.RGBA{0x10, 0x34, 0x3a, 0xff}
	white = color.RGBA{0xff, 0xff, 0xff, 0xff}
)

func drawn(t *testing.T, title string, behind image.Image) *image.RGBA {
	t.Helper()
	m, err := titlecard.Draw(titlecard.Card{Title: title, House: "Brindlemere Paddle Club", Ground: deep, Text: white, Behind: behind})
	require.NoError(t, err)
	require.Equal(t, image.Rect(0, 0, 1200, 630), m.Bounds())
	return m
}

// inked is where something else than the ground was drawn.
func inked(m *image.RGBA, ground color.RGBA) image.Rectangle {
	var box image.Rectangle
	for y := range m.Rect.Dy() {
		for x := range m.Rect.Dx() {
			if m.RGBAAt(x, y) != ground {
				box = box.Union(image.Rect(x, y, x+1, y+1))
			}
		}
	}
	return box
}

// All words stay inside of the margins, however long they are: readers crop a little.
func TestWordsStayInside(t *testing.T) {
	t.Parallel()
	inside := image.Rect(70, 60, 1130, 590)
	for _, title := range []string{"Tea", "Across the lake in October", strings.Repeat("A long tale of wind and water ", 12), strings.Repeat("Donaudampfschifffahrt", 9), "Źdźbło, œuvre, Čtyři, Ærø: ğ ő ū", "I"} {
		box := inked(drawn(t, title, nil), deep)
		assert.True(t, box.In(inside), "%q: %v", title, box)
	}
	m, err := titlecard.Draw(titlecard.Card{Title: "Tea", House: strings.Repeat("A club of a very long name ", 9), Ground: deep, Text: white})
	require.NoError(t, err)
	assert.True(t, inked(m, deep).In(inside))
}

// Lines are balanced: the shortest is not much shorter than the longest, where words allow
// it, and there are no more of them than needed (CSS Text 4, text-wrap: balance, says the same
// of a browser).
func TestLinesAreBalanced(t *testing.T) {
	t.Parallel()
	for title, want := range map[string][]string{
		"Tea":                        {"Tea"},
		"Across the lake in October": {"Across the", "lake in October"},
		"What lives in the inflow":   {"What lives", "in the inflow"},
		"":                           nil,
	} {
		lines, err := titlecard.Lines(title)
		require.NoError(t, err)
		assert.Equal(t, want, lines, title)
	}
	lines, err := titlecard.Lines("The autumn tour of the club goes round the island and back again before dark")
	require.NoError(t, err)
	short, long := 99, 0
	for _, l := range lines {
		short, long = min(short, len(l)), max(long, len(l))
	}
	assert.GreaterOrEqual(t, 2*short, long, "%q", lines)
	assert.Equal(t, "The autumn tour of the club goes round the island and back again before dark", strings.Join(lines, " "), "no word is lost")
	lines, err = titlecard.Lines(strings.Repeat("word ", 200))
	require.NoError(t, err)
	assert.True(t, strings.HasSuffix(lines[len(lines)-1], "…"), "what is left out is said")
	assert.LessOrEqual(t, len(lines), 6)
}

// What cannot be drawn is said, and never drawn as an empty box.
func TestLettersThatAreMissing(t *testing.T) {
	t.Parallel()
	assert.Empty(t, titlecard.Missing("Autumn, ÄÖÜß çéñ “tea” – 12:30 & more…"))
	assert.Equal(t, []rune("жш"), titlecard.Missing("жшж tea"))
	_, err := titlecard.Draw(titlecard.Card{Title: "Чай", House: "Club"})
	assert.ErrorContains(t, err, "Чай")
}

// Over a picture the text is white, and the picture as dark as WCAG 2.2, 1.4.3 asks: 4.5 to 1
// at every place, also over the brightest.
func TestAPictureBehindIsDarkened(t *testing.T) {
	t.Parallel()
	behind := image.NewRGBA(image.Rect(0, 0, 700, 368))
	draw.Draw(behind, behind.Rect, image.NewUniform(color.RGBA{60, 70, 80, 255}), image.Point{}, draw.Src)
	draw.Draw(behind, image.Rect(500, 200, 700, 368), image.White, image.Point{}, draw.Src)
	m := drawn(t, "Tea", behind)
	c := m.RGBAAt(1150, 600)
	assert.GreaterOrEqual(t, contrast.Ratio(1, contrast.Luminance(c)), 4.5, "%v", c)
	assert.Less(t, contrast.Ratio(1, contrast.Luminance(c)), 4.8, "no darker than it needs to be")
	assert.NotEqual(t, m.RGBAAt(20, 20), c, "it is still to be seen")
	assert.Equal(t, drawn(t, "Tea", nil).RGBAAt(5, 5), deep)
	same := drawn(t, "Tea", behind)
	assert.Equal(t, m.Pix, same.Pix, "the same is drawn again")
}

func ExampleLines() {
	lines, _ := titlecard.Lines("Twice a year we count what lives between the stones")
	fmt.Println(strings.Join(lines, " / "))
	// Output: Twice a year we / count what lives / between the stones
}
