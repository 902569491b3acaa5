package pages_test

import (
	"bytes"
	"context"
	"strings"
	"testing"

	"github.com/PuerkitoBio/goquery"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/audit"
	"mivlet/core/layout"
	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/desk/pages"
	"mivlet/desk/publish"
	"mivlet/store"
)

// What says stop keeps a page from going live, unless a publisher signs for it; the
// reason is kept with the live page.
func TestAStopIsSignedForWithAReason(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	ctx := context.Background()
	_, err := b.Pages.AddBlock(b.PageID, page.Behind("a"), page.Picture, "", "")
	require.NoError(t, err)
	_, err = b.Publish.Publish(ctx, b.PageID, b.PageView().Seen, "", desktest.PlainLayout)
	desktest.Refusal(t, err, access.Bad, "still needs a picture")
	_, err = b.Publish.Publish(ctx, b.PageID, b.PageView().Seen, "  so   what ", desktest.PlainLayout)
	desktest.Refusal(t, err, access.Bad, "not ready")
	assert.False(t, b.PageView().Live())
	_, err = b.Publish.Publish(ctx, b.PageID, b.PageView().Seen, "The photo comes on Monday.", desktest.PlainLayout)
	require.NoError(t, err)
	assert.Contains(t, b.LivePage(), "One.")
	assert.NotContains(t, b.LivePage(), "<figure", "a place that waits is left out")
	lives, err := b.Publish.Lives(b.PageID)
	require.NoError(t, err)
	sign, err := publish.Signature(lives[0])
	require.NoError(t, err)
	require.NotNil(t, sign)
	assert.Equal(t, "The photo comes on Monday.", sign.Reason)
	assert.Equal(t, []string{"This place still needs a picture."}, sign.Stops)

	v := b.PageView()
	require.NoError(t, b.Pages.Mend(b.PageID, v.Findings[0].Block, 0, v.Findings[0].Mend.Do, v.Findings[0].Mend.Value))
	assert.Empty(t, b.PageView().Findings)
	desktest.Refusal(t, b.Pages.Mend(b.PageID, v.Findings[0].Block, 0, audit.DropPlace, ""), access.Missing, "fixed already")
	_, err = b.Publish.Publish(ctx, b.PageID, b.PageView().Seen, "", desktest.PlainLayout)
	require.NoError(t, err)
	lives, err = b.Publish.Lives(b.PageID)
	require.NoError(t, err)
	sign, err = publish.Signature(lives[0])
	require.NoError(t, err)
	assert.Nil(t, sign)
}

// A file from the desktop goes the way of every arrival and lands in its gap, with
// what it lacks; or in the place that waits for one.
func TestAFileLandsOnThePage(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	block, err := b.Pages.Land(b.PageID, pages.Target{Gap: page.Behind("a")}, "DSC_0077.JPG", bytes.NewReader(desktest.Photo(1600, 1000, 7)))
	require.NoError(t, err)
	v := b.PageView()
	assert.Equal(t, block, v.Blocks[1].ID)
	pic := v.Blocks[1].Shown[0].Shows
	assert.Equal(t, "DSC_0077.JPG", pic.OriginalName)
	assert.Equal(t, "juniors", pic.Section)
	assert.Equal(t, store.Bench, pic.Station, "it is still worked on")
	stops := map[audit.Stretch]bool{}
	for _, f := range v.Stops() {
		stops[f.Step] = true
	}
	assert.Equal(t, map[audit.Stretch]bool{audit.Name: true, audit.Describe: true}, stops)

	place, err := b.Pages.AddBlock(b.PageID, page.Behind("b"), page.Pair, "", "")
	require.NoError(t, err)
	_, err = b.Pages.Land(b.PageID, pages.Target{Block: place, Nth: 1, Mark: b.MarkOf(place)}, "DSC_0078.JPG", bytes.NewReader(desktest.Photo(1600, 1000, 8)))
	require.NoError(t, err)
	after, _ := b.PageView().Doc.Block(place)
	assert.True(t, after.Pictures[0].Waits())
	assert.False(t, after.Pictures[1].Waits())

	files := b.CountFiles()
	_, err = b.Pages.Land(b.PageID, pages.Target{Block: place, Mark: "stale"}, "DSC_0079.JPG", bytes.NewReader(desktest.Photo(800, 500, 9)))
	desktest.Refusal(t, err, access.Clash, "Somebody else")
	_, err = b.Pages.Land(b.PageID, pages.Target{}, "notes.jpg", strings.NewReader("no picture at all"))
	desktest.Refusal(t, err, access.Bad, "not a picture")
	assert.Equal(t, files, b.CountFiles(), "what is refused leaves nothing behind")
}

