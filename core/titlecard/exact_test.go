package titlecard_test

import (
	"image"
	"image/color"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/titlecard"
)

// rows are the stretches of rows of a part of a card in which something is drawn.
func rows(m *image.RGBA, part image.Rectangle) (all [][2]int) {
	in := false
	for y := part.Min.Y; y < part.Max.Y; y++ {
		inked := false
		for x := part.Min.X; x < part.Max.X && !inked; x++ {
			c := m.RGBAAt(x, y)
			inked = int(c.R) > 120
		}
		if inked && !in {
			all = append(all, [2]int{y, y})
		}
		if in = inked; in {
			all[len(all)-1][1] = y + 1
		}
	}
	return all
}

// Where things stand on a card of 1200 × 630: the title from 84 px down, with lines of 1.12
// times its size, in the largest of 104, 88, 74, 62 and 52 px in which 2, 3, 4, 5 and 6 lines
// are enough; a line of 4 px across at 492; the house on the base line 554. Capitals of this
// letter are 0.7 of its size high (its OS/2 table, sCapHeight).
func TestWhereThingsStand(t *testing.T) {
	t.Parallel()
	for _, one := range []struct {
		words, lines int
		px           float64
	}{{1, 1, 104}, {2, 1, 104}, {4, 2, 104}, {5, 2, 88}, {6, 2, 88}, {7, 3, 88}, {9, 3, 88}, {10, 4, 74}, {16, 4, 62}, {20, 5, 62}, {24, 5, 52}, {28, 6, 52}} {
		title := strings.TrimSpace(strings.Repeat("HHHHH ", one.words))
		m, err := titlecard.Draw(titlecard.Card{Title: title, House: "HHH", Ground: deep, Text: white})
		require.NoError(t, err)
		lines := rows(m, image.Rect(0, 0, 1200, 480))
		if !assert.Len(t, lines, one.lines, "%d words", one.words) {
			continue
		}
		for i, l := range lines {
			base := 84 + int(float64(i)*1.12*one.px+0.8*one.px)
			assert.InDelta(t, base, l[1], 1, "line %d of %d words", i, one.words)
			assert.InDelta(t, 0.7*one.px, l[1]-l[0], 2, "line %d of %d words", i, one.words)
		}
	}
	m := drawn(t, "HHH", nil)
	assert.Equal(t, [][2]int{{492, 496}}, rows(m, image.Rect(0, 480, 1200, 510)))
	for _, x := range []int{88, 600, 1111} {
		assert.Equal(t, white, m.RGBAAt(x, 492), "%d", x)
	}
	for _, x := range []int{87, 1112} {
		assert.Equal(t, deep, m.RGBAAt(x, 494), "%d", x)
	}
	m, err := titlecard.Draw(titlecard.Card{Title: "H", House: "HHH", Ground: white, Text: color.RGBA{0, 0, 0, 255}})
	require.NoError(t, err)
	box := inked(m, white)
	assert.Equal(t, 554, box.Max.Y, "the base line of the house")
	assert.Equal(t, []int{88, 1112}, []int{box.Min.X, box.Max.X}, "the line reaches from margin to margin")
}

// What does not fit is shortened, and reaches to the margin, not beyond it and not far from it.
func TestWhatDoesNotFitIsShortened(t *testing.T) {
	t.Parallel()
	lines, err := titlecard.Lines(strings.Repeat("H", 400))
	require.NoError(t, err)
	require.Len(t, lines, 6, "one word over all lines")
	for i, l := range lines[:5] {
		assert.Equal(t, len(lines[0]), len(l), "line %d", i)
	}
	assert.True(t, strings.HasSuffix(lines[5], "…"))
	assert.InDelta(t, len(lines[0]), len([]rune(lines[5])), 2)
	whole := ""
	for _, l := range lines {
		whole += strings.TrimSuffix(l, "…")
	}
	assert.Equal(t, strings.Repeat("H", len(whole)), whole)
	m, err := titlecard.Draw(titlecard.Card{Title: strings.Repeat("H", 400), House: strings.Repeat("H", 200), Ground: deep, Text: white})
	require.NoError(t, err)
	box := inked(m, deep)
	assert.LessOrEqual(t, box.Max.X, 1112)
	for _, part := range []image.Rectangle{image.Rect(0, 0, 1200, 480), image.Rect(0, 510, 1200, 630)} {
		widest := 0
		for y := part.Min.Y; y < part.Max.Y; y++ {
			for x := part.Min.X; x < part.Max.X; x++ {
				if m.RGBAAt(x, y) != deep {
					widest = max(widest, x)
				}
			}
		}
		assert.Greater(t, widest, 1112-45, "%v: it uses the room", part)
	}
	exact, err := titlecard.Lines("HHHHH")
	require.NoError(t, err)
	assert.Equal(t, []string{"HHHHH"}, exact)
}

// A text may change from one font to the other and back: each letter stands behind the one
// before it, and spaces belong to the run that they end.
func TestLettersOfTwoFonts(t *testing.T) {
	t.Parallel()
	width := func(title string) int {
		m := drawn(t, title, nil)
		wide := 0
		for y := range 480 {
			for x := range 1200 {
				if m.RGBAAt(x, y) != deep {
					wide = max(wide, x)
				}
			}
		}
		return wide
	}
	assert.Greater(t, width("ađa"), width("ađ"), "the last letter stands behind")
	assert.Greater(t, width("đ đ"), width("đđ")+10, "a space is a space")
	assert.InDelta(t, width("aaaa")-width("aa"), width("ađaa")-width("ađ"), 10, "as wide as among their own")
}
