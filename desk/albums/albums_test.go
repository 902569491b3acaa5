package albums_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/PuerkitoBio/goquery"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/album"
	"mivlet/core/page"
	"mivlet/desk/access"
	"mivlet/desk/albums"
	"mivlet/desk/bench"
	"mivlet/desk/desktest"
	"mivlet/desk/pictures"
	"mivlet/desk/snapshot"
	"mivlet/desk/withdraw"
	"mivlet/store"
)

// regatta is a house with an album of three pictures.
type regatta struct {
	*desktest.Fixture
	album    uint
	pictures []uint
}

func newRegatta(t *testing.T) regatta {
	t.Helper()
	g := regatta{Fixture: desktest.Fresh(t)}
	for i, name := range []string{"juniors-start", "juniors-turn", "juniors-finish"} {
		g.pictures = append(g.pictures, g.Ready(name, uint64(i+1)))
	}
	var err error
	g.album, err = g.Albums.Begin("juniors", " The autumn  regatta ", g.pictures)
	require.NoError(t, err)
	return g
}

func (g regatta) of() albums.View {
	g.T.Helper()
	v, err := g.Albums.Of(g.album)
	require.NoError(g.T, err)
	return v
}

func (g regatta) inIt() []uint {
	var ids []uint
	for _, i := range g.of().Items {
		ids = append(ids, i.ID)
	}
	return ids
}

// onPage puts the album on the page, with at most some thumbnails.
func (g regatta) onPage(look page.AlbumLook, most int) string {
	g.T.Helper()
	block, err := g.Albums.Place(g.PageID, page.Gap{}, g.album)
	require.NoError(g.T, err)
	require.NoError(g.T, g.Albums.SetShown(g.PageID, block, g.MarkOf(block), page.AlbumShow{Album: g.album, Look: look, Shape: "4:3", Most: most}))
	return block
}

// live reads a page of the site.
func (g regatta) live(at string) *goquery.Document {
	g.T.Helper()
	status, data := g.Visit(at)
	require.Equal(g.T, 200, status, at)
	doc, err := goquery.NewDocumentFromReader(strings.NewReader(string(data)))
	require.NoError(g.T, err)
	return doc
}

func (g regatta) step(seq int) {
	g.T.Helper()
	require.NoError(g.T, g.Albums.ShowStep(g.album, seq))
}

func TestAnAlbumIsMade(t *testing.T) {
	t.Parallel()
	g := newRegatta(t)
	v := g.of()
	assert.Equal(t, "The autumn regatta", v.Doc.Title)
	assert.Equal(t, g.pictures, g.inIt())
	assert.True(t, v.Items[0].Lead)
	assert.Equal(t, store.Shelf, g.PictureOf(g.pictures[0]).Station, "what is in an album stands on the shelf")
	card, err := g.Shelves.PictureCard(g.pictures[0])
	require.NoError(t, err)
	require.Len(t, card.Albums, 1, "its card says so")

	require.NoError(t, g.Albums.Move(g.album, g.pictures[0], 1))
	assert.Equal(t, []uint{g.pictures[1], g.pictures[0], g.pictures[2]}, g.inIt())
	require.NoError(t, g.Albums.SetOrder(g.album, album.ByName))
	assert.Equal(t, []uint{g.pictures[2], g.pictures[0], g.pictures[1]}, g.inIt(), "finish, start, turn")
	require.NoError(t, g.Albums.MoveTo(g.album, g.pictures[1:2], g.pictures[2]))
	assert.Equal(t, []uint{g.pictures[1], g.pictures[2], g.pictures[0]}, g.inIt(), "from what was seen")
	assert.Equal(t, album.ByHand, g.of().Doc.Order)
	require.NoError(t, g.Albums.SetLead(g.album, g.pictures[2]))
	require.NoError(t, g.Albums.SetCaption(g.album, g.pictures[2], "", "  Past the   buoy "))
	v = g.of()
	assert.Equal(t, []any{"Past the buoy", true}, []any{v.Items[1].Caption, v.Items[1].Lead})
	desktest.Refusal(t, g.Albums.SetCaption(g.album, g.pictures[2], "", "mine"), access.Clash, "Past the buoy")
	desktest.Refusal(t, g.Albums.SetLead(g.album, 999), access.Bad, "cannot be like that")
	desktest.Refusal(t, g.Albums.SetTitle(g.album, " "), access.Bad, "title")
	desktest.Refusal(t, g.Albums.SetOrder(g.album, "size"), access.Bad, "cannot be like that")
	_, err = g.Albums.Begin("juniors", "", nil)
	desktest.Refusal(t, err, access.Bad, "title")
	_, err = g.Albums.Begin("nowhere", "x", nil)
	desktest.Refusal(t, err, access.Bad, "section")
	desktest.Refusal(t, g.Albums.Add(g.album, 999), access.Missing, "not there")
	waiting := g.Arrive("new.jpg", desktest.Photo(900, 600, 9)).ID
	desktest.Refusal(t, g.Albums.Add(g.album, waiting), access.Bad, "only just arrived")
	g.IsWhole()
}

