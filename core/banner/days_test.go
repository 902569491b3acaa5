package banner_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/banner"
	"mivlet/core/rules"
)

// A banner that ends today is there until midnight in the time zone of the house, also on the
// days that have 23 and 25 hours. In London, clocks went from 01:00 to 02:00 on 29 March 2026
// and go back from 02:00 to 01:00 on 25 October (IANA time zone database, rule GB-Eire).
func TestDaysEndAtMidnightOfTheHouse(t *testing.T) {
	t.Parallel()
	r := house(t)
	for _, c := range []struct {
		zone, until string
		last, gone  string // moments, in UTC
		hours       int    // of that day
	}{
		{"Europe/London", "2026-03-28", "2026-03-28T23:59:59Z", "2026-03-29T00:00:00Z", 24},
		{"Europe/London", "2026-03-29", "2026-03-29T22:59:59Z", "2026-03-29T23:00:00Z", 23},
		{"Europe/London", "2026-10-24", "2026-10-24T22:59:59Z", "2026-10-24T23:00:00Z", 24},
		{"Europe/London", "2026-10-25", "2026-10-25T23:59:59Z", "2026-10-26T00:00:00Z", 25},
		{"America/New_York", "2026-05-31", "2026-06-01T03:59:59Z", "2026-06-01T04:00:00Z", 24},
		{"Pacific/Auckland", "2026-05-31", "2026-05-31T11:59:59Z", "2026-05-31T12:00:00Z", 24},
		{"", "2026-05-31", "2026-05-31T23:59:59Z", "2026-06-01T00:00:00Z", 24},
	} {
		r.TimeZone = c.zone
		require.Empty(t, r.Check())
		b := running(7)
		b.From, b.Until, b.In = c.until, c.until, &banner.Occasion{From: "2026-01-01", Until: "2026-12-31"}
		runs := func(at time.Time) bool { return b.RunsOn(r.Day(at)) }
		last, gone := moment(t, c.last), moment(t, c.gone)
		assert.True(t, runs(last), "%s in %s, at %s", c.until, c.zone, c.last)
		assert.False(t, runs(gone), "%s in %s, at %s", c.until, c.zone, c.gone)
		hours := 0
		for at := gone.Add(-30 * time.Hour); at.Before(gone); at = at.Add(time.Hour) {
			if runs(at) {
				hours++
			}
		}
		assert.Equal(t, c.hours, hours, "%s in %s", c.until, c.zone)
	}
	r.TimeZone = "Middle/Earth"
	assert.Len(t, r.Check(), 1)
}

func moment(t *testing.T, text string) time.Time {
	t.Helper()
	at, err := time.Parse(time.RFC3339, text)
	require.NoError(t, err)
	return at
}

func TestSpans(t *testing.T) {
	t.Parallel()
	span := func(b banner.Banner) [3]any {
		from, until, ok := b.Span()
		return [3]any{from, until, ok}
	}
	b := running(1)
	assert.Equal(t, [3]any{"2026-05-10", "2026-05-31", true}, span(b), "its own days, within the occasion")
	b.From, b.Until = "2026-06-15", ""
	assert.Equal(t, [3]any{"2026-06-15", "2026-06-30", true}, span(b))
	b.From = "2026-07-01"
	assert.Equal(t, false, span(b)[2], "no day is within")
	b.In = nil
	assert.Equal(t, false, span(b)[2], "without an occasion, never")
	b.Own = true
	assert.Equal(t, [3]any{"2026-07-01", "", true}, span(b), "the house's own needs none")
	assert.False(t, b.RunsOn("2026-06-30"))
	assert.True(t, b.RunsOn("2026-07-01"))
}

// Gaps, overlaps and rows of a calendar, counted by hand.
func TestCalendar(t *testing.T) {
	t.Parallel()
	whole := &banner.Occasion{From: "2026-01-01", Until: "2026-12-31"}
	days := func(id uint, from, until string) banner.Banner {
		return banner.Banner{ID: id, In: whole, Doc: banner.Doc{From: from, Until: until}}
	}
	all := []banner.Banner{days(1, "2026-05-03", "2026-05-06"), days(2, "2026-05-06", "2026-05-08"), days(3, "", "2026-05-02"), days(4, "2026-05-07", "")}
	// 1–2 May: 3; 3–5: 1; 6: 1 and 2; 7–8: 2 and 4; 9–10: 4.
	assert.Equal(t, []banner.Stretch{{0, 5, 1}, {5, 3, 2}, {8, 2, 1}}, banner.Stretches(all, "2026-05-01", 10))
	assert.Equal(t, []banner.Stretch{{0, 2, 0}, {2, 4, 1}, {6, 1, 0}}, banner.Stretches(all[:1], "2026-05-01", 7))
	stopped, own := days(5, "", ""), days(6, "", "")
	stopped.Stopped, own.Own = true, true
	assert.Equal(t, []banner.Stretch{{0, 7, 0}}, banner.Stretches([]banner.Banner{stopped, own}, "2026-05-01", 7))
	lane, n := banner.Lanes(all, "2026-05-01", 10)
	assert.Equal(t, []int{0, 1, 0, 0}, lane)
	assert.Equal(t, 2, n)
	from, to := all[3].Within("2026-05-01", 10)
	assert.Equal(t, []int{6, 10}, []int{from, to})
	from, to = days(7, "2026-06-01", "").Within("2026-05-01", 10)
	assert.Equal(t, []int{10, 10}, []int{from, to}, "it lies beyond")
	assert.Equal(t, "2026-03-30", banner.DayAfter("2026-03-28", 2))
	assert.Equal(t, 2, banner.DaysFrom("2026-03-28", "2026-03-30"), "clocks that change make no day longer")
	assert.Equal(t, -367, banner.DaysFrom("2029-01-01", "2027-12-31"), "2028 has 366 days")
	assert.Equal(t, "soon", banner.DayAfter("soon", 2))
	assert.Zero(t, banner.DaysFrom("soon", "2026-03-30"))
}

