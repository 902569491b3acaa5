package rules

import (
	"mivlet/core/layout"
	"mivlet/core/naming"
)

// Ready is a set of rules to start from.
type Ready struct {
	ID, Title, Purpose string
	Rules              Rules
}

// ReadyMade returns the rules a house can start from.
func ReadyMade() []Ready {
	return []Ready{
		{"club", "A club", "Short pages with many photos; sections by what people do.", Default()},
		{"school", "A school", "Year groups, a strip of pictures on every page, who may be seen is always asked.", school()},
		{"department", "A department", "Wider pages with a side column, scans and screenshots.", department()},
	}
}

// Screens are the densities that files of pages are made for, in device pixels for each CSS pixel
// (common practice: phones have up to 3).
var Screens = []float64{1, 2, 3}

// Default returns the rules a new house starts from: those of a club. The
// widths are rules of thumb of the trade (common practice): a text column of
// 640, a picture beside text of 300, a wide picture of 960, each for screens of
// up to three times the density.
func Default() Rules {
	return Rules{
		Version: Version,
		House:   "Our house",
		Page: PageLayout{
			Cap: 990, Breaks: layout.Breaks{Tablet: 600, Desktop: 1000}, Padding: layout.Same(15),
			Gutter: layout.Lengths{Phone: 0, Tablet: 20, Desktop: 30}, ColumnPadding: layout.Same(0),
			Patterns: []Pattern{
				{ID: "text", Title: "One column of text", Shares: []float64{1}, Cap: 670},
				{ID: "wide", Title: "One wide column", Shares: []float64{1}},
				{ID: "main-side", Title: "Main column, side column", Shares: []float64{2, 1}},
				{ID: "side-main", Title: "Side column, main column", Shares: []float64{1, 2}, Order: []int{1, 0}},
				{ID: "two", Title: "Two equal columns", Shares: []float64{1, 1}},
				{ID: "three", Title: "Three equal columns", Shares: []float64{1, 1, 1}},
			},
			Spacing: []int{0, 8, 16, 24, 40, 64},
		},
		Slots: []Slot{
			{ID: "column", Title: "Full column", Purpose: "as wide as the text", Pattern: "text", Densities: Screens, Budget: 300_000},
			{ID: "side", Title: "Side picture", Purpose: "text flows beside it", Pattern: "text", Rule: layout.Rule{Fixed: 300}, Densities: Screens, Budget: 120_000},
			{ID: "wide", Title: "Wide", Purpose: "reaches past the text on both sides", Pattern: "wide", Densities: Screens, Budget: 500_000},
			{ID: "half", Title: "Half", Purpose: "one of two equal columns", Pattern: "two", Densities: Screens, Budget: 250_000},
			{ID: "activity", Title: "Beside facts", Purpose: "the wider of two columns, with words and facts beside it", Pattern: "main-side", Shape: "3:2", Densities: Screens, Budget: 250_000},
			{ID: "strip", Title: "Sliding strip", Purpose: "the height rules, the strip slides sideways", Height: 300, Densities: Screens, Budget: 300_000},
			{ID: "thumb", Title: "Thumbnail", Purpose: "in albums and lists", Width: 150, Height: 150, Densities: Screens, Budget: 40_000},
			{ID: "link", Title: "Link picture", Purpose: "shown where a page is shared", Width: 1200, Height: 675, Densities: []float64{1}, Budget: 300_000, Formats: []string{"jpeg", "png"}},
		},
		Types:     usualTypes(),
		Limits:    Limits{Bytes: 60_000_000, Side: 30_000, Pixels: 120_000_000, BinDays: 30, Frames: 600, FramePixels: 120_000_000},
		TextSizes: UsualTextSizes,
		Placing:   Placing{Air: 10, Line: 1, LineColour: "#8a8172", Link: NoLink, Enlarged: 1600, Keep: []string{}, Lighter: []string{}, CutMark: "query", CacheHours: 24},
		Naming:    naming.Usual(),
		Words:     Wording{Language: "en", LongestAlt: 150, LongestCaption: 300},
		Sections:  []Section{{Code: "house", Title: "The house", Sign: "wave", Folder: "house"}},
	}.Resolved()
}

// school is ruled by an exact middle column of 450, a strip of pictures that
// slides sideways, and consent.
func school() Rules {
	r := Default().plain()
	r.Page.Cap = 1100
	r.Page.Patterns[0].Cap = 480
	r.Slots[0].Title, r.Slots[0].Purpose = "Middle column", "exactly as wide as the column, of any height"
	r.Slots[1].Rule.Fixed = 225
	r.Slots[5].Height, r.Slots[5].Budget = 600, 500_000
	r.Limits.BinDays = 90
	r.Words.ConsentAsked = true
	r.Placing.Link = EnlargeLink
	r.Sections = []Section{
		{Code: "office", Title: "Office", Sign: "bell", Folder: "office"},
		{Code: "y1", Title: "Year 1", Sign: "leaf", Folder: "year-1"},
		{Code: "y2", Title: "Year 2", Sign: "drop", Folder: "year-2"},
		{Code: "sports", Title: "Sports", Sign: "ring", Folder: "sports"},
	}
	return r.Resolved()
}

// department has wider text, a side column, and keeps credits.
func department() Rules {
	r := Default().plain()
	r.Page.Cap = 1200
	r.Page.Padding = layout.Lengths{Phone: 15, Tablet: 24, Desktop: 40}
	r.Page.Patterns[0].Cap = 800
	r.Slots[1].Rule.Fixed = 350
	r.Slots = append(r.Slots, Slot{ID: "aside", Title: "In the side column", Purpose: "beside the main column", Pattern: "main-side", Column: 1, Densities: Screens, Budget: 200_000})
	r.Placing.Keep = []string{"credit"}
	r.Words.CreditAsked = true
	r.Sections = []Section{
		{Code: "news", Title: "News", Sign: "star", Folder: "news"},
		{Code: "teaching", Title: "Teaching", Sign: "book", Folder: "teaching"},
		{Code: "research", Title: "Research", Sign: "peak", Folder: "research"},
	}
	return r.Resolved()
}
