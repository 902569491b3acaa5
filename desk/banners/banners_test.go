package banners_test

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"image/gif"
	"image/png"
	"net/http"
	"slices"
	"strings"
	"testing"
	"time"

	"golang.org/x/image/font"
	"golang.org/x/image/font/gofont/goregular"
	"golang.org/x/image/font/opentype"
	"golang.org/x/image/math/fixed"

	"mivlet/desk/bench"

	"github.com/PuerkitoBio/goquery"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/banner"
	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/desk/access"
	"mivlet/desk/banners"
	"mivlet/desk/desktest"
	"mivlet/desk/withdraw"
	"mivlet/store"
)

// board is a house with a spot below the pages of Juniors, a live page, and a banner that runs
// there.
type board struct {
	*desktest.Fixture
	banner, picture, occasion uint
}

// foot is the spot.
var foot = rules.Spot{ID: "foot", Title: "Partners", Width: 120, Height: 40, PhoneWidth: 60, PhoneHeight: 40, Where: rules.Below, On: []string{"juniors"}, Turn: rules.ByTurns, Empty: rules.ShowOwn}

func newBoard(t *testing.T) board {
	t.Helper()
	b := board{Fixture: desktest.Fresh(t)}
	b.UnderRules(func(r *rules.Rules) { r.Spots, r.TimeZone = []rules.Spot{foot}, "Europe/London" })
	today := b.Today()
	require.NoError(t, b.Banners.SaveOccasion(store.Occasion{Title: "Regatta weeks", FromDay: banner.DayAfter(today, -3), Until: banner.DayAfter(today, 30)}))
	c, err := b.Banners.Calendar()
	require.NoError(t, err)
	b.occasion = c.Occasions[0].ID
	b.picture = b.Ready("juniors-rope", 3)
	b.banner = b.running("Rope", b.picture)
	b.Place(b.Ready("juniors-launch", 1))
	b.GoLive()
	return b
}

// running adds a banner that runs.
func (b board) running(title string, picture uint) uint {
	b.T.Helper()
	id, err := b.Banners.Begin("juniors", title, "foot")
	require.NoError(b.T, err)
	require.NoError(b.T, b.Banners.SetPicture(id, picture))
	b.says(id, func(d *banner.Doc) {
		d.Alt, d.Address, d.Occasion = "The rope works by the lake: ropes and fenders", "rope.example/lake", b.occasion
	})
	require.NoError(b.T, b.approve(id))
	return id
}

func (b board) of(id uint) banners.View {
	b.T.Helper()
	v, err := b.Banners.Of(id)
	require.NoError(b.T, err)
	return v
}

// says changes what a banner says.
func (b board) says(id uint, change func(*banner.Doc)) {
	b.T.Helper()
	v := b.of(id)
	change(&v.Doc)
	require.NoError(b.T, b.Banners.Set(id, v.Version, v.Doc))
}

func (b board) approve(id uint) error { return b.Banners.Approve(id, b.of(id).Seen()) }

// visitor asks for the page as the site does, and for what its frame holds: the address that it
// leads to, or "" where there is no frame.
func (b board) visitor() string {
	b.T.Helper()
	marked := page.MarkedSpots([]byte(b.LivePage()))
	frames, err := b.Banners.Frames(b.PageID, marked)
	require.NoError(b.T, err)
	show, ok, err := b.Banners.Choose("foot", b.PageID, true)
	require.NoError(b.T, err)
	if frames["foot"] == "" {
		assert.False(b.T, ok && slices.Contains(marked, "foot"), "no frame, and yet something would be in it")
		return ""
	}
	require.True(b.T, ok, "a frame with nothing in it is a hole")
	return show.Follow
}

func (b board) why() (shows bool, first banner.Condition) {
	b.T.Helper()
	w, err := b.Banners.Why(b.banner, b.PageID)
	require.NoError(b.T, err)
	return w.Shows, w.Conditions[0]
}

