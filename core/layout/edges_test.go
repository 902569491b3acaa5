package layout_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"mivlet/core/layout"
)

// The arithmetic as it is told to somebody, each line worked out by hand.
func TestHowAWidthIsExplained(t *testing.T) {
	one := layout.Band{Cap: 1000, Padding: layout.Same(20), Shares: []float64{1}}
	three := layout.Band{Cap: 1000, Padding: layout.Same(20), Gutter: layout.Same(30), Shares: []float64{1, 1, 1}}
	uneven := layout.Band{Cap: 1000, Padding: layout.Same(20), Gutter: layout.Same(30), Shares: []float64{2, 3}}
	padded := layout.Band{Cap: 1000, Padding: layout.Same(20), ColumnPadding: layout.Same(15), Shares: []float64{1}}
	for want, p := range map[string]layout.Place{
		"1000 − 2·20 = 960 → 960 px at 1x":                                                      place(one, 0, layout.Rule{}),
		"1000 − 2·20 = 960; held to 640 → 640 px at 1x":                                         place(one, 0, layout.Rule{Fixed: 640}),
		"1000 − 2·20 = 960; 50 % of it = 480 → 480 px at 1x":                                    place(one, 0, layout.Rule{Percent: 50}),
		"1000 − 2·20 = 960; − 2·15 = 930 → 930 px at 1x":                                        place(padded, 0, layout.Rule{}),
		"1000 − 2·20 − 2·30 = 900; ÷ 3 = 300; − 2·0 = 300 → 300 px at 1x":                       place(three, 1, layout.Rule{}),
		"1000 − 2·20 − 2·30 = 900; ÷ 3 = 300; − 2·0 = 300; held to 280 → 280 px at 1x":          place(three, 1, layout.Rule{Inset: 20}),
		"1000 − 2·20 − 1·30 = 930; × 2/5 = 372; − 2·0 = 372 → 372 px at 1x":                     place(uneven, 0, layout.Rule{}),
		"1000 − 2·20 − 1·30 = 930; × 3/5 = 558; − 2·0 = 558; 33 % of it = 184.1 → 184 px at 1x": place(uneven, 1, layout.Rule{Percent: 33}),
	} {
		assert.Equal(t, want, p.Explain(1280, 1))
	}
	third := layout.Band{Cap: 1000, Padding: layout.Same(20), Gutter: layout.Same(30), Shares: []float64{2, 4}}
	assert.Equal(t, "1000 − 2·20 − 1·30 = 930; ÷ 3 = 310; − 2·0 = 310 → 310 px at 1x", place(third, 0, layout.Rule{}).Explain(1280, 1))
	assert.Equal(t, "390 − 2·20 = 350; − 2·0 = 350 → 700 px at 2x", place(three, 1, layout.Rule{}).Explain(390, 2), "on a phone columns stand below each other")
}

// A column that is not there has no width, and pictures that share one share what is
// between them, too.
func TestColumnsAtTheirEdges(t *testing.T) {
	two := layout.Band{Cap: 1000, Shares: []float64{3, 1}}
	assert.Equal(t, 750.0, place(two, 0, layout.Rule{}).Width(1280))
	assert.Equal(t, 250.0, place(two, 1, layout.Rule{}).Width(1280))
	for _, column := range []int{-1, 2, 9} {
		assert.Zero(t, place(two, column, layout.Rule{}).Width(1280), "column %d", column)
	}
	two.Shares = []float64{0, 0}
	assert.Zero(t, place(two, 0, layout.Rule{}).Width(1280))
	pair := place(layout.Band{Cap: 1000, Shares: []float64{1}}, 0, layout.Rule{})
	pair.Between = layout.Same(40)
	for parts, want := range map[int]float64{0: 1000, 1: 1000, 2: 480, 3: 920. / 3, 30: 0} {
		pair.Parts = parts
		assert.InDelta(t, want, pair.Width(1280), 1e-9, "%d parts", parts)
	}
	assert.False(t, layout.Band{Breaks: breaks, Shares: []float64{1}}.Stacked(390), "one column has nothing to stand below")
	assert.True(t, layout.Band{Breaks: breaks, Shares: []float64{1, 1}}.Stacked(599))
	assert.False(t, layout.Band{Breaks: breaks, Shares: []float64{1, 1}}.Stacked(600))
}

// 150 px are room for text; 149 are not.
func TestTheLeastRoomForText(t *testing.T) {
	band := layout.Band{Cap: 1000, Shares: []float64{1}}
	assert.True(t, place(band, 0, layout.Rule{Fixed: 850}).Beside(1280))
	assert.False(t, place(band, 0, layout.Rule{Fixed: 851}).Beside(1280))
	assert.False(t, place(band, 0, layout.Rule{Fixed: 100}).Beside(599), "not on a phone")
}

// Where two lines cross on a viewport, that viewport belongs to the lower one, and no
// stretch is empty (CSS Values 4, 10.12; the widths are worked out by hand).
func TestWhereWidthsChange(t *testing.T) {
	band := layout.Band{Cap: 1000, Padding: layout.Same(20), Shares: []float64{1}}
	for want, r := range map[string]layout.Rule{
		"(max-width: 999px) calc(100vw - 40px), 960px": {},
		"(max-width: 679px) calc(100vw - 40px), 640px": {Fixed: 640},
		"(max-width: 799px) calc(100vw - 40px), 760px": {Cap: 760},
		// Below 40 px the padding leaves nothing, and half of nothing is no less.
		"(max-width: 39px) calc(100vw - 40px), (max-width: 999px) calc(50vw - 20px), 480px": {Percent: 50},
		"(max-width: 39px) calc(100vw - 40px), (max-width: 839px) calc(50vw - 20px), 400px": {Percent: 50, Cap: 400},
		"(max-width: 999px) calc(100vw - 70px), 930px":                                      {Inset: 30},
	} {
		assert.Equal(t, want, place(band, 0, r).Sizes())
	}
}

// A place as wide as half of the screen, without padding, is half of it in words, too.
func TestSharesOfTheScreen(t *testing.T) {
	bare := layout.Band{Shares: []float64{1, 1}}
	assert.Equal(t, "(max-width: 599px) 100vw, 50vw", place(bare, 0, layout.Rule{}).Sizes())
}
