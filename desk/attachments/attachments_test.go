package attachments_test

import (
	"bytes"
	"context"
	"io"
	"strings"
	"testing"

	"github.com/PuerkitoBio/goquery"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/desk/pages"
	"mivlet/store"
)

// Documents, by their bytes; never what acts in a browser or on a machine.
func TestFilesToDownload(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	block, err := b.Attachments.Add(b.PageID, page.Behind("a"), `C:\sheets\Vest Sizes.csv`, strings.NewReader("vest,weight\nS,30\nM,50\n"))
	require.NoError(t, err)
	f, _ := b.PageView().Doc.Block(block)
	assert.Equal(t, "vest-sizes.csv", f.File.Name)
	assert.Equal(t, "text/csv", f.File.MediaType)
	for name, bad := range map[string]string{
		"page.txt": "<!doctype html><html><script>alert(1)</script></html>", "run.csv": "#!/bin/sh\nrm -rf x\n", "a.svg": `<svg xmlns="http://www.w3.org/2000/svg"><script>1</script></svg>`,
		"a.pdf": "MZ\x90\x00\x03\x00\x00\x00\x04\x00\x00\x00", "photo.pdf": string(desktest.Photo(40, 30, 1)), "empty.csv": "",
	} {
		_, err := b.Attachments.Add(b.PageID, page.Gap{}, name, strings.NewReader(bad))
		assert.Error(t, err, name)
	}
	_, err = b.Attachments.Add(b.PageID, page.Gap{}, "big.txt", io.LimitReader(desktest.Endless{}, 26<<20))
	desktest.Refusal(t, err, access.TooMuch, "larger than 25 MB")

	_, err = b.Publish.Publish(context.Background(), b.PageID, b.PageView().Seen, "", desktest.PlainLayout)
	require.NoError(t, err)
	doc, err := goquery.NewDocumentFromReader(strings.NewReader(b.LivePage()))
	require.NoError(t, err)
	at, mark, _ := strings.Cut(doc.Find("a[download]").AttrOr("href", ""), "?v=")
	live, err := b.Publish.Published(at, mark)
	require.NoError(t, err)
	defer live.Close()
	data, err := io.ReadAll(live)
	require.NoError(t, err)
	assert.Equal(t, "vest,weight\nS,30\nM,50\n", string(data))
	shown, err := b.Attachments.OpenOffered(b.PageID, f.File.Hash)
	require.NoError(t, err)
	shown.Close()
}

// pdf is the beginning of a PDF (ISO 32000-1, 7.5.2), and tune that of an MP3 with tags (ID3v2.3, 3.1).
const (
	pdf  = "%PDF-1.7\n1 0 obj << >> endobj\n%%EOF\n"
	tune = "ID3\x03\x00\x00\x00\x00\x00\x0aTALB\x00\x00\x00\x00\x00\x00"
)

// turnOn adds a type to the house's list.
func turnOn(b *desktest.Fixture, kind rules.Type) {
	b.UnderRules(func(r *rules.Rules) { r.Types = append(r.Types, kind) })
}

// What the house says of a type holds for every way in: Arrivals, a page, and the shelves.
func TestTheHouseDecidesForEveryWayIn(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	waysIn := map[string]func(name, data string) error{
		"Arrivals": func(name, data string) error {
			_, err := b.Landing.Arrive(name, strings.NewReader(data), "juniors")
			return err
		},
		"a gap of a page": func(name, data string) error {
			_, err := b.Landing.Land(b.PageID, pages.Target{Gap: page.Behind("a")}, name, strings.NewReader(data))
			return err
		},
		"as a download": func(name, data string) error {
			_, err := b.Attachments.Add(b.PageID, page.Behind("a"), name, strings.NewReader(data))
			return err
		},
	}
	for way, bring := range waysIn {
		assert.NoError(t, bring("rota.pdf", pdf), "%s: documents are kept where the house says nothing", way)
		assert.Error(t, bring("tune.mp3", tune), "%s: recordings are not", way)
	}
	turnOn(b, rules.Type{Title: "Recording", MediaType: "audio/mpeg", Extension: ".mp3", Bytes: "494433", Do: rules.Keep})
	turnOn(b, rules.Type{Title: "PDF document", MediaType: "application/pdf", Extension: ".pdf", Bytes: "25504446", Do: rules.Refuse, Say: "Bring its first page as a picture."})
	for way, bring := range waysIn {
		assert.NoError(t, bring("tune.mp3", tune), way)
		err := bring("rota.pdf", pdf)
		desktest.Refusal(t, err, access.Bad, "rota.pdf is not taken: PDF document")
		var told *access.Refusal
		require.ErrorAs(t, err, &told)
		assert.Equal(t, "Bring its first page as a picture.", told.Next, "%s: in the house's own words", way)
	}
	// A place for a picture takes none.
	place, err := b.Pages.AddBlock(b.PageID, page.Behind("b"), page.Pair, "", "")
	require.NoError(t, err)
	_, err = b.Landing.Land(b.PageID, pages.Target{Block: place, Mark: b.MarkOf(place)}, "tune.mp3", strings.NewReader(tune))
	desktest.Refusal(t, err, access.Bad, "not a picture")
}

