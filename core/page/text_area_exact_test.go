package page_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/layout"
	"mivlet/core/page"
	"mivlet/core/rules"
)

// top is where text may begin over a background of 400 px, for blocks in a band of one column
// that is 620 px wide inside.
func top(t *testing.T, below *layout.Lengths, title string, blocks ...page.Block) int {
	t.Helper()
	r := rules.Default()
	r.Page.Cap, r.Page.Padding, r.Page.ColumnPadding = 1000, layout.Same(30), layout.Same(0)
	b := behind(3)
	b.Header = title != ""
	d := backed(b, blocks...)
	d.Title = title
	d.Blocks[0].Band.Cap, d.Blocks[0].Band.Below = 680, below
	areas := d.TextAreas(r, "b1", layout.Desktop)
	require.Len(t, areas, 1)
	require.Equal(t, []int{30, 650, 400}, []int{areas[0].Min.X, areas[0].Max.X, areas[0].Max.Y})
	return areas[0].Min.Y
}

// Worked by hand from the site's stylesheet: letters of 18, 33.6, 22.4, 18.4 and 16 px, lines
// of 1.6 for text and 1.2 for headings, 24 px below, and half as much again.
func TestHeightsOfTextWorkedByHand(t *testing.T) {
	t.Parallel()
	text := func(words string) page.Block { return page.Block{ID: "t", Kind: page.Text, Text: words} }
	heading := func(level int, words string) page.Block {
		return page.Block{ID: "h", Kind: page.Heading, Level: level, Text: words}
	}
	assert.Equal(t, 400-24-67, top(t, nil, "", text("Tea")), "28.8 + 16 = 44.8, and half as much again")
	assert.Equal(t, 400-24-88, top(t, nil, "", heading(2, "Tea")), "26.88 + 32")
	assert.Equal(t, 400-24-81, top(t, nil, "", heading(3, "Tea")), "22.08 + 32")
	assert.Equal(t, 400-24-76, top(t, nil, "", heading(4, "Tea")), "19.2 + 32")
	assert.Equal(t, 400-10-67, top(t, &layout.Lengths{Phone: 1, Tablet: 2, Desktop: 10}, "", text("Tea")), "the band's own space below")
	assert.Equal(t, 400-24-67-43, top(t, nil, "", text("Tea\nwith milk")), "another line of 28.8: 73.6 × 1.5 = 110.4")
	assert.Equal(t, 400-24-134, top(t, nil, "", text("Tea\n\nwith milk")), "a gap of 16 between: 89.6 × 1.5")
	assert.Equal(t, 400-24-134, top(t, nil, "", text("Tea"), page.Block{ID: "u", Kind: page.Text, Text: "Milk"}), "blocks stand below each other")
	// A letter is reckoned as 9 px wide; a line of 620 px has room for 611 of them: 67 letters.
	assert.Equal(t, 400-24-67, top(t, nil, "", text(strings.Repeat("x", 67))))
	assert.Equal(t, 400-24-110, top(t, nil, "", text(strings.Repeat("x", 68))), "one letter more is a line more")
	assert.Equal(t, 400-24-110, top(t, nil, "", text(strings.Repeat("ß", 68))), "letters are counted, not bytes")
	// The title: 20.832 px a letter, 620 − 20.832 of room: 28 letters; 40.32 + 16 high.
	assert.Equal(t, 400-24-84, top(t, nil, strings.Repeat("x", 28)))
	assert.Equal(t, 400-24-144, top(t, nil, strings.Repeat("x", 29)), "96.64 × 1.5")
	assert.Equal(t, 400-24-151, top(t, nil, "Tea", text("Tea")), "56.32 + 44.8")
	assert.Zero(t, top(t, nil, "", text(strings.Repeat("word ", 300))), "no higher than the band")
}

// Columns beside each other are as high as the highest; stacked on a phone, their heights add up.
func TestHeightsOfColumns(t *testing.T) {
	t.Parallel()
	r := rules.Default()
	text := func(id string, column int, words string) page.Block {
		return page.Block{ID: id, Kind: page.Text, Column: column, Text: words}
	}
	d := backed(behind(3), text("l", 0, "Tea"), text("r", 1, "Tea\n\nMilk"))
	d.Blocks[0].Band.Pattern = "two"
	for _, a := range d.TextAreas(r, "b1", layout.Desktop) {
		assert.Equal(t, 400-24-134, a.Min.Y, "as high as the right one")
	}
	phone := d.TextAreas(r, "b1", layout.Phone)
	require.Len(t, phone, 1)
	assert.Equal(t, 260-24-201, phone[0].Min.Y, "(44.8 + 89.6) × 1.5")
}