// spot changes the spot.
func (b board) spot(change func(*rules.Spot)) {
	b.T.Helper()
	b.UnderRules(func(r *rules.Rules) {
		r.Spots = slices.Clone(r.Spots)
		change(&r.Spots[0])
	})
}

func (b board) follows() string { return fmt.Sprintf("/spots/follow/%d", b.banner) }

// From a file to live: what is approved is what visitors get, and what is changed since waits.
func TestWhatIsApprovedIsWhatVisitorsGet(t *testing.T) {
	t.Parallel()
	b := newBoard(t)
	assert.Equal(t, b.follows(), b.visitor())
	assert.Contains(t, b.LivePage(), "<!-- spot foot --><!-- end of spot foot -->", "the page is signed with nothing in it")
	leads, err := b.Banners.Follow(b.banner, false)
	require.NoError(t, err)
	assert.Equal(t, "https://rope.example/lake", leads)

	show, ok, err := b.Banners.Choose("foot", b.PageID, false)
	require.NoError(t, err)
	require.True(t, ok)
	sizes := map[string]bool{}
	for _, f := range show.Files {
		sizes[fmt.Sprintf("%dx%d %v", f.Width, f.Height, f.Phone)] = true
		status, data := b.Visit(f.Address)
		assert.Equal(t, 200, status)
		assert.NotEmpty(t, data)
	}
	assert.Equal(t, map[string]bool{"120x40 false": true, "240x80 false": true, "360x120 false": true, "60x40 true": true, "120x80 true": true, "180x120 true": true}, sizes, "to the exact size, once, twice and three times")
	b.IsWhole()

	b.says(b.banner, func(d *banner.Doc) { d.Address = "https://other.example" })
	leads, err = b.Banners.Follow(b.banner, false)
	require.NoError(t, err)
	assert.Equal(t, "https://rope.example/lake", leads, "a change waits")
	assert.True(t, b.of(b.banner).Changed)
	require.NoError(t, b.approve(b.banner))
	leads, err = b.Banners.Follow(b.banner, false)
	require.NoError(t, err)
	assert.Equal(t, "https://other.example", leads)

	seen := b.of(b.banner).Seen()
	b.says(b.banner, func(d *banner.Doc) { d.Address = "https://slipped.example" })
	desktest.Refusal(t, b.Banners.Approve(b.banner, seen), access.Clash, "changed since you looked")
	old := show.Files[0].Address
	require.NoError(t, b.Banners.SetPicture(b.banner, b.Ready("juniors-other", 9)))
	require.NoError(t, b.approve(b.banner))
	status, _ := b.Visit(old)
	assert.Equal(t, 410, status, "the old file is gone")
	_, err = b.Banners.Begin("juniors", "x", "gone")
	desktest.Refusal(t, err, access.Bad, "no such spot")
	desktest.Refusal(t, b.Banners.Set(b.banner, 1, banner.Doc{Title: "late"}), access.Clash, "Somebody else")
}