// Taking out and throwing away are two things: what is taken out stays, what an album holds is
// not thrown away, and both can be undone.
func TestTakingOutIsNotDeleting(t *testing.T) {
	t.Parallel()
	g := newRegatta(t)
	desktest.Refusal(t, g.Shelves.ThrowAway(g.pictures[0]), access.Clash, "in 1 album: “The autumn regatta”")
	desktest.Refusal(t, g.Publish.ThrowAwayFrom(t.Context(), g.pictures[0], desktest.PlainLayout), access.Clash, "“The autumn regatta”")
	require.NoError(t, g.Albums.TakeOut(g.album, g.pictures[0]))
	assert.Equal(t, g.pictures[1:], g.inIt())
	assert.Equal(t, store.Bench, g.PictureOf(g.pictures[0]).Station, "it is used nowhere, and stays")
	v := g.of()
	g.step(v.Undo())
	assert.Equal(t, g.pictures, g.inIt(), "undone")
	assert.Equal(t, store.Shelf, g.PictureOf(g.pictures[0]).Station)
	g.step(g.of().Redo())
	assert.Equal(t, g.pictures[1:], g.inIt())
	require.NoError(t, g.Shelves.ThrowAway(g.pictures[0]))
	g.step(g.of().Undo())
	assert.Equal(t, g.pictures[1:], g.inIt(), "undo does not bring back what lies in the bin")
	require.NoError(t, g.Shelves.BringBack(g.pictures[0]))
	require.NoError(t, g.Albums.Add(g.album, g.pictures[0]))
	assert.Len(t, g.inIt(), 3)

	require.NoError(t, g.Albums.Drop(g.album))
	assert.Equal(t, store.Bench, g.PictureOf(g.pictures[1]).Station, "its pictures stay")
	_, err := g.Albums.Place(g.PageID, page.Gap{}, g.album)
	desktest.Refusal(t, err, access.Bad, "was deleted")
	desktest.Refusal(t, g.Albums.Add(g.album, g.pictures[0]), access.Bad, "was deleted")
	gone, err := g.Albums.All(true)
	require.NoError(t, err)
	require.Len(t, gone, 1)
	require.NoError(t, g.Shelves.ThrowAway(g.pictures[1]))
	require.NoError(t, g.Albums.BringBack(g.album))
	assert.NotContains(t, g.inIt(), g.pictures[1], "without what was thrown away since")
	assert.Equal(t, store.Shelf, g.PictureOf(g.pictures[2]).Station, "what is in it stands on the shelf again")
	g.IsWhole()
}

