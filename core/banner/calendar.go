package banner

import (
	"slices"
	"time"
)

// DayAfter is the day so many days after another; fewer than 0 are before it.
func DayAfter(day string, n int) string {
	at, err := time.Parse(time.DateOnly, day)
	if err != nil {
		return day
	}
	return at.AddDate(0, 0, n).Format(time.DateOnly)
}

// DaysFrom is how many days lie between a day and another: 1 to the next.
func DaysFrom(day, to string) int {
	a, errA := time.Parse(time.DateOnly, day)
	b, errB := time.Parse(time.DateOnly, to)
	if errA != nil || errB != nil {
		return 0
	}
	return int(b.Sub(a).Hours()) / 24 // both in UTC, where every day has 24 hours
}

// Stretch is a run of days in which the same number of banners may run in a spot.
type Stretch struct {
	From, Days int // in days from the first one of the calendar
	Banners    int // 0 is a gap, 2 and more overlap
}

// Stretches divides so many days from a first one into stretches by how many of some banners,
// of one spot, may run. Drafts count, for a calendar is for planning; what is stopped, and the
// house's own, do not.
func Stretches(all []Banner, first string, days int) []Stretch {
	var stretches []Stretch
	for i := range days {
		n, day := 0, DayAfter(first, i)
		for _, b := range all {
			if !b.Own && !b.Stopped && b.RunsOn(day) {
				n++
			}
		}
		if last := len(stretches) - 1; last >= 0 && stretches[last].Banners == n {
			stretches[last].Days++
			continue
		}
		stretches = append(stretches, Stretch{i, 1, n})
	}
	return stretches
}

// Lanes gives each of some banners a row, so that no two in one row have a day in common. It
// returns the row of each, and how many there are.
func Lanes(all []Banner, first string, days int) (lane []int, n int) {
	lane = make([]int, len(all))
	byBegin := make([]int, len(all))
	for i := range all {
		byBegin[i] = i
	}
	slices.SortStableFunc(byBegin, func(i, j int) int {
		a, _ := all[i].Within(first, days)
		b, _ := all[j].Within(first, days)
		return a - b
	})
	var busy []int // the first free day of each row
	for _, i := range byBegin {
		from, to := all[i].Within(first, days)
		at := -1
		for k, free := range busy {
			if free <= from {
				at = k
				break
			}
		}
		if at < 0 {
			at, busy = len(busy), append(busy, 0)
		}
		lane[i], busy[at] = at, to
	}
	return lane, len(busy)
}

// Within returns the part of so many days from a first one that a banner's own days cover: from
// one day to before another. Both are the same where it covers none.
func (b Banner) Within(first string, days int) (from, to int) {
	from, to = 0, days
	if b.From != "" {
		from = DaysFrom(first, b.From)
	}
	if b.Until != "" {
		to = DaysFrom(first, b.Until) + 1
	}
	from, to = min(max(from, 0), days), min(max(to, 0), days)
	return from, max(from, to)
}