func TestAnotherPictureInTheSamePlace(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	first, second := b.Ready("juniors-boat", 1), b.Ready("juniors-jetty", 2)
	block := b.Place(first)
	require.NoError(t, b.Pages.SetPlacement(b.PageID, block, 0, b.MarkOf(block), page.Placement{Slot: "side", Side: page.Right, Caption: "At nine", Alt: "Only of the first"}))
	seen := b.MarkOf(block)
	require.NoError(t, b.Pages.Replace(b.PageID, block, 0, seen, second))
	p := *b.PageView().Blocks[1].Placement
	assert.Equal(t, page.Placement{Picture: second, Slot: "side", Side: page.Right, Caption: "At nine"}, p, "the place stays; what was said of the first does not")
	desktest.Refusal(t, b.Pages.Replace(b.PageID, block, 0, seen, first), access.Clash, "Somebody else")
	assert.Equal(t, store.Bench, b.PictureOf(first).Station)
	assert.Equal(t, store.Shelf, b.PictureOf(second).Station)

	strip, err := b.Pages.AddBlock(b.PageID, page.Behind("b"), page.Strip, "", "")
	require.NoError(t, err)
	require.NoError(t, b.Pages.AddToStrip(b.PageID, strip, b.MarkOf(strip), first))
	s, _ := b.PageView().Doc.Block(strip)
	assert.Len(t, s.Pictures, 4)
	desktest.Refusal(t, b.Pages.AddToStrip(b.PageID, block, b.MarkOf(block), first), access.Bad, "not a strip")
}

// Every measure of a placement has its bounds, with the reason.
func TestMeasuresThatNoPictureCanHave(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	block := b.Place(b.Ready("juniors-boat", 1))
	good := page.Placement{Slot: "column", Side: page.None}
	for text, change := range map[string]func(*page.Placement){
		"width cannot":       func(p *page.Placement) { p.Rule = &layout.Rule{Percent: 101} },
		"That space cannot":  func(p *page.Placement) { p.Air = &page.Edges{Top: -1} },
		"border cannot":      func(p *page.Placement) { p.Line = &page.Border{Width: 1, Colour: "red;}"} },
		"shadow cannot":      func(p *page.Placement) { p.Shadow = &page.Shadow{X: 400, Colour: "#000000"} },
		"is no address":      func(p *page.Placement) { p.Link = page.Link{Kind: rules.AddressLink, Address: "javascript:alert(1)"} },
		"is no kind of link": func(p *page.Placement) { p.Link = page.Link{Kind: "file"} },
		"is no side":         func(p *page.Placement) { p.Side = "up" },
		"No slot":            func(p *page.Placement) { p.Slot = "" },
	} {
		p := good
		change(&p)
		desktest.Refusal(t, b.Pages.SetPlacement(b.PageID, block, 0, b.MarkOf(block), p), access.Bad, text)
	}
	band, err := b.Pages.AddBlock(b.PageID, page.Behind("b"), page.Band, "two", "")
	require.NoError(t, err)
	for text, f := range map[string]page.BandLayout{
		"no pattern": {Pattern: "poster"}, "width cannot": {Pattern: "two", Cap: 10}, "space cannot": {Pattern: "two", Gutter: &layout.Lengths{Phone: 999}},
		"no background": {Pattern: "two", Ground: "plaid"}, "leaves out a column": {Pattern: "two", Order: []int{0, 0}},
	} {
		desktest.Refusal(t, b.Pages.SetBand(b.PageID, band, b.MarkOf(band), f), access.Bad, text)
	}
	require.NoError(t, b.Pages.SetBand(b.PageID, band, b.MarkOf(band), page.BandLayout{Pattern: "two", Order: []int{1, 0}, Ground: page.Deep}))
	desktest.Refusal(t, b.Pages.SetBand(b.PageID, band, "stale", page.BandLayout{Pattern: "two"}), access.Clash, "Somebody else")
	heading, err := b.Pages.AddBlock(b.PageID, page.Gap{After: band, Column: 1}, page.Heading, "", "Right")
	require.NoError(t, err)
	h, _ := b.PageView().Doc.Block(heading)
	assert.Equal(t, 1, h.Column)
	require.NoError(t, b.Pages.SetLevel(b.PageID, heading, 3))
	desktest.Refusal(t, b.Pages.SetLevel(b.PageID, heading, 1), access.Bad, "levels 2 to 4")
	require.NoError(t, b.Pages.MoveBlockTo(b.PageID, heading, page.Behind("a")))
	assert.Equal(t, heading, b.PageView().Blocks[1].ID)
}

