package layout_test

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"mivlet/core/layout"
)

var breaks = layout.Breaks{Tablet: 600, Desktop: 1000}

func place(s layout.Band, column int, r layout.Rule) layout.Place {
	s.Breaks = breaks
	return layout.Place{Section: s, Column: column, Rule: r}
}

// Worked by hand: 1100 − 0 = 1100; ÷ 2 = 550; − 2·30 = 490.
func TestTwoEqualColumns(t *testing.T) {
	two := layout.Band{Cap: 1100, ColumnPadding: layout.Same(30), Shares: []float64{1, 1}}
	p := place(two, 0, layout.Rule{})
	assert.Equal(t, 490.0, p.Width(1920))
	assert.Equal(t, "1100 − 2·0 − 1·0 = 1100; ÷ 2 = 550; − 2·30 = 490 → 980 px at 2x", p.Explain(1920, 2))

	two.Cap = 676
	p = place(two, 1, layout.Rule{})
	assert.Equal(t, 278.0, p.Width(1920))
	assert.Equal(t, 53.0, p.Width(1920)-225, "a 225 px picture leaves 53")
}

// Section space 50 + column padding 30: 80 px to the next content (worked by hand).
func TestSpaceAddsUp(t *testing.T) {
	s := layout.Band{Cap: 1100, Padding: layout.Same(50), ColumnPadding: layout.Same(30), Shares: []float64{1}}
	assert.Equal(t, 1100.0-2*80, place(s, 0, layout.Rule{}).Width(1920))
}

func TestSharesGuttersAndPaddingAddUp(t *testing.T) {
	s := layout.Band{Breaks: breaks, PageCap: 1000, Cap: 1200, Padding: layout.Same(20), Gutter: layout.Same(30), Shares: []float64{2, 1}}
	assert.Equal(t, 960, s.Content(1920), "the smaller cap rules")
	assert.Equal(t, 620.0, s.Column(1920, 0))
	assert.Equal(t, 310.0, s.Column(1920, 1))
	assert.Equal(t, 348.0, s.Column(388, 1), "on a phone columns stand below each other")
	assert.True(t, s.Stacked(388))
	assert.Equal(t, "1000 − 2·20 − 1·30 = 930; × 2/3 = 620; − 2·0 = 620 → 620 px at 1x", place(s, 0, layout.Rule{}).Explain(1920, 1))
}

func TestEachDeviceHasItsOwnValues(t *testing.T) {
	s := layout.Band{PageCap: 1100, Padding: layout.Lengths{Phone: 15, Tablet: 24, Desktop: 40}, Gutter: layout.Lengths{Tablet: 20, Desktop: 32}, Shares: []float64{1, 1}}
	p := place(s, 0, layout.Rule{})
	assert.Equal(t, 360.0, p.Width(390))
	assert.Equal(t, 350.0, p.Width(768), "(768 − 48 − 20) / 2")
	assert.Equal(t, 494.0, p.Width(1280), "(1100 − 80 − 32) / 2")
}

func TestPictureRules(t *testing.T) {
	for _, c := range []struct {
		rule         layout.Rule
		column, want float64
	}{
		{layout.Rule{}, 640, 640}, {layout.Rule{Fixed: 300}, 640, 300}, {layout.Rule{Fixed: 300}, 290, 290},
		{layout.Rule{Percent: 50}, 640, 320}, {layout.Rule{Percent: 50, Cap: 250}, 640, 250}, {layout.Rule{Cap: 450}, 640, 450}, {layout.Rule{Percent: 150}, 640, 640},
	} {
		assert.Equal(t, c.want, c.rule.Of(c.column), "%+v", c)
	}
}

func TestSizesAttribute(t *testing.T) {
	one := layout.Band{PageCap: 670, Padding: layout.Same(15), Shares: []float64{1}}
	assert.Equal(t, "(max-width: 669px) calc(100vw - 30px), 640px", place(one, 0, layout.Rule{}).Sizes())
	assert.Equal(t, "(max-width: 329px) calc(100vw - 30px), 300px", place(one, 0, layout.Rule{Fixed: 300}).Sizes())
	two := layout.Band{PageCap: 1100, Padding: layout.Same(15), Gutter: layout.Same(30), Shares: []float64{1, 1}}
	assert.Equal(t, "(max-width: 599px) calc(100vw - 30px), (max-width: 1099px) calc(50vw - 30px), 520px", place(two, 0, layout.Rule{}).Sizes())
	free := layout.Band{Shares: []float64{1}}
	assert.Equal(t, "100vw", place(free, 0, layout.Rule{}).Sizes())
	assert.Equal(t, 1920, place(free, 0, layout.Rule{}).Full())
	assert.Equal(t, 640, place(one, 0, layout.Rule{}).Full())
}

