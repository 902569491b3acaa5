package sentences

import (
	"cmp"
	"strings"
	"time"

	"mivlet/core/audit"
	"mivlet/core/banner"
	"mivlet/core/words"
)

// condition is what is said of a condition that a banner must meet: where it is met, where it
// is not, and the step that mends it.
type condition struct{ met, unmet, mend string }

// About is what conditions of a banner on a page are about, as it is called.
type About struct {
	Banner   banner.Banner
	Spot     string
	AsBlock  bool // the spot is put on pages by hand
	Occasion string
	Page     string // title
	Section  string // title of the page's section; "" for the house
	Sections string // titles of those that the banner is for
	Holder   string // title of the banner that holds the spot
	Today    string
}

// Banner says what falls short in a banner.
func Banner(f banner.Finding) string {
	switch f.Code {
	case banner.OfPicture:
		return Of(f.Values[0].(audit.Finding))
	case banner.OfAlt:
		return Remark(f.Values[0].(words.Remark))
	}
	return say(english.banners[f.Code], f.Values)
}

// Condition says whether a condition is met, and on a button which step mends it; "" where
// nothing does but waiting.
func Condition(c banner.Condition, a About) (says, mend string) {
	form := english.conditions[c.Code]
	if c.Met {
		return say(form.met, a.values(c)), ""
	}
	unmet := form.unmet
	switch {
	case c.Code == banner.InOccasion && a.Banner.In != nil && a.Today > a.Banner.In.Until:
		unmet = english.occasionOver
	case c.Code == banner.SpotOnPage && a.AsBlock:
		unmet = english.spotNotPut
	case c.Code == banner.HasTurn && c.Day == "":
		unmet = english.heldForGood
	}
	return say(unmet, a.values(c)), form.mend
}

// values are what sentences of conditions speak of, in their order: the spot, the occasion, a
// day, the page, its section, what the banner is for, the banner that holds the spot, and once more the day, as when something happens.
func (a About) values(c banner.Condition) []any {
	list := a.Sections
	switch c.Code {
	case banner.ForTags:
		list = quoted(a.Banner.Tags)
	case banner.ForWords:
		list = quoted(a.Banner.Words)
	}
	return []any{a.Spot, a.Occasion, Day(c.Day, a.Today), a.Page, cmp.Or(a.Section, english.house), list, a.Holder, onDay(c.Day, a.Today)}
}

func quoted(all []string) string {
	list := make([]string, len(all))
	for i, w := range all {
		list[i] = "“" + w + "”"
	}
	return words.Listed(list)
}

// onDay says when something happens: “tomorrow”, “on Saturday”.
func onDay(day, today string) string {
	said := Day(day, today)
	if n := banner.DaysFrom(today, day); n >= -1 && n <= 1 {
		return said
	}
	return "on " + said
}

// Day says a day as people do: “today”, “Saturday” where it is less than a week away, or
// “14 May 2026”. An empty day gives nothing.
func Day(day, today string) string {
	at, err := time.Parse(time.DateOnly, day)
	if err != nil {
		return day
	}
	switch n := banner.DaysFrom(today, day); {
	case n == -1:
		return english.yesterday
	case n == 0:
		return english.today
	case n == 1:
		return english.tomorrow
	case n > 1 && n < 7:
		return at.Weekday().String()
	}
	return strings.TrimSpace(at.Format("2 Jan 2006"))
}
