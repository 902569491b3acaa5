package desk_test

import (
	"archive/zip"
	"bytes"
	"context"
	"image"
	"io"
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
	"mivlet/desk/pages"
	"mivlet/desk/publish"
	"mivlet/store"
)

// What says stop keeps a page from going live, unless a publisher signs for it; the
// reason is kept with the live page.
func TestAStopIsSignedForWithAReason(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	ctx := context.Background()
	_, err := b.Pages.AddBlock(b.page, page.Behind("a"), page.Picture, "", "")
	require.NoError(t, err)
	_, err = b.Publish.Publish(ctx, b.page, b.view().Seen, "", plainLayout)
	refusal(t, err, access.Bad, "still needs a picture")
	_, err = b.Publish.Publish(ctx, b.page, b.view().Seen, "  so   what ", plainLayout)
	refusal(t, err, access.Bad, "not ready")
	assert.False(t, b.view().Live())
	_, err = b.Publish.Publish(ctx, b.page, b.view().Seen, "The photo comes on Monday.", plainLayout)
	require.NoError(t, err)
	assert.Contains(t, b.livePage(), "One.")
	assert.NotContains(t, b.livePage(), "<figure", "a place that waits is left out")
	lives, err := b.Publish.Lives(b.page)
	require.NoError(t, err)
	sign, err := publish.Signature(lives[0])
	require.NoError(t, err)
	require.NotNil(t, sign)
	assert.Equal(t, "The photo comes on Monday.", sign.Reason)
	assert.Equal(t, []string{"This place still needs a picture."}, sign.Stops)

	v := b.view()
	require.NoError(t, b.Pages.Mend(b.page, v.Findings[0].Block, 0, v.Findings[0].Mend.Do, v.Findings[0].Mend.Value))
	assert.Empty(t, b.view().Findings)
	refusal(t, b.Pages.Mend(b.page, v.Findings[0].Block, 0, audit.DropPlace, ""), access.Missing, "fixed already")
	_, err = b.Publish.Publish(ctx, b.page, b.view().Seen, "", plainLayout)
	require.NoError(t, err)
	lives, err = b.Publish.Lives(b.page)
	require.NoError(t, err)
	sign, err = publish.Signature(lives[0])
	require.NoError(t, err)
	assert.Nil(t, sign)
}

// A file from the desktop goes the way of every arrival and lands in its gap, with
// what it lacks; or in the place that waits for one.
func TestAFileLandsOnThePage(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	block, err := b.Pages.Land(b.page, pages.Target{Gap: page.Behind("a")}, "DSC_0077.JPG", bytes.NewReader(photo(1600, 1000, 7)))
	require.NoError(t, err)
	v := b.view()
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

	place, err := b.Pages.AddBlock(b.page, page.Behind("b"), page.Pair, "", "")
	require.NoError(t, err)
	_, err = b.Pages.Land(b.page, pages.Target{Block: place, Nth: 1, Mark: b.mark(place)}, "DSC_0078.JPG", bytes.NewReader(photo(1600, 1000, 8)))
	require.NoError(t, err)
	after, _ := b.view().Doc.Block(place)
	assert.True(t, after.Pictures[0].Waits())
	assert.False(t, after.Pictures[1].Waits())

	files := b.files()
	_, err = b.Pages.Land(b.page, pages.Target{Block: place, Mark: "stale"}, "DSC_0079.JPG", bytes.NewReader(photo(800, 500, 9)))
	refusal(t, err, access.Clash, "Somebody else")
	_, err = b.Pages.Land(b.page, pages.Target{}, "notes.jpg", strings.NewReader("no picture at all"))
	refusal(t, err, access.Bad, "not a picture")
	assert.Equal(t, files, b.files(), "what is refused leaves nothing behind")
}

