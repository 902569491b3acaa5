package banner

import (
	"slices"
	"strings"
	"unicode"

	"mivlet/core/rules"
)

// Code names a condition that a banner must meet to show on a page.
type Code string

// The conditions, in the order in which they are told.
const (
	HasSpot     Code = "spot"           // the house has its spot
	IsApproved  Code = "approved"       // by a publisher
	IsGoing     Code = "going"          // nobody has stopped it
	IsFit       Code = "fit"            // its files are made, and nobody on it said no
	HasOccasion Code = "occasion"       // or needs none
	InOccasion  Code = "in-occasion"    // the day is one of the occasion
	HasBegun    Code = "begun"          // by its own first day
	IsNotOver   Code = "not-over"       // by its own last day
	OwnIsAsked  Code = "own-asked"      // of the house's own: the spot shows one when nothing runs
	PageIsLive  Code = "page-live"      // there is something to show it on
	SpotOnPage  Code = "spot-on-page"   // the spot stands on pages like this
	PageIsNew   Code = "page-published" // since the spot stands there
	ForSection  Code = "section"        // it is for pages of this section
	ForTags     Code = "tags"           // it is for pages with one of the page's tags
	ForWords    Code = "words"          // it is for pages with these words in their title
	HasTurn     Code = "turn"           // no other banner has the spot to itself
)

// Condition is one condition, and whether it is met.
type Condition struct {
	Code Code
	Met  bool
	Day  string // that it waits for, or that it ended on, or until which another holds the spot; may be empty
	// Holder is the number of the banner that holds the spot.
	Holder uint
}

// Page is a page of the site, as visitors get it at the moment.
type Page struct {
	Section string // "" for the front page of the house
	Front   bool   // it is the front page of its section, or of the house
	Title   string
	Tags    []string
	Live    bool
	Marked  []string // IDs of the spots that its live version has a place for
	Placed  []string // IDs of the spots that stand on it as blocks, on the draft or live
}

// alone are the conditions of a banner that do not depend on other banners.
func (b Banner) alone(r rules.Rules, p Page, day string) []Condition {
	spot, known := r.Spot(b.Spot)
	all := []Condition{{Code: HasSpot, Met: known}, {Code: IsApproved, Met: b.Approved}, {Code: IsGoing, Met: !b.Stopped}, {Code: IsFit, Met: b.Fit}}
	if b.Own {
		all = append(all, Condition{Code: OwnIsAsked, Met: known && spot.Empty == rules.ShowOwn})
	} else {
		all = append(all, Condition{Code: HasOccasion, Met: b.In != nil})
		if b.In != nil {
			c := Condition{Code: InOccasion, Met: b.In.From <= day && day <= b.In.Until, Day: b.In.From}
			if day > b.In.Until {
				c.Day = b.In.Until
			}
			all = append(all, c)
		}
	}
	all = append(all, Condition{Code: HasBegun, Met: b.From <= day, Day: b.From}, Condition{Code: IsNotOver, Met: b.Until == "" || day <= b.Until, Day: b.Until},
		Condition{Code: PageIsLive, Met: p.Live},
		Condition{Code: SpotOnPage, Met: known && (spot.StandsOn(p.Section, p.Front) || spot.Where == rules.AsBlock && (slices.Contains(p.Placed, b.Spot) || slices.Contains(p.Marked, b.Spot)))},
		Condition{Code: PageIsNew, Met: p.Live && slices.Contains(p.Marked, b.Spot)})
	if len(b.Sections) > 0 {
		all = append(all, Condition{Code: ForSection, Met: slices.Contains(b.Sections, p.Section)})
	}
	if len(b.Tags) > 0 {
		all = append(all, Condition{Code: ForTags, Met: slices.ContainsFunc(b.Tags, func(t string) bool { return slices.Contains(p.Tags, t) })})
	}
	if len(b.Words) > 0 {
		title := wordsOf(p.Title)
		missing := func(w string) bool { return !containsRow(title, wordsOf(w)) }
		all = append(all, Condition{Code: ForWords, Met: !slices.ContainsFunc(b.Words, missing)})
	}
	return all
}

// wordsOf are the words of a text, in lower case, without what stands between them.
func wordsOf(text string) []string {
	return strings.FieldsFunc(strings.ToLower(text), func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) })
}

// containsRow reports whether some words stand in a text, one after the other.
func containsRow(text, row []string) bool {
	for i := 0; i+len(row) <= len(text); i++ {
		if slices.Equal(text[i:i+len(row)], row) {
			return true
		}
	}
	return false
}

func allMet(all []Condition) bool {
	return !slices.ContainsFunc(all, func(c Condition) bool { return !c.Met })
}

// Why returns all conditions that a banner must meet to show on a page on a day, those that
// are not met first. It shows to visitors, in its turn, exactly if all are met. others are the
// banners of the same spot; the banner itself may be among them.
func Why(r rules.Rules, b Banner, others []Banner, p Page, day string) []Condition {
	all := b.alone(r, p, day)
	turn := Condition{Code: HasTurn, Met: true}
	if spot, ok := r.Spot(b.Spot); ok {
		rest := slices.DeleteFunc(slices.Clone(others), func(o Banner) bool { return o.ID == b.ID })
		if h := holder(spot, b, Running(r, spot, rest, p, day)); h != nil {
			turn.Met, turn.Holder = false, h.ID
			_, turn.Day, _ = h.Span()
		}
	}
	all = append(all, turn)
	slices.SortStableFunc(all, func(x, y Condition) int { return met(x) - met(y) })
	return all
}

func met(c Condition) int {
	if c.Met {
		return 1
	}
	return 0
}

// HeldBy returns the banner that has the spot to itself on a day, on whichever page both may run;
// false where none keeps b from its turn.
func HeldBy(spot rules.Spot, b Banner, others []Banner, day string) (Banner, bool) {
	var running []Banner
	for _, o := range others {
		if o.ID != b.ID && o.Spot == spot.ID && o.Approved && o.Fit && !o.Stopped && o.RunsOn(day) {
			running = append(running, o)
		}
	}
	slices.SortFunc(running, order)
	if h := holder(spot, b, running); h != nil {
		return *h, true
	}
	return Banner{}, false
}

// holder is which of the running banners keeps another from ever having its turn; nil for none.
func holder(spot rules.Spot, b Banner, running []Banner) *Banner {
	for _, o := range running {
		switch {
		case b.Own != o.Own:
			if b.Own { // the house's own shows only where nothing else runs
				return &o
			}
		case spot.Turn == rules.InOrder && before(o, b):
			return &o
		}
	}
	return nil
}