// Whatever stands in the way, the answer to why it does not show is what a visitor gets: every
// combination of ways, each done as people do it.
func TestWhyIsWhatAVisitorGets(t *testing.T) {
	t.Parallel()
	b := newBoard(t)
	first := b.running("Anchors", b.picture)
	type way struct {
		code         banner.Code
		break_, mend func()
	}
	doc := func(change func(*banner.Doc)) func() {
		return func() {
			b.says(b.banner, change)
			require.NoError(t, b.approve(b.banner))
		}
	}
	spots := func(change func(*rules.Spot)) func() {
		return func() { b.spot(change) }
	}
	far := banner.DayAfter(b.Today(), 20)
	ways := []way{
		{banner.IsGoing, func() { require.NoError(t, b.Banners.Stop(b.banner)) }, func() { require.NoError(t, b.Banners.GoOn(b.banner)) }},
		{banner.HasBegun, doc(func(d *banner.Doc) { d.From = far }), doc(func(d *banner.Doc) { d.From = "" })},
		{banner.HasOccasion, doc(func(d *banner.Doc) { d.Occasion = 0 }), doc(func(d *banner.Doc) { d.Occasion = b.occasion })},
		{banner.ForSection, doc(func(d *banner.Doc) { d.Sections = []string{"touring"} }), doc(func(d *banner.Doc) { d.Sections = nil })},
		{banner.SpotOnPage, spots(func(s *rules.Spot) { s.On = []string{"touring"} }), spots(func(s *rules.Spot) { s.On = []string{"juniors"} })},
		{banner.HasTurn, spots(func(s *rules.Spot) { s.Turn = rules.InOrder }), spots(func(s *rules.Spot) { s.Turn = rules.ByTurns })},
	}
	b.says(first, func(d *banner.Doc) { d.Place = -1 })
	require.NoError(t, b.approve(first))
	for mask := range 1 << len(ways) {
		broken := false
		for i, w := range ways {
			if mask&(1<<i) == 0 {
				continue
			}
			broken = true
			if w.code != banner.IsGoing { // approving starts it, so that it is stopped last
				w.break_()
			}
		}
		if mask&1 != 0 {
			ways[0].break_()
		}
		got := []string{b.visitor(), b.visitor(), b.visitor()}
		shows, told := b.why()
		assert.Equal(t, !broken, shows, "%b", mask)
		assert.Equal(t, shows, slices.Contains(got, b.follows()), "%b: told %v, visitors get %v", mask, told, got)
		for i, w := range ways {
			if mask&(1<<i) != 0 {
				w.mend()
			}
		}
	}
}

// A spot that came after the page was published is not on it yet; a page that was put back to
// before, neither.
func TestASpotWaitsForThePageToBePublished(t *testing.T) {
	t.Parallel()
	b := newBoard(t)
	head := foot
	head.ID, head.Title, head.Where = "head", "Notices", rules.Above
	b.UnderRules(func(r *rules.Rules) { r.Spots = []rules.Spot{foot, head} })
	b.says(b.banner, func(d *banner.Doc) { d.Spot = "head" })
	require.NoError(t, b.approve(b.banner))
	_, first := b.why()
	assert.Equal(t, banner.PageIsNew, first.Code)
	b.GoLive()
	shows, _ := b.why()
	assert.True(t, shows)
	frames, err := b.Banners.Frames(b.PageID, page.MarkedSpots([]byte(b.LivePage())))
	require.NoError(t, err)
	assert.Len(t, frames, 1)
}

// A banner that ends today is there until midnight in the time zone of the house; the clock goes
// over a change to summer time (London, 29 March 2026, IANA time zone database).
func TestItEndsAtMidnight(t *testing.T) {
	t.Parallel()
	b := newBoard(t)
	b.spot(func(s *rules.Spot) { s.Empty = rules.ShowNothing })
	require.NoError(t, b.Banners.SaveOccasion(store.Occasion{ID: b.occasion, Title: "All year", FromDay: "2026-01-01", Until: "2026-12-31"}))
	b.says(b.banner, func(d *banner.Doc) { d.From, d.Until = "2026-03-29", "2026-03-29" })
	require.NoError(t, b.approve(b.banner))
	at := func(text string) string {
		when, err := time.Parse(time.RFC3339, text)
		require.NoError(t, err)
		b.SetTime(when)
		return b.visitor()
	}
	assert.Empty(t, at("2026-03-28T23:58:00Z"))
	assert.Equal(t, b.follows(), at("2026-03-29T00:00:00Z"))
	assert.Equal(t, b.follows(), at("2026-03-29T22:58:00Z"), "the clock of the tests goes on with each look")
	assert.Empty(t, at("2026-03-29T23:00:00Z"), "midnight in London is 23:00 in UTC by then")
	leads, err := b.Banners.Follow(b.banner, false)
	require.NoError(t, err)
	assert.NotEmpty(t, leads, "who looked at it while it ended is led on")
}