// Documents, by their bytes; never what acts in a browser or on a machine.
func TestFilesToTakeAlong(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	block, err := b.Pages.AddFile(b.page, page.Behind("a"), `C:\sheets\Vest Sizes.csv`, strings.NewReader("vest,weight\nS,30\nM,50\n"))
	require.NoError(t, err)
	f, _ := b.view().Doc.Block(block)
	assert.Equal(t, "vest-sizes.csv", f.File.Name)
	assert.Equal(t, "text/csv", f.File.MediaType)
	for name, bad := range map[string]string{
		"page.txt": "<!doctype html><html><script>alert(1)</script></html>", "run.csv": "#!/bin/sh\nrm -rf x\n", "a.svg": `<svg xmlns="http://www.w3.org/2000/svg"><script>1</script></svg>`,
		"a.pdf": "MZ\x90\x00\x03\x00\x00\x00\x04\x00\x00\x00", "photo.pdf": string(photo(40, 30, 1)), "empty.csv": "",
	} {
		_, err := b.Pages.AddFile(b.page, page.Gap{}, name, strings.NewReader(bad))
		assert.Error(t, err, name)
	}
	_, err = b.Pages.AddFile(b.page, page.Gap{}, "big.txt", io.LimitReader(endless{}, 26<<20))
	refusal(t, err, access.TooMuch, "larger than 25 MB")

	_, err = b.Publish.Publish(context.Background(), b.page, b.view().Seen, "", plainLayout)
	require.NoError(t, err)
	doc, err := goquery.NewDocumentFromReader(strings.NewReader(b.livePage()))
	require.NoError(t, err)
	at, mark, _ := strings.Cut(doc.Find("a[download]").AttrOr("href", ""), "?v=")
	live, err := b.Publish.Published(at, mark)
	require.NoError(t, err)
	defer live.Close()
	data, err := io.ReadAll(live)
	require.NoError(t, err)
	assert.Equal(t, "vest,weight\nS,30\nM,50\n", string(data))
	shown, err := b.Pages.OpenFile(b.page, f.File.Hash)
	require.NoError(t, err)
	shown.Close()
}

func TestAnotherPictureInTheSamePlace(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	first, second := b.ready("juniors-boat", 1), b.ready("juniors-jetty", 2)
	block := b.place(first)
	require.NoError(t, b.Pages.SetPlacement(b.page, block, 0, b.mark(block), page.Placement{Slot: "side", Side: page.Right, Caption: "At nine", Alt: "Only of the first"}))
	seen := b.mark(block)
	require.NoError(t, b.Pages.Replace(b.page, block, 0, seen, second))
	p := *b.view().Blocks[1].Placement
	assert.Equal(t, page.Placement{Picture: second, Slot: "side", Side: page.Right, Caption: "At nine"}, p, "the place stays; what was said of the first does not")
	refusal(t, b.Pages.Replace(b.page, block, 0, seen, first), access.Clash, "Somebody else")
	assert.Equal(t, store.Bench, b.picture(first).Station)
	assert.Equal(t, store.Shelf, b.picture(second).Station)

	strip, err := b.Pages.AddBlock(b.page, page.Behind("b"), page.Strip, "", "")
	require.NoError(t, err)
	require.NoError(t, b.Pages.AddToStrip(b.page, strip, b.mark(strip), first))
	s, _ := b.view().Doc.Block(strip)
	assert.Len(t, s.Pictures, 4)
	refusal(t, b.Pages.AddToStrip(b.page, block, b.mark(block), first), access.Bad, "not a strip")
}

