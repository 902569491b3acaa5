package banner

import (
	"cmp"
	"slices"

	"mivlet/core/rules"
)

// before reports whether a banner comes before another in a fixed order.
func before(a, b Banner) bool { return order(a, b) < 0 }

func order(a, b Banner) int { return cmp.Or(cmp.Compare(a.Place, b.Place), cmp.Compare(a.ID, b.ID)) }

// Running returns those of some banners that meet every condition of a spot on a page on a day
// but for their turn, in their fixed order.
func Running(r rules.Rules, spot rules.Spot, all []Banner, p Page, day string) []Banner {
	var running []Banner
	for _, b := range all {
		if b.Spot == spot.ID && allMet(b.alone(r, p, day)) {
			running = append(running, b)
		}
	}
	slices.SortFunc(running, order)
	return running
}

// Pick returns which of the running banners shows to the nth visitor, counted from 0; false
// where none runs. The house's own show only where nothing else runs.
func Pick(spot rules.Spot, running []Banner, n uint64) (Banner, bool) {
	own := func(b Banner) bool { return b.Own }
	if slices.ContainsFunc(running, func(b Banner) bool { return !b.Own }) {
		running = slices.DeleteFunc(slices.Clone(running), own)
	}
	switch {
	case len(running) == 0:
		return Banner{}, false
	case spot.Turn == rules.InOrder:
		return running[0], true
	case spot.Turn == rules.ByShare:
		return running[shared(running, n)], true
	}
	return running[n%uint64(len(running))], true
}

// shared is the position of the banner that shows to the nth visitor where each shows as often
// as its share says. The turns of one are spread among those of the others: whoever is furthest
// behind its share is next (smooth weighted round-robin).
func shared(running []Banner, n uint64) int {
	total := 0
	for _, b := range running {
		total += b.share()
	}
	behind := make([]int, len(running))
	next := 0
	for range n%uint64(total) + 1 {
		next = 0
		for i, b := range running {
			if behind[i] += b.share(); behind[i] > behind[next] {
				next = i
			}
		}
		behind[next] -= total
	}
	return next
}

func (d Doc) share() int { return max(1, d.Share) }