// What acts in a browser is never kept, whatever the house's list says of how it begins.
func TestWhatActsIsNeverKept(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	const acts = "<!doctype html><html><script>alert(1)</script></html>"
	turnOn(b, rules.Type{Title: "Notes", MediaType: "application/x-notes", Extension: ".txt", Bytes: "3c21", Do: rules.Keep})
	_, err := b.Attachments.Keep("notes.txt", strings.NewReader(acts), "juniors")
	desktest.Refusal(t, err, access.Bad, "notes.txt is not taken")
	_, err = b.Landing.Arrive("notes.txt", strings.NewReader(acts), "juniors")
	assert.Error(t, err)
	for _, kind := range []rules.Type{
		{Title: "Page", MediaType: "text/html", Extension: ".html", Bytes: "3c21", Do: rules.Keep},
		{Title: "Script", MediaType: "text/javascript", Extension: ".js", Bytes: "2f2f", Do: rules.Keep},
	} {
		r, err := rules.Default().AddType(kind)
		if err == nil {
			assert.NotEmpty(t, r.Check(), kind.MediaType)
		}
	}
	on, _, err := b.Attachments.Kept()
	require.NoError(t, err)
	assert.Empty(t, on)
}

// Files are kept on the shelves of their section, named, offered on pages, thrown away and
// brought back; what a page offers stays with it.
func TestFilesOnTheShelves(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	came, err := b.Landing.Arrive(`C:\sheets\Rota Autumn.PDF`, strings.NewReader(pdf), "juniors")
	require.NoError(t, err)
	require.NotNil(t, came.File)
	assert.Nil(t, came.Picture)
	a := *came.File
	assert.Equal(t, []string{"Rota Autumn", "rota-autumn.pdf", "application/pdf"}, []string{a.Title, a.Name, a.MediaType})
	again, err := b.Attachments.Keep("copy of rota.pdf", strings.NewReader(pdf), "juniors")
	require.NoError(t, err)
	assert.Equal(t, a.ID, again.ID, "the same file is not kept twice")

	require.NoError(t, b.Attachments.SetTitle(a.ID, "  Rota of the autumn \n"))
	desktest.Refusal(t, b.Attachments.SetTitle(a.ID, " "), access.Bad, "needs a title")
	block, err := b.Attachments.Place(b.PageID, page.Behind("a"), a.ID)
	require.NoError(t, err)
	shown, _ := b.PageView().Doc.Block(block)
	assert.Equal(t, []string{"Rota of the autumn", "rota-of-the-autumn.pdf"}, []string{shown.Text, shown.File.Name})

	desktest.Refusal(t, b.Attachments.Delete(a.ID), access.Clash, "on the shelves")
	require.NoError(t, b.Attachments.ThrowAway(a.ID))
	on, thrown, err := b.Attachments.Kept()
	require.NoError(t, err)
	assert.Empty(t, on)
	require.Len(t, thrown, 1)
	_, err = b.Attachments.Place(b.PageID, page.Behind("a"), a.ID)
	desktest.Refusal(t, err, access.Missing, "thrown away")
	require.NoError(t, b.Attachments.BringBack(a.ID))
	require.NoError(t, b.Attachments.ThrowAway(a.ID))
	require.NoError(t, b.Attachments.Delete(a.ID))
	desktest.Refusal(t, b.Attachments.BringBack(a.ID), access.Missing, "not here any more")
	offered, err := b.Attachments.OpenOffered(b.PageID, shown.File.Hash)
	require.NoError(t, err)
	defer offered.Close()
	data, err := io.ReadAll(offered)
	require.NoError(t, err)
	assert.Equal(t, pdf, string(data))

	var trail []string
	all, err := b.Store.Trail(store.TrailFilter{})
	require.NoError(t, err)
	for _, one := range all {
		trail = append(trail, one.What)
	}
	for _, what := range []string{"Brought the file Rota Autumn.PDF in", "Threw away the file Rota of the autumn", "Deleted the file Rota of the autumn"} {
		assert.Contains(t, trail, what)
	}
}

// A stream that breaks keeps nothing, and a picture is a picture under any name.
func TestWhatComesInByItsContent(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	_, err := b.Landing.Arrive("a.pdf", io.MultiReader(strings.NewReader(pdf), broken{}), "juniors")
	assert.ErrorContains(t, err, "closed pipe")
	_, err = b.Landing.Arrive("photo.JPG", strings.NewReader("Dear club"), "juniors")
	desktest.Refusal(t, err, access.Bad, "its content is text") // a photo that is none is not kept as a text
	came, err := b.Landing.Arrive("letter.pdf", bytes.NewReader(desktest.Photo(400, 300, 1)), "juniors")
	require.NoError(t, err)
	assert.NotNil(t, came.Picture)
	on, _, err := b.Attachments.Kept()
	require.NoError(t, err)
	assert.Empty(t, on)
}

type broken struct{}

func (broken) Read([]byte) (int, error) { return 0, io.ErrClosedPipe }