// A picture that a banner shows cannot be thrown away; withdrawn, refused or erased, no visitor
// gets it any more.
func TestThePictureOfABannerIsGuarded(t *testing.T) {
	t.Parallel()
	b := newBoard(t)
	desktest.Refusal(t, b.Shelves.ThrowAway(b.picture), access.Clash, "“Rope”")
	b.Refuses(b.picture, "Ines Varrow")
	assert.Empty(t, b.visitor(), "who said no is shown at no time")
	_, first := b.why()
	assert.Equal(t, banner.IsFit, first.Code)

	b = newBoard(t)
	show, _, err := b.Banners.Choose("foot", b.PageID, false)
	require.NoError(t, err)
	require.NoError(t, b.Withdraw.Withdraw(t.Context(), b.picture))
	assert.Empty(t, b.visitor())
	status, _ := b.Visit(show.Files[0].Address)
	assert.Equal(t, 410, status)
	_, first = b.why()
	assert.Equal(t, banner.IsApproved, first.Code)
	require.NoError(t, b.approve(b.banner))

	receipt, err := b.Withdraw.Erase(t.Context(), b.picture, withdraw.Erasing{Why: "the family asked us to"})
	require.NoError(t, err)
	assert.Contains(t, receipt.String(), "banner")
	assert.Empty(t, b.visitor())
	assert.Zero(t, b.of(b.banner).Doc.Picture)
	require.NoError(t, b.Banners.ShowStep(b.banner, 1))
	assert.Zero(t, b.of(b.banner).Doc.Picture, "no step has it")
	b.IsWhole()
}

func TestDeletingAndBringingBack(t *testing.T) {
	t.Parallel()
	b := newBoard(t)
	require.NoError(t, b.Banners.Drop(b.banner))
	assert.Empty(t, b.visitor())
	_, err := b.Banners.Follow(b.banner, true)
	assert.ErrorIs(t, err, store.ErrNotFound)
	assert.Equal(t, store.Bench, b.PictureOf(b.picture).Station, "its picture is free")
	desktest.Refusal(t, b.Banners.SetDays(b.banner, "", ""), access.Bad, "was deleted")
	require.NoError(t, b.Banners.BringBack(b.banner))
	assert.Empty(t, b.visitor(), "it comes back stopped")
	require.NoError(t, b.Banners.GoOn(b.banner))
	assert.Equal(t, b.follows(), b.visitor())
	desktest.Refusal(t, b.Banners.DropOccasion(b.occasion), access.Clash, "“Rope”")
	require.NoError(t, b.Banners.SetDays(b.banner, "2026-01-01", ""))
	assert.Equal(t, "2026-01-01", b.of(b.banner).Doc.From)
	require.NoError(t, b.Banners.ShowStep(b.banner, b.of(b.banner).Undo()))
	assert.Empty(t, b.of(b.banner).Doc.From)
}

// What is counted tells how often and when, and nothing of anybody.
func TestCounting(t *testing.T) {
	t.Parallel()
	b := newBoard(t)
	for range 3 {
		b.visitor()
	}
	_, err := b.Banners.Follow(b.banner, true)
	require.NoError(t, err)
	_, _, err = b.Banners.Choose("foot", b.PageID, false) // a browser that fetches ahead
	require.NoError(t, err)
	first := b.Today()
	b.SetTime(b.Time().Add(24 * time.Hour))
	b.visitor()
	b.says(b.banner, func(d *banner.Doc) { d.Title = "=SUM(A1)" })
	var csv strings.Builder
	require.NoError(t, b.Banners.Counts(&csv, b.banner))
	assert.Equal(t, fmt.Sprintf("day,banner,title,shown,followed\r\n%s,%d,'=SUM(A1),3,1\r\n%s,%[2]d,'=SUM(A1),1,0\r\n", first, b.banner, b.Today()), csv.String())
	_, _, err = b.Banners.Choose("foot", 999, true)
	assert.NoError(t, err, "a page that is not there shows nothing")
}