var (
	condition = regexp.MustCompile(`^\(max-width: (\d+)px\) (.*)$`)
	linear    = regexp.MustCompile(`^(?:calc\()?([\d.]+)vw(?: ([+-]) ([\d.]+)px\))?$`)
)

// evaluate reads a sizes attribute as the HTML Living Standard says: the first
// condition that holds gives the width.
func evaluate(t require.TestingT, sizes string, viewport int) float64 {
	for _, part := range strings.Split(sizes, ", ") {
		if m := condition.FindStringSubmatch(part); m != nil {
			limit, err := strconv.Atoi(m[1])
			require.NoError(t, err)
			if viewport > limit {
				continue
			}
			part = m[2]
		}
		if m := linear.FindStringSubmatch(part); m != nil {
			vw, err := strconv.ParseFloat(m[1], 64)
			require.NoError(t, err)
			px := 0.0
			if m[3] != "" {
				px, err = strconv.ParseFloat(m[2]+m[3], 64)
				require.NoError(t, err)
			}
			// Where no negative length can be, one that comes of calc() is taken for nothing
			// (CSS Values and Units 4, "10.12 Range Checking", memory).
			return max(0, vw/100*float64(viewport)+px)
		}
		px, err := strconv.ParseFloat(strings.TrimSuffix(part, "px"), 64)
		require.NoError(t, err, part)
		return px
	}
	return 0
}

// For any page, column, rule and screen the attribute says what the layout says.
func TestSizesAgreeWithWidths(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(1, 3).Draw(t, "columns")
		lengths := func(label string, most int) layout.Lengths {
			g := rapid.IntRange(0, most)
			return layout.Lengths{Phone: g.Draw(t, label+" phone"), Tablet: g.Draw(t, label+" tablet"), Desktop: g.Draw(t, label+" desktop")}
		}
		s := layout.Band{Breaks: layout.Breaks{Tablet: rapid.IntRange(400, 700).Draw(t, "tablet"), Desktop: rapid.IntRange(701, 1200).Draw(t, "desktop")},
			PageCap: rapid.SampledFrom([]int{0, 500, 990, 1100, 1400}).Draw(t, "page"), Cap: rapid.SampledFrom([]int{0, 676, 1100}).Draw(t, "cap"),
			Padding: lengths("padding", 30), Gutter: lengths("gutter", 30), ColumnPadding: lengths("inner", 20), Shares: make([]float64, n)}
		for i := range s.Shares {
			s.Shares[i] = float64(rapid.IntRange(1, 3).Draw(t, fmt.Sprint("share", i)))
		}
		r := layout.Rule{Fixed: rapid.SampledFrom([]int{0, 0, 225, 300}).Draw(t, "fixed"), Percent: rapid.SampledFrom([]float64{0, 0, 40, 100}).Draw(t, "percent"), Cap: rapid.SampledFrom([]int{0, 0, 450}).Draw(t, "most"), Inset: rapid.SampledFrom([]int{0, 0, 24}).Draw(t, "inset")}
		p := layout.Place{Section: s, Column: rapid.IntRange(0, n-1).Draw(t, "column"), Rule: r, Parts: rapid.IntRange(0, 3).Draw(t, "parts"), Between: lengths("between", 20)}
		v := rapid.IntRange(320, 2500).Draw(t, "viewport")
		if w, told := p.Width(v), evaluate(t, p.Sizes(), v); w-told > 0.2 || told-w > 0.2 {
			t.Fatalf("%s says %.2f at %d, the layout %.2f", p.Sizes(), told, v, w)
		}
	})
}

func TestBeside(t *testing.T) {
	one := layout.Band{PageCap: 670, Padding: layout.Same(15), Shares: []float64{1}}
	side := place(one, 0, layout.Rule{Fixed: 300})
	assert.True(t, side.Beside(1280))
	assert.False(t, place(one, 0, layout.Rule{}).Beside(1280), "the full column leaves no room")
	assert.False(t, side.Beside(390), "nothing stands beside anything on a phone")
}
