package banner

import (
	"mivlet/core/audit"
	"mivlet/core/rules"
	"mivlet/core/words"
)

// Fault names what falls short in a banner. Its sentence stands in the package sentences, with
// the values in their order.
type Fault string

// The findings of a banner. The values that follow each are told in brackets.
const (
	NoSpot     Fault = "no-spot"
	NoPicture  Fault = "no-picture"
	OfPicture  Fault = "of-picture"  // [an audit.Finding of its picture]
	TooSmall   Fault = "too-small"   // [pixels it has, pixels it needs]
	NotSharp   Fault = "not-sharp"   // [pixels for each CSS px]
	SmallText  Fault = "small-text"  // [height of the smallest letters, CSS px; where: "a phone" or "a desktop"]
	NoAlt      Fault = "no-alt"      //
	OfAlt      Fault = "of-alt"      // [a words.Remark]
	NoAddress  Fault = "no-address"  //
	NotLive    Fault = "not-live"    // [its address]
	NoOccasion Fault = "no-occasion" //
	NeverRuns  Fault = "never-runs"  // [title of the occasion]
	IsOver     Fault = "is-over"     // [its last day]
	OwnUnasked Fault = "own-unasked" // [title of the spot]
	SpotUnused Fault = "spot-unused" // [title of the spot]
	NotOnThose Fault = "not-there"   // [title of the spot]
)

// Finding is one thing that falls short in a banner: a code with its values.
type Finding struct {
	Level  words.Level
	Code   Fault
	Values []any
}

// SmallLetters is the height in CSS px below which letters in a banner are hard to read: about
// that of capitals in text of 12 px (common practice).
const SmallLetters = 8

// Shown is the picture of a banner as it is shown at one of the sizes of its spot.
type Shown struct {
	Phone   bool
	Has     int     // pixels across that the picture has for it
	Needs   int     // CSS px across
	Sharp   float64 // pixels for each CSS px of its largest file
	Letters float64 // height of the smallest letters in it, in CSS px; 0 where none were found
}

// Findings returns what falls short in a banner, the worst first. stops are what keeps its
// picture from going live; shown is it at each size, nothing where there is no picture; there
// tells whether something is live at a path of the site itself.
func (b Banner) Findings(r rules.Rules, today string, stops []audit.Finding, shown []Shown, there func(string) bool) []Finding {
	var all []Finding
	note := func(level words.Level, code Fault, values ...any) {
		all = append(all, Finding{level, code, values})
	}
	spot, known := r.Spot(b.Spot)
	if !known {
		note(words.Stop, NoSpot)
	}
	if b.Picture == 0 {
		note(words.Stop, NoPicture)
	}
	for _, f := range stops {
		note(words.Stop, OfPicture, f)
	}
	for _, s := range shown {
		if s.Has < s.Needs {
			note(words.Stop, TooSmall, s.Has, s.Needs)
		}
	}
	if b.Alt == "" {
		note(words.Stop, NoAlt)
	}
	switch kind, path := audit.Address(b.Address, ""); {
	case b.Address == "":
		note(words.Stop, NoAddress)
	case kind == audit.OnSite && !there(path):
		note(words.Warn, NotLive, b.Address)
	}
	for _, remark := range words.Check(words.Said{Alt: b.Alt, Links: true, Watch: r.Hiding.Watch, Language: r.Words.Language, Longest: r.Words.LongestAlt}) {
		if b.Alt != "" {
			note(remark.Level, OfAlt, remark)
		}
	}
	b.daysShort(today, note)
	switch {
	case !known:
	case b.Own && spot.Empty != rules.ShowOwn:
		note(words.Warn, OwnUnasked, spot.Title)
	case spot.Where != rules.AsBlock && len(spot.On) == 0:
		note(words.Warn, SpotUnused, spot.Title)
	case len(b.Sections) > 0 && spot.Where != rules.AsBlock && !b.meets(spot):
		note(words.Warn, NotOnThose, spot.Title)
	}
	for _, s := range shown {
		if s.Letters > 0 && s.Letters < SmallLetters {
			where := "a desktop"
			if s.Phone {
				where = "a phone"
			}
			note(words.Warn, SmallText, s.Letters, where)
		}
		if s.Has >= s.Needs && s.Sharp < 1.5 {
			note(words.Hint, NotSharp, s.Sharp)
		}
	}
	return worstFirst(all)
}

// daysShort tells what keeps the banner from showing on any day to come.
func (b Banner) daysShort(today string, note func(words.Level, Fault, ...any)) {
	switch _, until, ok := b.Span(); {
	case !b.Own && b.In == nil:
		note(words.Warn, NoOccasion)
	case !ok:
		note(words.Warn, NeverRuns, b.In.Title)
	case until != "" && until < today:
		note(words.Warn, IsOver, until)
	}
}

// meets reports whether the spot stands on pages of one of the banner's sections.
func (b Banner) meets(spot rules.Spot) bool {
	for _, s := range b.Sections {
		if spot.StandsOn(s, true) || spot.StandsOn(s, false) {
			return true
		}
	}
	return false
}

func worstFirst(all []Finding) []Finding {
	var sorted []Finding
	for _, level := range []words.Level{words.Stop, words.Warn, words.Hint} {
		for _, f := range all {
			if f.Level == level {
				sorted = append(sorted, f)
			}
		}
	}
	return sorted
}