// The check after publishing looks at the page as a visitor gets it, with what runs in its spots,
// and at nothing that somebody else put there.
func TestThePageIsCheckedWithItsBanners(t *testing.T) {
	t.Parallel()
	b := newBoard(t)
	report := b.GoLive()
	assert.True(t, report.OK(), "%v", report.Checks)
	status, served := b.Visit("/juniors/autumn")
	assert.Equal(t, 200, status)
	assert.Contains(t, string(served), page.SpotFrame(foot, b.PageID))
	b.Tamper = func(_ string, data []byte) []byte {
		return []byte(strings.Replace(string(data), `src="/spots/foot?page=`, `src="https://elsewhere.example/?page=`, 1))
	}
	assert.False(t, b.GoLive().OK(), "another frame is not ours")
}

// The smallest letters of a banner are measured as they are shown: the same words, half as large
// on the same picture, are half as high, and are told where that is too small.
func TestSmallLettersAreTold(t *testing.T) {
	t.Parallel()
	b := newBoard(t)
	b.spot(func(s *rules.Spot) { s.Width, s.Height, s.PhoneWidth, s.PhoneHeight = 600, 300, 300, 150 })
	told := func(size float64) (all []string) {
		a := b.Arrive("notice.png", lettered(t, size))
		require.NoError(t, b.Bench.Send([]uint{a.ID}, bench.Assignment{Slot: "spot-foot", Section: "juniors"}))
		require.NoError(t, b.Pictures.SetName(a.ID, fmt.Sprintf("juniors-notice-%.0f", size)))
		require.NoError(t, b.Banners.SetPicture(b.banner, a.ID))
		for _, f := range b.of(b.banner).Findings {
			if f.Code == banner.SmallText {
				all = append(all, fmt.Sprintf("%v %.0f", f.Values[1], f.Values[0]))
			}
		}
		return all
	}
	// Letters of 80 px on a picture of 1200 are about 56 high (capitals are 0.7 of the size):
	// 28 px on a desktop of 600, 14 on a phone.
	assert.Empty(t, told(80))
	small := told(30) // 21 high: 10 px on a desktop, 5 on a phone
	require.Len(t, small, 1)
	assert.Contains(t, small[0], "a phone")
}

// lettered is a picture of 1200 by 600 px with words of a size, in px.
func lettered(t *testing.T, size float64) []byte {
	t.Helper()
	m := image.NewRGBA(image.Rect(0, 0, 1200, 600))
	draw.Draw(m, m.Bounds(), image.White, image.Point{}, draw.Src)
	known, err := opentype.Parse(goregular.TTF)
	require.NoError(t, err)
	face, err := opentype.NewFace(known, &opentype.FaceOptions{Size: size, DPI: 72})
	require.NoError(t, err)
	d := font.Drawer{Dst: m, Src: image.Black, Face: face, Dot: fixed.P(100, 300)}
	d.DrawString("KNOTS SHOWN ON MONDAYS")
	var out bytes.Buffer
	require.NoError(t, png.Encode(&out, m))
	return out.Bytes()
}