// Every measure of a placement has its bounds, with the reason.
func TestMeasuresThatNoPictureCanHave(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	block := b.place(b.ready("juniors-boat", 1))
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
		refusal(t, b.Pages.SetPlacement(b.page, block, 0, b.mark(block), p), access.Bad, text)
	}
	band, err := b.Pages.AddBlock(b.page, page.Behind("b"), page.Band, "two", "")
	require.NoError(t, err)
	for text, f := range map[string]page.BandLayout{
		"no pattern": {Pattern: "poster"}, "width cannot": {Pattern: "two", Cap: 10}, "space cannot": {Pattern: "two", Gutter: &layout.Lengths{Phone: 999}},
		"no background": {Pattern: "two", Ground: "plaid"}, "leaves out a column": {Pattern: "two", Order: []int{0, 0}},
	} {
		refusal(t, b.Pages.SetBand(b.page, band, b.mark(band), f), access.Bad, text)
	}
	require.NoError(t, b.Pages.SetBand(b.page, band, b.mark(band), page.BandLayout{Pattern: "two", Order: []int{1, 0}, Ground: page.Deep}))
	refusal(t, b.Pages.SetBand(b.page, band, "stale", page.BandLayout{Pattern: "two"}), access.Clash, "Somebody else")
	heading, err := b.Pages.AddBlock(b.page, page.Gap{After: band, Column: 1}, page.Heading, "", "Right")
	require.NoError(t, err)
	h, _ := b.view().Doc.Block(heading)
	assert.Equal(t, 1, h.Column)
	require.NoError(t, b.Pages.SetLevel(b.page, heading, 3))
	refusal(t, b.Pages.SetLevel(b.page, heading, 1), access.Bad, "levels 2 to 4")
	require.NoError(t, b.Pages.MoveBlockTo(b.page, heading, page.Behind("a")))
	assert.Equal(t, heading, b.view().Blocks[1].ID)
}

// The file of a picture is never larger than it is shown: a narrower place has cuts of
// its own.
func TestTheCutFollowsThePlace(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	block := b.place(b.ready("juniors-boat", 1))
	require.NoError(t, b.Pages.SetPlacement(b.page, block, 0, b.mark(block), page.Placement{Slot: "column", Side: page.Left, Rule: &layout.Rule{Fixed: 220}}))
	assert.Equal(t, 220, b.view().Blocks[1].Shown[0].Slot.Width)
	_, err := b.Publish.Publish(context.Background(), b.page, b.view().Seen, "", plainLayout)
	require.NoError(t, err)
	doc, err := goquery.NewDocumentFromReader(strings.NewReader(b.livePage()))
	require.NoError(t, err)
	img := doc.Find("figure img")
	assert.Equal(t, "220", img.AttrOr("width", ""))
	assert.Contains(t, img.AttrOr("srcset", ""), "440w")
	assert.NotContains(t, img.AttrOr("srcset", ""), "1280w")
	assert.Equal(t, "(max-width: 249px) calc(100vw - 30px), 220px", img.AttrOr("sizes", ""), "on every screen that has 220 px")
}

// By a rule of the house the address of a file changes in its name; so does what is
// told of a picture that looks otherwise now.
func TestWhatVisitorsSeeDifferently(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	require.NoError(t, b.House.ChangeRules(func(r rules.Rules) (rules.Rules, error) { r.Placing.CutMark = "suffix"; return r, nil }))
	_, err := b.House.ApplyRules("caches that ignore what stands behind the question mark")
	require.NoError(t, err)
	picture := b.ready("juniors-boat", 1)
	block := b.place(picture)
	publish := func() string {
		_, err := b.Publish.Publish(context.Background(), b.page, b.view().Seen, "", plainLayout)
		require.NoError(t, err)
		doc, err := goquery.NewDocumentFromReader(strings.NewReader(b.livePage()))
		require.NoError(t, err)
		return doc.Find("img").AttrOr("src", "")
	}
	first := publish()
	assert.Regexp(t, `^/juniors/juniors-boat-640-[0-9a-f]{16}\.jpg$`, first)
	f, err := b.Publish.Published(first, "")
	require.NoError(t, err)
	f.Close()

	require.NoError(t, b.Bench.SetFrame(picture, image.Rect(0, 0, 1500, 900)))
	changes, err := b.Publish.Changes(b.page)
	require.NoError(t, err)
	require.Len(t, changes, 1)
	assert.Equal(t, "picture", changes[0].What)
	assert.Equal(t, block, changes[0].Block.ID)
	assert.Equal(t, f.Tag, changes[0].Was, "what they see now")
	assert.Equal(t, picture, changes[0].Now.ID)
	assert.NotEqual(t, first, publish())
	changes, err = b.Publish.Changes(b.page)
	require.NoError(t, err)
	assert.Empty(t, changes)
}

