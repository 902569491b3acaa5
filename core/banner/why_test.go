package banner_test

import (
	"fmt"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/banner"
	"mivlet/core/rules"
)

const today = "2026-05-14"

// house has a spot below the pages of Juniors, and Touring beside it.
func house(t *testing.T) rules.Rules {
	t.Helper()
	r := rules.Default()
	r.Sections = []rules.Section{{Code: "juniors", Title: "Juniors", Sign: "wave", Folder: "juniors"}, {Code: "touring", Title: "Touring", Sign: "leaf", Folder: "touring"}}
	r.Spots = []rules.Spot{{ID: "foot", Title: "Partners", Width: 300, Height: 250, Where: rules.Below, On: []string{"juniors"}, Turn: rules.ByTurns, Empty: rules.ShowOwn}}
	require.Empty(t, r.Check())
	return r
}

func running(id uint) banner.Banner {
	return banner.Banner{ID: id, Doc: banner.Doc{Version: banner.Version, Title: "Rope", Spot: "foot", From: "2026-05-01", Until: "2026-05-31"}, Approved: true, Fit: true,
		In: &banner.Occasion{ID: 1, Title: "Regatta weeks", From: "2026-05-10", Until: "2026-06-30"}}
}

func live() banner.Page {
	return banner.Page{Section: "juniors", Title: "Spring launch", Tags: []string{"regatta"}, Live: true, Marked: []string{"foot"}}
}

// A way to break one condition of a banner that would show.
type way struct {
	code banner.Code
	to   func(r *rules.Rules, b *banner.Banner, p *banner.Page, others *[]banner.Banner)
}

var ways = []way{
	{banner.HasSpot, func(r *rules.Rules, _ *banner.Banner, _ *banner.Page, _ *[]banner.Banner) { r.Spots = nil }},
	{banner.IsApproved, func(_ *rules.Rules, b *banner.Banner, _ *banner.Page, _ *[]banner.Banner) { b.Approved = false }},
	{banner.IsGoing, func(_ *rules.Rules, b *banner.Banner, _ *banner.Page, _ *[]banner.Banner) { b.Stopped = true }},
	{banner.IsFit, func(_ *rules.Rules, b *banner.Banner, _ *banner.Page, _ *[]banner.Banner) { b.Fit = false }},
	{banner.InOccasion, func(_ *rules.Rules, b *banner.Banner, _ *banner.Page, _ *[]banner.Banner) {
		b.In = &banner.Occasion{ID: 2, Title: "Winter", From: "2026-05-15", Until: "2026-05-20"}
	}},
	{banner.HasOccasion, func(_ *rules.Rules, b *banner.Banner, _ *banner.Page, _ *[]banner.Banner) { b.In = nil }},
	{banner.HasBegun, func(_ *rules.Rules, b *banner.Banner, _ *banner.Page, _ *[]banner.Banner) { b.From = "2026-05-15" }},
	{banner.IsNotOver, func(_ *rules.Rules, b *banner.Banner, _ *banner.Page, _ *[]banner.Banner) { b.Until = "2026-05-13" }},
	{banner.PageIsLive, func(_ *rules.Rules, _ *banner.Banner, p *banner.Page, _ *[]banner.Banner) { p.Live = false }},
	{banner.SpotOnPage, func(r *rules.Rules, _ *banner.Banner, _ *banner.Page, _ *[]banner.Banner) {
		for i := range r.Spots {
			r.Spots[i].On = []string{"touring"}
		}
	}},
	{banner.PageIsNew, func(_ *rules.Rules, _ *banner.Banner, p *banner.Page, _ *[]banner.Banner) { p.Marked = nil }},
	{banner.ForSection, func(_ *rules.Rules, b *banner.Banner, _ *banner.Page, _ *[]banner.Banner) {
		b.Sections = []string{"touring"}
	}},
	{banner.ForTags, func(_ *rules.Rules, b *banner.Banner, _ *banner.Page, _ *[]banner.Banner) { b.Tags = []string{"camp"} }},
	{banner.ForWords, func(_ *rules.Rules, b *banner.Banner, _ *banner.Page, _ *[]banner.Banner) {
		b.Words = []string{"autumn"}
	}},
	{banner.HasTurn, func(r *rules.Rules, _ *banner.Banner, _ *banner.Page, others *[]banner.Banner) {
		for i := range r.Spots {
			r.Spots[i].Turn = rules.InOrder
		}
		first := running(1)
		first.Place = -1
		*others = append(*others, first)
	}},
}

