package layout_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"mivlet/core/layout"
)

// Worked by hand: 1100 − 0 = 1100; ÷ 2 = 550; − 2·30 = 490.
func TestTwoEqualColumns(t *testing.T) {
	columns := []layout.Column{{Share: 1, Padding: 30}, {Share: 1, Padding: 30}}
	wide := layout.Section{Cap: 1100, Columns: columns}
	assert.Equal(t, []float64{490, 490}, wide.Widths(1920))

	narrow := layout.Section{Cap: 676, Columns: columns}
	assert.Equal(t, []float64{278, 278}, narrow.Widths(1920))
	assert.Equal(t, 53.0, narrow.Widths(1920)[0]-225, "a 225 px picture leaves 53")
}

func TestSharesGuttersAndPaddingAddUp(t *testing.T) {
	s := layout.Section{PageCap: 1000, Cap: 1200, Padding: 20, Gutter: 30, Columns: []layout.Column{{Share: 2}, {Share: 1}}}
	assert.Equal(t, 960, s.Content(1920), "the smaller cap rules")
	assert.Equal(t, []float64{620, 310}, s.Widths(1920))
	assert.Equal(t, 348, s.Content(388), "a screen narrower than both caps")
}

var page = layout.Page{Column: 640, Wide: 960, Padding: 15, PhoneBelow: 600}

func TestSlotWidthFollowsTheScreen(t *testing.T) {
	for _, c := range []struct{ viewport, slot, want int }{
		{1280, 640, 640}, {1280, 300, 300}, {1280, 960, 960},
		{390, 640, 360}, {390, 300, 300}, {320, 300, 290}, {800, 960, 770}, {1920, 1200, 960},
	} {
		assert.Equal(t, c.want, page.SlotWidth(c.viewport, c.slot), "%+v", c)
	}
}

func TestSizesAttribute(t *testing.T) {
	assert.Equal(t, "(max-width: 669px) calc(100vw - 30px), 640px", page.Sizes(640))
	assert.Equal(t, 640, page.SlotWidth(670, 640), "at 670 the slot has its full width")
	assert.Equal(t, 639, page.SlotWidth(669, 640), "one less and it gives way")
}

func TestBeside(t *testing.T) {
	assert.True(t, page.Beside(1280, 300))
	assert.False(t, page.Beside(1280, 640), "the full column leaves no room")
	assert.False(t, page.Beside(390, 300), "nothing stands beside anything on a phone")
}