// The file of a picture is never larger than it is shown: a narrower place has cuts of
// its own.
func TestTheCutFollowsThePlace(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	block := b.Place(b.Ready("juniors-boat", 1))
	require.NoError(t, b.Pages.SetPlacement(b.PageID, block, 0, b.MarkOf(block), page.Placement{Slot: "column", Side: page.Left, Rule: &layout.Rule{Fixed: 220}}))
	assert.Equal(t, 220, b.PageView().Blocks[1].Shown[0].Slot.Width)
	_, err := b.Publish.Publish(context.Background(), b.PageID, b.PageView().Seen, "", desktest.PlainLayout)
	require.NoError(t, err)
	doc, err := goquery.NewDocumentFromReader(strings.NewReader(b.LivePage()))
	require.NoError(t, err)
	img := doc.Find("figure img")
	assert.Equal(t, "220", img.AttrOr("width", ""))
	assert.Contains(t, img.AttrOr("srcset", ""), "440w")
	assert.NotContains(t, img.AttrOr("srcset", ""), "1280w")
	assert.Equal(t, "(max-width: 249px) calc(100vw - 30px), 220px", img.AttrOr("sizes", ""), "on every screen that has 220 px")
}

func TestTheStationKnowsItsPages(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	_, err := b.Pages.AddBlock(b.PageID, page.Behind("a"), page.Picture, "", "")
	require.NoError(t, err)
	_, err = b.Pages.NewPage("juniors", "Spring", "account")
	require.NoError(t, err)
	lines, err := b.Pages.PageLines()
	require.NoError(t, err)
	byTitle := map[string]pages.PageLine{}
	for _, l := range lines {
		byTitle[l.Doc.Title] = l
	}
	assert.Equal(t, 1, byTitle["Autumn"].Stops)
	assert.Equal(t, "draft", byTitle["Autumn"].State())
	assert.NotEmpty(t, byTitle["Autumn"].By)
	assert.Equal(t, 3, byTitle["Spring"].Warns, "the arrangement's own words still stand there")
	_, err = b.Publish.Publish(context.Background(), b.PageID, b.PageView().Seen, "It goes out in a hurry.", desktest.PlainLayout)
	require.NoError(t, err)
	require.NoError(t, b.Pages.SetText(b.PageID, "a", b.MarkOf("a"), "Other."))
	lines, err = b.Pages.PageLines()
	require.NoError(t, err)
	for _, l := range lines {
		if l.ID == b.PageID {
			assert.Equal(t, "changed", l.State())
		}
	}
}

// The tray finds on the bench and on the shelves.
func TestTheTrayIsSearched(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	boat, jetty := b.Ready("juniors-boat", 1), b.Ready("juniors-jetty", 2)
	b.Place(jetty)
	all, err := b.Pages.Tray("")
	require.NoError(t, err)
	assert.Len(t, all, 2)
	found, err := b.Pages.Tray("jet")
	require.NoError(t, err)
	require.Len(t, found, 1)
	assert.Equal(t, jetty, found[0].ID)
	found, err = b.Pages.Tray("juniors-boat")
	require.NoError(t, err)
	require.NotEmpty(t, found)
	assert.Equal(t, boat, found[0].ID, "the bench comes first")
	none, err := b.Pages.Tray("nothing like it")
	require.NoError(t, err)
	assert.Empty(t, none)
}

// Who is at work where is told to the others who have the page open.
func TestOthersSeeWhereTheHandIs(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	ines, odo := b.TwoPeople()
	visit, err := ines.Pages.EnterPage(b.PageID)
	require.NoError(t, err)
	defer visit.Leave()
	other, err := odo.Pages.EnterPage(b.PageID)
	require.NoError(t, err)
	defer other.Leave()
	require.NoError(t, odo.Pages.BeAt(b.PageID, "a"))
	assert.Equal(t, "a", visit.Others()[0].At)
	require.NoError(t, odo.Pages.BeAt(b.PageID, ""))
	assert.Empty(t, visit.Others()[0].At)
}