// visits are the banners that so many visitors get, one after the other.
func visits(r rules.Rules, all []banner.Banner, p banner.Page, n int) (got []uint) {
	spot, ok := r.Spot("foot")
	if !ok {
		return nil
	}
	for i := range n {
		if b, ok := banner.Pick(spot, banner.Running(r, spot, all, p, today), uint64(i)); ok {
			got = append(got, b.ID)
		}
	}
	return got
}

// Whatever conditions are broken together: that all are met means that a visitor gets the
// banner, and exactly those are told as not met that were broken.
func TestTheAnswerIsWhatAVisitorGets(t *testing.T) {
	t.Parallel()
	for mask := range 1 << len(ways) {
		r, b, p := house(t), running(7), live()
		others := []banner.Banner{running(9)}
		broken := map[banner.Code]bool{}
		for i, w := range ways {
			if mask&(1<<i) != 0 {
				w.to(&r, &b, &p, &others)
				broken[w.code] = true
			}
		}
		all := append(others, b)
		why := banner.Why(r, b, all, p, today)
		met := !slices.ContainsFunc(why, func(c banner.Condition) bool { return !c.Met })
		got := slices.Contains(visits(r, all, p, 6), b.ID)
		if met != got || got != (len(broken) == 0) {
			t.Fatalf("broken %v: all met %v, visitors get it %v", broken, met, got)
		}
		if !why[0].Met && slices.IsSortedFunc(why, func(x, y banner.Condition) int { return order(x.Met) - order(y.Met) }) == false {
			t.Fatalf("broken %v: what is not met does not come first: %v", broken, why)
		}
		// One fault may hide another (without a spot, it is on no page), but none is made up.
		for _, c := range why {
			if !c.Met && !broken[c.Code] && !(broken[banner.HasSpot] && (c.Code == banner.SpotOnPage)) && !(broken[banner.PageIsLive] && c.Code == banner.PageIsNew) {
				t.Fatalf("broken %v: told %s as well", broken, c.Code)
			}
		}
	}
}

func order(met bool) int {
	if met {
		return 1
	}
	return 0
}

// Each fault alone is told first, by its name, and with the day or the banner that it is about.
func TestWhatIsToldFirst(t *testing.T) {
	t.Parallel()
	for _, w := range ways {
		r, b, p := house(t), running(7), live()
		var others []banner.Banner
		w.to(&r, &b, &p, &others)
		assert.Equal(t, w.code, banner.Why(r, b, others, p, today)[0].Code)
	}
	r, p := house(t), live()
	first := func(change func(*banner.Banner), others ...banner.Banner) banner.Condition {
		b := running(7)
		change(&b)
		return banner.Why(r, b, others, p, today)[0]
	}
	assert.Equal(t, banner.Condition{Code: banner.HasBegun, Day: "2026-05-16"}, first(func(b *banner.Banner) { b.From = "2026-05-16" }))
	assert.Equal(t, banner.Condition{Code: banner.IsNotOver, Day: "2026-05-13"}, first(func(b *banner.Banner) { b.Until = "2026-05-13" }))
	assert.Equal(t, banner.Condition{Code: banner.InOccasion, Day: "2026-05-20"}, first(func(b *banner.Banner) { b.In = &banner.Occasion{From: "2026-05-20", Until: "2026-06-01"} }))
	assert.Equal(t, banner.Condition{Code: banner.InOccasion, Day: "2026-05-13"}, first(func(b *banner.Banner) { b.In = &banner.Occasion{From: "2026-05-01", Until: "2026-05-13"} }))
	r.Spots[0].Turn = rules.InOrder
	assert.Equal(t, banner.Condition{Code: banner.HasTurn, Day: "2026-05-31", Holder: 3}, first(func(*banner.Banner) {}, running(9), running(3)), "the one that comes first holds it")
	assert.True(t, first(func(b *banner.Banner) { b.Place = -1 }, running(3)).Met)
	open := running(3)
	open.Until, open.In.Until = "", "2026-07-01"
	assert.Equal(t, "2026-07-01", first(func(*banner.Banner) {}, open).Day, "until the end of its occasion")
}

