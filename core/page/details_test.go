package page_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/page"
	"mivlet/core/rules"
)

func house() rules.Rules {
	r := rules.Default()
	r.Categories = []rules.Category{{Code: "events", Title: "Events & dates", Was: []string{"outings"}}, {Code: "gear", Title: "Gear"}}
	return r
}

func TestDetailsAreTidied(t *testing.T) {
	d := page.Details{From: " 2026-05-09", Until: "2026-05-09 ", Whom: " all\tof  us ", Tags: []string{"Water", " water ", "", "Autumn  leaves"}, Categories: []string{"gear", "gear"}}.Tidied()
	assert.Equal(t, page.Details{From: "2026-05-09", Whom: "all of us", Tags: []string{"autumn leaves", "water"}, Categories: []string{"gear"}}, d)
	assert.Equal(t, page.Details{}, page.Details{Tags: []string{" "}}.Tidied(), "nothing stays nothing")
}

func TestDetailsThatNoPageCanHave(t *testing.T) {
	long := make([]rune, page.LongestSummary+1)
	for i := range long {
		long[i] = 'ö'
	}
	for wrong, d := range map[string]page.Details{
		`"9 May" is not a day`:              {From: "9 May"},
		`"2026-02-30" is not a day`:         {From: "2026-02-30"},
		"needs a first day":                 {Until: "2026-05-09"},
		"comes before the first":            {From: "2026-05-09", Until: "2026-05-08"},
		"at most 200 characters, not 201":   {Summary: string(long)},
		"at most 20 tags, not 21":           {Tags: make([]string, 21)},
		"a tag has at most 40 characters":   {Tags: []string{string(long[:41])}},
		"it is has at most 120 characters,": {Whom: string(long[:121])},
	} {
		assert.ErrorContains(t, d.Check(), wrong)
	}
	require.NoError(t, page.Details{Summary: string(long[:200]), Whom: string(long[:120]), Tags: []string{string(long[:40])}, From: "2026-05-09", Until: "2026-05-09"}.Check(), "the limits themselves are fine")
}

func TestDaysAreWrittenForPeople(t *testing.T) {
	for want, d := range map[string]page.Details{
		"":                                   {},
		"9 May 2026":                         {From: "2026-05-09"},
		"9 to 11 May 2026":                   {From: "2026-05-09", Until: "2026-05-11"},
		"30 May to 2 June 2026":              {From: "2026-05-30", Until: "2026-06-02"},
		"31 December 2026 to 1 January 2027": {From: "2026-12-31", Until: "2027-01-01"},
	} {
		assert.Equal(t, want, d.Days())
	}
}

// HTML Living Standard, 4.5.14: a valid date string in datetime (memory).
func TestFacts(t *testing.T) {
	d := page.Details{From: "2026-05-09", Until: "2026-05-11", Whom: "<all> & sundry", Categories: []string{"outings", "events", "gone"}, Tags: []string{"a&b"}, Summary: "Not a fact.", Address: `https://club.example/?a=1&b="2"`}
	var got []page.Fact
	got = append(got, d.Facts(house())...)
	assert.Equal(t, []page.Fact{
		{"When", `<time datetime="2026-05-09">9</time> to <time datetime="2026-05-11">11 May 2026</time>`},
		{"For", "&lt;all&gt; &amp; sundry"},
		{"About", "Events &amp; dates"}, // once: it was joined; what the house has no more is not shown
		{"Tags", "a&amp;b"},
		{"On the web", `<a href="https://club.example/?a=1&amp;b=&#34;2&#34;">club.example/?a=1&amp;b=&#34;2&#34;</a>`},
	}, got)
	assert.Empty(t, page.Details{Summary: "Only this."}.Facts(house()))
	assert.True(t, d.In(house(), "events"))
	assert.False(t, d.In(house(), "outings"), "it is the other one now")
	assert.False(t, d.In(house(), "gear"))
}
