package rules_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/layout"
	"mivlet/core/rules"
)

// faultsAt are the faults of rules at a place.
func faultsAt(r rules.Rules, at string) (all []string) {
	for _, f := range r.Check() {
		if f.At == at {
			all = append(all, f.Text)
		}
	}
	return all
}

// Every number of the house's document has a least and a most: both are taken, and one
// step beyond is refused at its place.
func TestEveryNumberHasItsLimits(t *testing.T) {
	house := func() rules.Rules { // with lists of its own
		r, err := rules.Parse(rules.Default().Encode())
		if err != nil {
			panic(err)
		}
		r.Slots[0].Pattern, r.Slots[0].Width, r.Slots[0].Height = "three", 0, 0 // one that follows from a column
		return r
	}
	const column, none = 0, -1 // none: another number says how little it may be
	plain := slices.IndexFunc(house().Slots, func(s rules.Slot) bool { return s.ID == "thumb" })
	at := func(i int, path string) string { return "/slots/" + house().Slots[i].ID + path }
	pattern := "/page/patterns/" + house().Page.Patterns[0].ID
	for _, c := range []struct {
		at          string
		set         func(*rules.Rules, float64)
		least, most float64
		step        float64 // 1 where 0
	}{
		{"/page/cap", func(r *rules.Rules, v float64) { r.Page.Cap = int(v) }, 320, 4000, 0},
		{"/page/breaks/tablet", func(r *rules.Rules, v float64) { r.Page.Breaks = layout.Breaks{Tablet: int(v), Desktop: 900} }, 320, 899, 0},
		{"/page/breaks/desktop", func(r *rules.Rules, v float64) { r.Page.Breaks.Desktop = int(v) }, none, 3000, 0},
		{"/page/padding/phone", func(r *rules.Rules, v float64) { r.Page.Padding.Phone = int(v) }, 0, 400, 0},
		{"/page/gutter/tablet", func(r *rules.Rules, v float64) { r.Page.Gutter.Tablet = int(v) }, 0, 400, 0},
		{"/page/column_padding/desktop", func(r *rules.Rules, v float64) { r.Page.ColumnPadding.Desktop = int(v) }, 0, 400, 0},
		{pattern + "/shares", func(r *rules.Rules, v float64) { r.Page.Patterns[0].Shares = []float64{v} }, 0.01, 12, .01},
		{pattern + "/shares", func(r *rules.Rules, v float64) { r.Page.Patterns[0].Shares = slices.Repeat([]float64{1}, int(v)) }, 1, 4, 0},
		{pattern + "/cap", func(r *rules.Rules, v float64) { r.Page.Patterns[0].Cap = int(v) }, 200, 4000, 0},
		{"/page/spacing", func(r *rules.Rules, v float64) { r.Page.Spacing = []int{int(v)} }, 0, 400, 0},
		{at(plain, "/densities"), func(r *rules.Rules, v float64) { r.Slots[plain].Densities = []float64{v} }, .5, 4, .1},
		{at(plain, "/budget"), func(r *rules.Rules, v float64) { r.Slots[plain].Budget = int64(v) }, 1000, 20_000_000, 0},
		{at(plain, "/buffer"), func(r *rules.Rules, v float64) { r.Slots[plain].Buffer = int(v) }, 0, 600, 0},
		{at(plain, "/width"), func(r *rules.Rules, v float64) { r.Slots[plain].Width, r.Slots[plain].Height = int(v), 0 }, 1, 6000, 0},
		{at(plain, "/height"), func(r *rules.Rules, v float64) { r.Slots[plain].Height = int(v) }, 0, 6000, 0},
		{at(column, "/column"), func(r *rules.Rules, v float64) { r.Slots[column].Column = int(v) }, 0, 2, 0},
		{at(column, "/rule/fixed"), func(r *rules.Rules, v float64) { r.Slots[column].Rule = layout.Rule{Fixed: int(v)} }, 0, 4000, 0},
		{at(column, "/rule/percent"), func(r *rules.Rules, v float64) { r.Slots[column].Rule = layout.Rule{Percent: v} }, 0, 100, .5},
		{at(column, "/rule/cap"), func(r *rules.Rules, v float64) { r.Slots[column].Rule = layout.Rule{Cap: int(v)} }, 0, 4000, 0},
		{"/limits/bytes", func(r *rules.Rules, v float64) { r.Limits.Bytes = int64(v) }, 100_000, 500_000_000, 0},
		{"/limits/side", func(r *rules.Rules, v float64) { r.Limits.Side = int(v) }, 1000, 65_535, 0},
		{"/limits/pixels", func(r *rules.Rules, v float64) { r.Limits.Pixels = int64(v) }, 1_000_000, 400_000_000, 0},
		{"/limits/frames", func(r *rules.Rules, v float64) { r.Limits.Frames = int(v) }, 1, 10_000, 0},
		{"/limits/frame_pixels", func(r *rules.Rules, v float64) { r.Limits.FramePixels = int64(v) }, 1_000_000, 1_000_000_000, 0},
		{"/limits/bin_days", func(r *rules.Rules, v float64) { r.Limits.BinDays = int(v) }, 1, 3650, 0},
		{"/placing/air", func(r *rules.Rules, v float64) { r.Placing.Air = int(v) }, 0, 100, 0},
		{"/placing/line", func(r *rules.Rules, v float64) { r.Placing.Line = int(v) }, 0, 20, 0},
		{"/placing/enlarged", func(r *rules.Rules, v float64) { r.Placing.Enlarged = int(v) }, 200, 4000, 0},
		{"/placing/cache_hours", func(r *rules.Rules, v float64) { r.Placing.CacheHours = int(v) }, 1, 8760, 0},
		{"/words/longest_alt", func(r *rules.Rules, v float64) { r.Words.LongestAlt = int(v) }, 40, 1000, 0},
		{"/words/longest_caption", func(r *rules.Rules, v float64) { r.Words.LongestCaption = int(v) }, 40, 2000, 0},
		{"/hiding/watch", func(r *rules.Rules, v float64) { r.Hiding.Watch = slices.Repeat([]string{"Pell"}, int(v)) }, 0, 2000, 0},
		{"/naming/longest", func(r *rules.Rules, v float64) { r.Naming.Longest = int(v) }, 20, 120, 0},
	} {
		step := c.step
		if step == 0 {
			step = 1
		}
		with := func(v float64) []string {
			r := house()
			c.set(&r, v)
			return faultsAt(r, c.at)
		}
		for _, v := range []float64{c.least, c.most} {
			if v == none {
				continue
			}
			assert.Empty(t, with(v), "%s of %v", c.at, v)
		}
		for _, v := range []float64{c.least - step, c.most + step} {
			if c.least == none && v < 0 || v < 0 && strings.Contains(c.at, "/hiding/") {
				continue // a list has no fewer than none
			}
			if assert.NotEmpty(t, with(v), "%s of %v", c.at, v) && v > c.most && !strings.HasSuffix(c.at, "/column") && !strings.Contains(c.at, "/breaks/") && !strings.HasSuffix(c.at, "/densities") && !strings.HasSuffix(c.at, "/spacing") && !strings.HasSuffix(c.at, "/watch") {
				assert.Contains(t, strings.Join(with(v), "\n"), fmt.Sprint(int64(v)), "%s: the value is named", c.at)
			}
		}
	}
	r := house()
	r.Page.Patterns[0].Cap = 0
	assert.Empty(t, faultsAt(r, pattern+"/cap"), "0 is as wide as the page")
}

// Screens that have more pixels than are served fall away; one density is left in every slot.
func TestServingUpTo(t *testing.T) {
	t.Parallel()
	for most, want := range map[float64][]float64{3: {1, 2, 3}, 2: {1, 2}, 2.9: {1, 2}, 1: {1}, 0.5: {1}} {
		r := rules.Default()
		r.ServeUpTo(most)
		s, ok := r.Slot("column")
		require.True(t, ok)
		assert.Equal(t, want, s.Densities, "%v", most)
		assert.Len(t, s.Widths, map[int]int{1: 2, 2: 4, 3: 6}[len(want)], "on a phone and on all else: %v", s.Widths)
		assert.Empty(t, r.Check(), "%v", most)
	}
	first, _ := rules.Default().Slot("column")
	assert.Equal(t, []float64{1, 2, 3}, first.Densities, "nobody else's rules are changed")
}