// The house's own shows where nothing else runs, needs no occasion, and asks for a spot that
// wants one.
func TestTheHousesOwn(t *testing.T) {
	t.Parallel()
	r, p := house(t), live()
	own := banner.Banner{ID: 1, Doc: banner.Doc{Title: "Join us", Spot: "foot", Own: true}, Approved: true, Fit: true}
	assert.Equal(t, []uint{1, 1}, visits(r, []banner.Banner{own}, p, 2))
	assert.Equal(t, []uint{7, 7}, visits(r, []banner.Banner{own, running(7)}, p, 2))
	assert.Equal(t, banner.Condition{Code: banner.HasTurn, Day: "2026-05-31", Holder: 7}, banner.Why(r, own, []banner.Banner{own, running(7)}, p, today)[0])
	assert.True(t, banner.Why(r, running(7), []banner.Banner{own, running(7)}, p, today)[0].Met)
	r.Spots[0].Empty = rules.ShowNothing
	assert.Empty(t, visits(r, []banner.Banner{own}, p, 1))
	assert.Equal(t, banner.OwnIsAsked, banner.Why(r, own, nil, p, today)[0].Code)
}

// Which pages a banner is for: sections, tags and words of the title, each for itself.
func TestWhichPagesABannerIsFor(t *testing.T) {
	t.Parallel()
	r := house(t)
	on := func(change func(*banner.Banner, *banner.Page)) bool {
		b, p := running(7), live()
		change(&b, &p)
		return len(visits(r, []banner.Banner{b}, p, 1)) == 1
	}
	titled := func(words ...string) bool {
		return on(func(b *banner.Banner, p *banner.Page) { b.Words, p.Title = words, "The spring-launch of 2026: Boats" })
	}
	assert.True(t, titled("spring"))
	assert.True(t, titled("BOATS", "Spring launch"), "case does not matter, nor what stands between words")
	assert.False(t, titled("boat"), "whole words only")
	assert.False(t, titled("launch spring"), "in their order")
	assert.False(t, titled("spring", "autumn"), "all of them")
	assert.True(t, on(func(b *banner.Banner, _ *banner.Page) { b.Tags = []string{"camp", "regatta"} }), "one tag is enough")
	assert.True(t, on(func(b *banner.Banner, _ *banner.Page) { b.Sections = []string{"touring", "juniors"} }))
	r.Spots[0].On = []string{rules.OnFront}
	assert.False(t, on(func(_ *banner.Banner, p *banner.Page) { p.Front = true }), "the front page of a section is not that of the house")
	assert.True(t, on(func(_ *banner.Banner, p *banner.Page) { p.Front, p.Section = true, "" }))
	assert.False(t, on(func(_ *banner.Banner, p *banner.Page) { p.Section = "" }), "nor is that of a category")
	r.Spots[0].On = []string{rules.OnEvery}
	assert.True(t, on(func(_ *banner.Banner, p *banner.Page) { p.Section = "" }))
	r.Spots[0].Where = rules.AsBlock
	assert.True(t, on(func(*banner.Banner, *banner.Page) {}), "where it was put")
	assert.False(t, on(func(_ *banner.Banner, p *banner.Page) { p.Marked = nil }))
}

// Turns, order and shares. The row of shares 5, 1, 1 is the worked example of smooth weighted
// round-robin (nginx, commit 52327e0627f4, memory).
func TestHowBannersShareASpot(t *testing.T) {
	t.Parallel()
	r, p := house(t), live()
	row := func(turn rules.Turn, n int, shares ...int) string {
		r.Spots[0].Turn = turn
		var all []banner.Banner
		for i, s := range shares {
			b := running(uint(i + 1))
			b.Share = s
			all = append(all, b)
		}
		return fmt.Sprint(visits(r, all, p, n))
	}
	assert.Equal(t, "[1 2 3 1 2 3]", row(rules.ByTurns, 6, 5, 1, 1))
	assert.Equal(t, "[1 1 1]", row(rules.InOrder, 3, 5, 1, 1))
	assert.Equal(t, "[1 1 2 1 3 1 1 1 1]", row(rules.ByShare, 9, 5, 1, 1))
	assert.Equal(t, "[1 2 1 2]", row(rules.ByShare, 4, 0, 1), "no share is one")
	for _, shares := range [][]int{{1, 1}, {3, 2}, {100, 1}, {7, 11, 13}, {1}} {
		total, got := 0, map[uint]int{}
		var all []banner.Banner
		for i, s := range shares {
			b := running(uint(i + 1))
			b.Share, total = s, total+s
			all = append(all, b)
		}
		r.Spots[0].Turn = rules.ByShare
		for _, id := range visits(r, all, p, 2*total) {
			got[id]++
		}
		for i, s := range shares {
			assert.Equal(t, 2*s, got[uint(i+1)], "%v", shares)
		}
	}
}