func TestTheStationKnowsItsPages(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	_, err := b.Pages.AddBlock(b.page, page.Behind("a"), page.Picture, "", "")
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
	_, err = b.Publish.Publish(context.Background(), b.page, b.view().Seen, "It goes out in a hurry.", plainLayout)
	require.NoError(t, err)
	require.NoError(t, b.Pages.SetText(b.page, "a", b.mark("a"), "Other."))
	lines, err = b.Pages.PageLines()
	require.NoError(t, err)
	for _, l := range lines {
		if l.ID == b.page {
			assert.Equal(t, "changed", l.State())
		}
	}
}

// All pages of a section as one archive: each link of its index leads to a page of it.
func TestASectionIsTakenAlong(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	b.place(b.ready("juniors-boat", 1))
	_, err := b.Pages.NewPage("juniors", "Spring", "empty")
	require.NoError(t, err)
	var file bytes.Buffer
	require.NoError(t, b.Publish.SectionArchive(&file, "juniors", publish.Dressing{CSS: []byte("p {}"), Script: []byte("1")}))
	z, err := zip.NewReader(bytes.NewReader(file.Bytes()), int64(file.Len()))
	require.NoError(t, err)
	index, err := z.Open("index.html")
	require.NoError(t, err)
	doc, err := goquery.NewDocumentFromReader(index)
	require.NoError(t, err)
	links := doc.Find("main a")
	assert.Equal(t, 2, links.Length())
	links.Each(func(_ int, a *goquery.Selection) {
		f, err := z.Open(a.AttrOr("href", ""))
		if assert.NoError(t, err) {
			f.Close()
		}
	})
	refusal(t, b.Publish.SectionArchive(io.Discard, "touring", publish.Dressing{}), access.Bad, "no page yet")
}

// The tray finds on the bench and on the shelves.
func TestTheTrayIsSearched(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	boat, jetty := b.ready("juniors-boat", 1), b.ready("juniors-jetty", 2)
	b.place(jetty)
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
	b := fresh(t)
	ines, odo := b.two()
	visit, err := ines.Pages.EnterPage(b.page)
	require.NoError(t, err)
	defer visit.Leave()
	other, err := odo.Pages.EnterPage(b.page)
	require.NoError(t, err)
	defer other.Leave()
	require.NoError(t, odo.Pages.BeAt(b.page, "a"))
	assert.Equal(t, "a", visit.Others()[0].At)
	require.NoError(t, odo.Pages.BeAt(b.page, ""))
	assert.Empty(t, visit.Others()[0].At)
}

// The look back at a live page finds what a visitor would: what leads to an original, a
// stylesheet that does not come, and a picture that is not described. What was said to
// be decorative is well.
func TestTheLookBackAtALivePage(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	ctx := context.Background()
	picture := b.ready("juniors-boat", 1)
	block := b.place(picture)
	require.NoError(t, b.Pages.SetPlacement(b.page, block, 0, b.mark(block), page.Placement{Slot: "column", Decorative: true, Link: page.Link{Kind: rules.EnlargeLink}}))
	report, err := b.Publish.Publish(ctx, b.page, b.view().Seen, "", plainLayout)
	require.NoError(t, err)
	assert.True(t, report.OK(), report)
	told := ""
	for _, c := range report.Checks {
		told += c.Text + "\n"
	}
	assert.Contains(t, told, "is decorative here, as was said")
	assert.Contains(t, told, "Enlarged: 1600 × 1000")
	assert.Contains(t, told, "Nothing on it leads to an original")

	for text, extra := range map[string]string{
		"leads to its original": `<a href="/originals/` + b.picture(picture).OriginalHash + `">as it came</a>`,
		"does not come":         `<link rel="stylesheet" href="/gone.css">`,
	} {
		bad := func(w io.Writer, p publish.SitePage) error {
			if err := plainLayout(w, p); err != nil {
				return err
			}
			_, err := io.WriteString(w, extra)
			return err
		}
		report, err := b.Publish.Publish(ctx, b.page, b.view().Seen, "", bad)
		require.NoError(t, err)
		assert.False(t, report.OK())
		assert.Contains(t, report.Checks[len(report.Checks)-1].Text+report.Checks[len(report.Checks)-2].Text, text)
	}
}