func TestWhatABannerMaySay(t *testing.T) {
	t.Parallel()
	fails := func(says string, d banner.Doc) {
		t.Helper()
		assert.ErrorContains(t, d.Check(), says)
	}
	for _, address := range []string{"", "/touring", "https://rope.example", "http://rope.example/a?b=c", "mailto:odo@brindlemere.example"} {
		assert.NoError(t, banner.Doc{Address: address}.Check(), address)
	}
	for _, address := range []string{"javascript:alert(1)", "//evil.example", "data:text/html,x", "https://", "ftp://x.example", "rope", "mailto:", "java\nscript:x", "vbscript:x"} {
		assert.Error(t, banner.Doc{Address: address}.Check(), address)
	}
	fails("not \"tomorrow\"", banner.Doc{From: "tomorrow"})
	fails("not \"2026-02-30\"", banner.Doc{Until: "2026-02-30"})
	fails("comes before the first", banner.Doc{From: "2026-05-02", Until: "2026-05-01"})
	fails("not 101", banner.Doc{Share: 101})
	fails("not -1", banner.Doc{Share: -1})
	fails("not 301", banner.Doc{Alt: string(make([]byte, 301))})
	fails("up to 20", banner.Doc{Words: make([]string, 21)})
	_, err := banner.Parse([]byte(`{"version":2}`))
	assert.ErrorContains(t, err, "version 2 is not known")
	_, err = banner.Parse([]byte(`{"version":1,"from":"x"}`))
	assert.Error(t, err)
	_, err = banner.Parse([]byte(`{`))
	assert.Error(t, err)
	d, err := banner.Parse([]byte(`{"version":1,"title":"Rope","spot":"foot","sections":["juniors"]}`))
	require.NoError(t, err)
	assert.Equal(t, []string{"juniors"}, d.Sections)

	assert.NoError(t, banner.Occasion{Title: "May", From: "2026-05-01", Until: "2026-05-01"}.Check())
	for _, o := range []banner.Occasion{{From: "2026-05-01", Until: "2026-05-01"}, {Title: "May", From: "2026-05-01"}, {Title: "May", From: "2026-05-02", Until: "2026-05-01"}, {Title: "May", From: "x", Until: "y"}} {
		assert.Error(t, o.Check(), o)
	}
}

// What keeps a banner from being approved, and what only falls short.
func TestFindings(t *testing.T) {
	t.Parallel()
	r := house(t)
	b := running(1)
	b.Picture, b.Alt, b.Address = 1, "The rope works by the lake: ropes and fenders", "https://rope.example"
	good := []banner.Shown{{Has: 600, Needs: 300, Sharp: 2, Letters: 12}}
	codes := func(b banner.Banner, shown []banner.Shown) (all []string) {
		for _, f := range b.Findings(r, today, nil, shown, func(at string) bool { return at == "/juniors/launch" }) {
			all = append(all, string(f.Level)+" "+string(f.Code))
		}
		return all
	}
	assert.Empty(t, codes(b, good))
	assert.Equal(t, []string{"stop no-picture", "stop no-alt", "stop no-address", "warn no-occasion"}, codes(banner.Banner{Doc: banner.Doc{Spot: "foot"}}, nil))
	assert.Equal(t, []string{"stop too-small"}, codes(b, []banner.Shown{{Has: 299, Needs: 300, Sharp: 0.99}}))
	assert.Equal(t, []string{"hint not-sharp"}, codes(b, []banner.Shown{{Has: 300, Needs: 300, Sharp: 1}}))
	assert.Equal(t, []string{"warn small-text"}, codes(b, []banner.Shown{{Has: 600, Needs: 300, Sharp: 2, Letters: 7.9}}))
	assert.Empty(t, codes(b, []banner.Shown{{Has: 600, Needs: 300, Sharp: 2, Letters: banner.SmallLetters}}))
	change := func(do func(*banner.Banner)) []string {
		c := b
		do(&c)
		return codes(c, good)
	}
	assert.Equal(t, []string{"stop no-spot"}, change(func(b *banner.Banner) { b.Spot = "gone" }))
	assert.Equal(t, []string{"warn is-over"}, change(func(b *banner.Banner) { b.Until = "2026-05-13" }))
	assert.Empty(t, change(func(b *banner.Banner) { b.Until = today }))
	assert.Equal(t, []string{"warn never-runs"}, change(func(b *banner.Banner) { b.From, b.Until = "2026-08-01", "" }))
	assert.Equal(t, []string{"warn not-there"}, change(func(b *banner.Banner) { b.Sections = []string{"touring"} }))
	assert.Empty(t, change(func(b *banner.Banner) { b.Sections = []string{"touring", "juniors"} }))
	assert.Equal(t, []string{"stop of-alt"}, change(func(b *banner.Banner) { b.Alt = "banner.jpg" })[:1], "a file name tells nothing (WCAG 2.2, F30)")
	assert.Equal(t, []string{"warn not-live"}, change(func(b *banner.Banner) { b.Address = "/juniors/gone" }))
	assert.Empty(t, change(func(b *banner.Banner) { b.Address = "/juniors/launch" }))
	r.Spots[0].Empty = rules.ShowNothing
	assert.Equal(t, []string{"warn own-unasked"}, change(func(b *banner.Banner) { b.Own = true }))
	r.Spots[0].On = nil
	assert.Equal(t, []string{"warn spot-unused"}, codes(b, good))
}
