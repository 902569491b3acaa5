package sentences

import "mivlet/core/banner"

var englishBanners = map[banner.Fault]string{
	banner.NoSpot:     "The house has no such spot any more. Choose another one.",
	banner.NoPicture:  "It has no picture yet. Drop a file here, or choose one.",
	banner.TooSmall:   "The picture has %[1]d pixels across, and the spot is %[2]d wide. Bring a larger one.",
	banner.NotSharp:   "A little soft on sharp screens: %.1[1]f pixels where 2 would be crisp.",
	banner.SmallText:  "The smallest letters are %.1[1]f px high on %[2]s. From 8 px they can be read. (common practice)",
	banner.NoAlt:      "Say in words where it leads, for people who cannot see it. (WCAG 2.2, F89)",
	banner.NoAddress:  "It leads nowhere yet. Enter an address.",
	banner.NotLive:    "Nothing is live at %[1]s. Publish the page, or enter another address.",
	banner.NoOccasion: "It has no occasion, so it never shows. Choose one.",
	banner.NeverRuns:  "Its days lie outside of the occasion “%[1]s”, so it never shows.",
	banner.IsOver:     "It ended on %[1]s. Move its last day, or let it rest.",
	banner.OwnUnasked: "The spot “%[1]s” shows nothing when nothing runs. A keeper can change that in the house rules.",
	banner.SpotUnused: "The spot “%[1]s” stands on no page. A keeper can change that in the house rules.",
	banner.NotOnThose: "The spot “%[1]s” stands on no page of these sections.",
}

var englishConditions = map[banner.Code]condition{
	banner.HasSpot:     {"The house has the spot “%[1]s”.", "The house has no such spot any more.", "Choose another spot"},
	banner.IsApproved:  {"A publisher has approved it.", "It is a draft: no publisher has approved it.", "Approve it"},
	banner.IsGoing:     {"Nobody has stopped it.", "It was stopped.", "Let it go on"},
	banner.IsFit:       {"Its picture can be shown.", "Its picture cannot be shown.", "See what falls short"},
	banner.HasOccasion: {"It has an occasion: %[2]s.", "It has no occasion, so it never shows.", "Choose an occasion"},
	banner.InOccasion:  {"Today is within the occasion %[2]s.", "Its occasion, %[2]s, starts %[8]s.", "Change the occasion"},
	banner.HasBegun:    {"It has started.", "It starts %[8]s.", "Move its first day"},
	banner.IsNotOver:   {"It has not ended.", "It ended %[8]s.", "Move its last day"},
	banner.OwnIsAsked:  {"The spot shows the house's own when nothing runs.", "The spot “%[1]s” shows nothing when nothing runs.", "Change the spot"},
	banner.PageIsLive:  {"The page is live.", "The page “%[4]s” is not live.", "Publish the page"},
	banner.SpotOnPage:  {"The spot is on this page.", "The spot “%[1]s” is not on pages of %[5]s.", "Change the spot"},
	banner.PageIsNew:   {"The live page has a place for the spot.", "The page was published before the spot was on it.", "Publish the page again"},
	banner.ForSection:  {"It is for pages of %[6]s, as this one is.", "It is for pages of %[6]s only, and this one is of %[5]s.", "Change its pages"},
	banner.ForTags:     {"The page has a tag that it is for.", "It is for pages with the tag %[6]s only.", "Change its pages"},
	banner.ForWords:    {"The title of the page has the words that it is for.", "It is for pages with %[6]s in their title only.", "Change its pages"},
	banner.HasTurn:     {"No other banner holds the spot.", "“%[7]s” holds the spot until %[3]s.", "Look at that banner"},
}