// A banner is offered in lighter files, too, for both sizes of its spot.
func TestLighterBanners(t *testing.T) {
	t.Parallel()
	b := newBoard(t)
	b.UnderRules(func(r *rules.Rules) { r.Placing.Lighter = []string{"webp"} })
	b.picture = b.Arrive("DSC_0430.JPG", desktest.DemoFile(t, "DSC_0430.JPG")).ID
	require.NoError(t, b.Bench.Send([]uint{b.picture}, bench.Assignment{Slot: "column", Section: "juniors"}))
	require.NoError(t, b.Pictures.SetName(b.picture, "juniors-lake"))
	require.NoError(t, desktest.Describe(b.Desk, b.picture, "Two boats on a lake"))
	require.NoError(t, b.Banners.SetPicture(b.banner, b.picture))
	require.NoError(t, b.approve(b.banner))
	show, ok, err := b.Banners.Choose("foot", b.PageID, false)
	require.NoError(t, err)
	require.True(t, ok)
	doc, err := goquery.NewDocumentFromReader(bytes.NewReader(page.WriteBanner(show)))
	require.NoError(t, err)
	var order []string
	doc.Find("picture source").Each(func(_ int, s *goquery.Selection) {
		order = append(order, s.AttrOr("media", "all")+" "+s.AttrOr("type", "any"))
		for _, one := range strings.Split(s.AttrOr("srcset", ""), ",") {
			status, data := b.Visit(strings.Fields(one)[0])
			require.Equal(t, 200, status, one)
			if s.AttrOr("type", "") != "" {
				assert.Equal(t, "image/webp", http.DetectContentType(data))
			}
		}
	})
	assert.Equal(t, []string{"(max-width: 60px) image/webp", "(max-width: 60px) any", "all image/webp"}, order, "phones first, and of each the lighter one")
	assert.Contains(t, doc.Find("picture img").AttrOr("src", ""), ".jpg")
	b.IsWhole()

	b.picture = b.Arrive("kettle.gif", moving(t)).ID
	require.NoError(t, b.Bench.Send([]uint{b.picture}, bench.Assignment{Slot: "column", Section: "juniors"}))
	require.NoError(t, b.Pictures.SetName(b.picture, "juniors-kettle"))
	require.NoError(t, desktest.Describe(b.Desk, b.picture, "A kettle that swings"))
	require.NoError(t, b.Banners.SetPicture(b.banner, b.picture))
	require.NoError(t, b.approve(b.banner))
	show, ok, err = b.Banners.Choose("foot", b.PageID, false)
	require.NoError(t, err)
	require.True(t, ok)
	for _, f := range show.Files {
		assert.Empty(t, f.MediaType, "what moves has no other beside it that might move where it stands still")
	}
}

// moving is a small animation, whose frames are of one colour each.
func moving(t *testing.T) []byte {
	t.Helper()
	var file bytes.Buffer
	g := gif.GIF{}
	for i := range 4 {
		frame := image.NewPaletted(image.Rect(0, 0, 480, 160), color.Palette{color.White, color.RGBA{200, uint8(60 * i), 40, 255}})
		for k := range frame.Pix {
			frame.Pix[k] = 1
		}
		g.Image, g.Delay = append(g.Image, frame), append(g.Delay, 20)
	}
	require.NoError(t, gif.EncodeAll(&file, &g))
	return file.Bytes()
}

// Those who are not counted, such as a browser that fetches ahead, get the banner of the day however
// often they ask, and take nobody's turn.
func TestWhoIsNotCountedTakesNobodysTurn(t *testing.T) {
	t.Parallel()
	b := newBoard(t)
	b.running("Knots", b.Ready("juniors-knots", 4))
	shown := func(counts bool) string {
		t.Helper()
		show, ok, err := b.Banners.Choose("foot", b.PageID, counts)
		require.NoError(t, err)
		require.True(t, ok)
		return show.Follow
	}
	var visitors []string
	days := map[string]bool{}
	for range 4 {
		visitors = append(visitors, shown(true))
		today := shown(false)
		for range 5 {
			assert.Equal(t, today, shown(false))
		}
		days[today] = true
		b.SetTime(b.Time().Add(24 * time.Hour))
	}
	assert.NotEqual(t, visitors[0], visitors[1])
	assert.Equal(t, visitors[:2], visitors[2:], "they go on taking turns")
	assert.Len(t, days, 2, "and so do the days")
}