func TestAnAlbumOnAPage(t *testing.T) {
	t.Parallel()
	g := newRegatta(t)
	require.NoError(t, g.Albums.SetCaption(g.album, g.pictures[1], "", "Round the <buoy>"))
	block := g.onPage(page.Grid, 2)
	report := g.GoLive()
	assert.True(t, report.OK(), "%v", report.Checks)
	assert.Contains(t, fmt.Sprint(report.Checks), "3 pictures of albums can be enlarged")
	assert.Contains(t, fmt.Sprint(report.Checks), "It shows every picture: 2")
	assert.False(t, g.PageView().Differs, "what went live is what the draft gives")

	shown := g.live("/juniors/autumn")
	links := shown.Find(".album#album-" + block + " li a")
	require.Equal(t, 2, links.Length())
	assert.Equal(t, "/juniors/autumn/pictures/juniors-start", links.First().AttrOr("href", ""), "a page of the picture, not a file")
	assert.Equal(t, "And 1 more", shown.Find(".album-more a").Text())
	assert.Equal(t, "/juniors/autumn/pictures/juniors-finish", shown.Find(".album-more a").AttrOr("href", ""))
	one := g.live("/juniors/autumn/pictures/juniors-turn")
	assert.Equal(t, "The autumn regatta, 2 of 3", one.Find("title").Text())
	assert.Equal(t, "Round the <buoy>", one.Find("figcaption").Text())
	assert.Equal(t, "2 of 3", one.Find(".album-at").Text())
	assert.Equal(t, "/juniors/autumn/pictures/juniors-start", one.Find("a[rel=prev]").AttrOr("href", ""))
	assert.Equal(t, "/juniors/autumn/pictures/juniors-finish", one.Find("a[rel=next]").AttrOr("href", ""))
	assert.Equal(t, "/juniors/autumn#album-"+block, one.Find(".album-back").AttrOr("href", ""))
	assert.True(t, strings.HasPrefix(one.Find(`meta[property="og:image"]`).AttrOr("content", ""), g.Site+"/juniors/"), "it can be shared by itself")
	assert.Equal(t, g.Site+"/juniors/autumn/pictures/juniors-turn", one.Find("link[rel=canonical]").AttrOr("href", ""))
	assert.Zero(t, one.Find("a[rel=prev]").First().Siblings().Filter("a[rel=prev]").Length())

	// What is changed in the album is not live until the page is published again.
	require.NoError(t, g.Albums.Move(g.album, g.pictures[0], 2))
	assert.True(t, g.PageView().Differs)
	uses := g.of().Uses
	require.Len(t, uses, 1)
	assert.True(t, uses[0].Due(), "it says which pages want publishing")
	assert.Equal(t, "2 of 3", g.live("/juniors/autumn/pictures/juniors-turn").Find(".album-at").Text())
	report = g.GoLive()
	assert.True(t, report.OK(), "%v", report.Checks)
	assert.Equal(t, "1 of 3", g.live("/juniors/autumn/pictures/juniors-turn").Find(".album-at").Text())
	assert.False(t, g.of().Uses[0].Due())
	desktest.Refusal(t, g.Albums.Drop(g.album), access.Clash, "Autumn (live)")
	g.IsWhole()

	g.Tamper = func(path string, data []byte) []byte {
		if strings.Contains(path, "juniors-turn") && !strings.Contains(path, "/pictures/") {
			return data[:len(data)-1]
		}
		return data
	}
	report, err := g.Visits.Check(t.Context(), g.PageID)
	require.NoError(t, err)
	assert.Contains(t, fmt.Sprint(report.Checks), "juniors-turn: what comes from", "the enlarged picture is looked at")
}

func TestRowsOnAPage(t *testing.T) {
	t.Parallel()
	g := newRegatta(t)
	block := g.onPage(page.InRows, 0)
	report := g.GoLive()
	require.True(t, report.OK(), "%v", report.Checks)
	_, css := g.Visit("/juniors/autumn.css")
	for n := 1; n <= 3; n++ {
		assert.Equal(t, 3, strings.Count(string(css), fmt.Sprintf(".content #album-%s li:nth-child(%d) {", block, n)), "for a desktop, a tablet and a phone")
	}
	style, err := g.House.PageStyle(g.PageID)
	require.NoError(t, err)
	assert.Equal(t, string(css), string(style), "the draft is measured alike")
	assert.Contains(t, g.live("/juniors/autumn").Find(".album img").First().AttrOr("sizes", ""), "vw, ")
}

