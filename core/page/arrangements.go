package page

import "slices"

// Arrangement is what a new page can begin with.
type Arrangement struct {
	ID, Title, Purpose string
	blocks             []Block // without IDs
}

// CaptionPrompt stands where a caption is still to be written.
const CaptionPrompt = "Say who, where and when"

// waiting is a place that needs a picture.
func waiting(slot string, side Side) *Placement {
	return &Placement{Slot: slot, Side: side, Caption: CaptionPrompt}
}

// Arrangements lists what a new page can begin with. Their slots are those that
// every set of ready-made rules has; a house that has dropped one is told so on the
// page.
var Arrangements = []Arrangement{
	{"empty", "Empty", "a title, and nothing else", nil},
	{"account", "Account", "how it was: an opening picture, then what happened", []Block{
		{Kind: Text, Text: "Who was there, when, and the best moment, in two sentences."},
		{Kind: Picture, Placement: waiting("column", Centre)},
		{Kind: Heading, Text: "What happened"},
		{Kind: Text, Text: "Tell it in the order it went."},
		{Kind: Heading, Text: "Thanks"},
		{Kind: Text, Text: "Who helped."}}},
	{"notice", "Notice", "what, when, where, and whom to ask, beside a picture", []Block{
		{Kind: Beside, Placement: waiting("side", Left), Text: "What it is about, in one sentence."},
		{Kind: Text, Text: "- **When:** \n- **Where:** \n- **Bring:** "},
		{Kind: Text, Text: "Say whom to ask, and where they are found."}}},
	{"activity", "Activity", "a large picture at the left; words and facts beside it", []Block{
		{Kind: Band, Band: &BandLayout{Pattern: "main-side"}},
		{Kind: Picture, Placement: waiting("activity", None)},
		{Kind: Text, Column: 1, Text: "What happens, in two sentences."},
		{Kind: Facts, Column: 1}}},
	{"portrait", "Two columns", "words on one side, pictures on the other", []Block{
		{Kind: Text, Text: "What this is, in two sentences."},
		{Kind: Band, Band: &BandLayout{Pattern: "two", Ground: Mist}},
		{Kind: Heading, Text: "On this side"},
		{Kind: Text, Text: "What one should know."},
		{Kind: Picture, Column: 1, Placement: waiting("half", None)}}},
	{"show", "Picture show", "a wide opening, a pair, and a strip to slide through", []Block{
		{Kind: Picture, Placement: waiting("wide", Centre)},
		{Kind: Text, Text: "View here, in two sentences."},
		{Kind: Pair, Pictures: []Placement{*waiting("half", None), *waiting("half", None)}},
		{Kind: Strip, Pictures: []Placement{*waiting("strip", None), *waiting("strip", None), *waiting("strip", None)}}}},
}

// Arranged returns the blocks of an arrangement, with IDs from fresh.
func Arranged(id string, fresh func() string) ([]Block, bool) {
	for _, a := range Arrangements {
		if a.ID != id {
			continue
		}
		blocks := make([]Block, len(a.blocks))
		for i, b := range a.blocks {
			b.ID = fresh()
			blocks[i] = b
		}
		return blocks, true
	}
	return nil, false
}

// IsPrompt reports whether words are those that an arrangement began with, which
// nobody has put their own in the place of.
func IsPrompt(text string) bool {
	if text == CaptionPrompt {
		return true
	}
	return slices.ContainsFunc(Arrangements, func(a Arrangement) bool {
		return slices.ContainsFunc(a.blocks, func(b Block) bool { return b.Kind != Heading && b.Text != "" && b.Text == text })
	})
}