// A picture that is taken off the air leaves its album on every live page, and nobody is led
// to it.
func TestAPictureOfAnAlbumIsTakenOff(t *testing.T) {
	t.Parallel()
	g := newRegatta(t)
	g.onPage(page.Grid, 2)
	require.True(t, g.GoLive().OK())
	require.NoError(t, g.Withdraw.Withdraw(t.Context(), g.pictures[1]))
	status, _ := g.Visit("/juniors/autumn/pictures/juniors-turn")
	assert.Equal(t, 410, status)
	assert.Equal(t, "/juniors/autumn/pictures/juniors-finish", g.live("/juniors/autumn/pictures/juniors-start").Find("a[rel=next]").AttrOr("href", ""))
	assert.Equal(t, "/juniors/autumn/pictures/juniors-start", g.live("/juniors/autumn/pictures/juniors-finish").Find("a[rel=prev]").AttrOr("href", ""))
	shown := g.live("/juniors/autumn")
	assert.Equal(t, 1, shown.Find(".album li a").Length(), "the neutral space leads nowhere")
	assert.Equal(t, 2, shown.Find(".album li img").Length())
	r, err := g.Visits.Check(t.Context(), g.PageID)
	require.NoError(t, err)
	assert.True(t, r.OK(), "%v", r.Checks)

	_, err = g.Withdraw.Erase(t.Context(), g.pictures[2], withdraw.Erasing{Why: "The family asked for it", Names: true})
	require.NoError(t, err)
	assert.Equal(t, g.pictures[:2], g.inIt())
	for name, data := range desktest.FilesOf(t, g.Dir) {
		assert.NotContains(t, string(data), "juniors-finish", "no address of it stays in %s", name)
	}
	assert.Zero(t, g.live("/juniors/autumn").Find(".album-more").Length())
	g.IsWhole()
}

func TestWhatIsWrongWithAnAlbum(t *testing.T) {
	t.Parallel()
	g := newRegatta(t)
	small := g.Arrive("small.jpg", desktest.Photo(640, 427, 7)).ID
	require.NoError(t, g.Bench.Send([]uint{small}, bench.Assignment{Slot: "column", Section: "juniors"}))
	require.NoError(t, g.Albums.Add(g.album, small))
	codes := map[albums.Code][]uint{}
	for _, f := range g.of().Findings {
		for _, p := range f.Pictures {
			codes[f.Code] = append(codes[f.Code], p.ID)
		}
	}
	assert.Equal(t, []uint{small}, codes[albums.Undescribed])
	assert.Equal(t, []uint{small}, codes[albums.Nameless])
	assert.Equal(t, []uint{small}, codes[albums.Soft])
	assert.NotEmpty(t, g.of().Items[3].Lacks)

	g.onPage(page.Grid, 0)
	stops := 0
	for _, f := range snapshot.StopsAmong(g.PageView().Findings) {
		assert.Equal(t, small, f.Picture.ID)
		stops++
	}
	assert.Positive(t, stops, "what it lacks keeps the page from going live")
	require.NoError(t, g.Albums.TakeOut(g.album, small))
	require.True(t, g.GoLive().OK())
	require.NoError(t, g.Albums.TakeOut(g.album, g.pictures...))
	var found []string
	for _, f := range g.PageView().Findings {
		found = append(found, string(f.Code))
	}
	assert.Contains(t, found, "empty-album")
}

func TestARuleOffersWhatFits(t *testing.T) {
	t.Parallel()
	g := newRegatta(t)
	extra := g.Ready("juniors-cup", 8)
	g.Place(extra)
	require.NoError(t, g.Shelves.Tag([]uint{extra, g.pictures[0]}, []string{"regatta"}, nil))
	require.NoError(t, g.Albums.SetRule(g.album, album.Rule{Tag: " Regatta "}))
	offers := g.of().Offers
	require.Len(t, offers, 1)
	assert.Equal(t, extra, offers[0].ID)
	require.NoError(t, g.Albums.SetRule(g.album, album.Rule{Tag: "regatta", Year: 1999}))
	assert.Empty(t, g.of().Offers)
	require.NoError(t, g.Albums.SetRule(g.album, album.Rule{Tag: "regatta"}))
	require.NoError(t, g.Albums.Add(g.album, extra))
	assert.Empty(t, g.of().Offers)
	require.NoError(t, g.Albums.TakeOut(g.album, extra))
	assert.Empty(t, g.of().Offers, "what was taken out is not offered again")
}

// A file that is dropped on an album comes through Arrivals and is at its end.
func TestAFileComesToAnAlbum(t *testing.T) {
	t.Parallel()
	g := newRegatta(t)
	came, err := g.Albums.Bring(g.album, "DSC_1.JPG", strings.NewReader(string(desktest.Photo(900, 600, 12))))
	require.NoError(t, err)
	assert.Equal(t, append(append([]uint{}, g.pictures...), came), g.inIt())
	_, err = g.Albums.Bring(g.album, "letter.jpg", strings.NewReader("Dear club"))
	desktest.Refusal(t, err, access.Bad, "not a picture")
	assert.Len(t, g.inIt(), 4)
	w := pictures.WordsOf(g.PictureOf(came))
	w.Alt = "The cup on the jetty"
	require.NoError(t, g.Pictures.SetWords(came, pictures.Newest, w))
}

// What goes live is what was signed: an album that somebody changes in between keeps the page
// from going live, and it is told who did what.
func TestAnAlbumThatChangesMeanwhileIsNotPublished(t *testing.T) {
	t.Parallel()
	g := newRegatta(t)
	g.onPage(page.Grid, 0)
	seen := g.PageView().Seen
	assert.Equal(t, seen, snapshot.ParseSeen(seen.String()), "a form carries it")
	require.NoError(t, g.Albums.SetCaption(g.album, g.pictures[0], "", "Nobody signed this"))
	_, err := g.Publish.Publish(t.Context(), g.PageID, seen, "", desktest.PlainLayout)
	desktest.Refusal(t, err, access.Clash, "the album “The autumn regatta” has changed (Another caption")
	status, _ := g.Visit("/juniors/autumn")
	assert.Equal(t, 404, status)
	_, err = g.Publish.Publish(t.Context(), g.PageID, g.PageView().Seen, "", desktest.PlainLayout)
	require.NoError(t, err)
	assert.Equal(t, "Nobody signed this", g.live("/juniors/autumn/pictures/juniors-start").Find("figcaption").Text(), "once somebody has")
}

// Sections may each have a picture of one name: in an album each has an address of its own.
func TestPicturesOfOneNameHaveTheirOwnPages(t *testing.T) {
	t.Parallel()
	g := newRegatta(t)
	came, err := g.Pictures.Arrive("a.jpg", strings.NewReader(string(desktest.Photo(1600, 1000, 31))), "touring")
	require.NoError(t, err)
	require.NoError(t, g.Bench.Send([]uint{came.ID}, bench.Assignment{Slot: "column", Section: "touring"}))
	require.NoError(t, desktest.Describe(g.Desk, came.ID, "Another boat"))
	// The convention asks for the section's name first; an older house may not have.
	require.NoError(t, g.Kept.Tx(func(s store.Records) error {
		p, err := s.Picture(came.ID)
		if err != nil {
			return err
		}
		p.Work.Name = "juniors-start"
		return s.SavePicture(&p)
	}))
	require.NoError(t, g.Albums.Add(g.album, came.ID))
	g.onPage(page.Grid, 0)
	_, err = g.Publish.Publish(t.Context(), g.PageID, g.PageView().Seen, "names are looked at here", desktest.PlainLayout)
	require.NoError(t, err)
	seen := map[string]bool{}
	g.live("/juniors/autumn").Find(".album li a").Each(func(_ int, a *goquery.Selection) {
		at := a.AttrOr("href", "")
		assert.False(t, seen[at], at)
		seen[at] = true
		g.live(at)
	})
	assert.Len(t, seen, 4)
}
