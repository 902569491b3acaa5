package backgrounds_test

import (
	"bytes"
	"context"
	"fmt"
	"image"
	_ "image/jpeg" // read by DecodeConfig
	"io"
	"strings"
	"testing"

	"github.com/PuerkitoBio/goquery"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	_ "golang.org/x/image/webp" // read by DecodeConfig

	"mivlet/core/audit"
	"mivlet/core/fit"
	"mivlet/core/layout"
	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/core/veil"
	"mivlet/desk/access"
	"mivlet/desk/desktest"
	"mivlet/desk/snapshot"
	"mivlet/desk/visit"
	"mivlet/store"
)

// house is a fixture whose page begins with a band.
type house struct {
	*desktest.Fixture
	band string
}

func fresh(t *testing.T) *house {
	t.Helper()
	b := &house{Fixture: desktest.Fresh(t)}
	var err error
	b.band, err = b.Pages.AddBlock(b.PageID, page.Gap{}, page.Band, "wide", "")
	require.NoError(t, err)
	require.NoError(t, b.Pages.MoveBlock(b.PageID, b.band, -1))
	return b
}

func (b *house) mark() string {
	b.T.Helper()
	at, ok := b.PageView().Doc.Block(b.band)
	require.True(b.T, ok)
	return at.Mark()
}

// veil hides a part of a picture.
func (b *house) veil(picture uint) {
	b.T.Helper()
	require.NoError(b.T, b.Bench.AddVeils(picture, []veil.Veil{{Shape: veil.Rect, Bounds: image.Rect(400, 300, 1200, 700), Style: veil.Cover}}))
}

func behind(picture uint) *page.Background {
	return &page.Background{Cover: page.Cover{Picture: picture}, Height: page.UsualHeight}
}

func (b *house) set(back *page.Background) {
	b.T.Helper()
	require.NoError(b.T, b.Backgrounds.Set(b.PageID, b.band, b.mark(), back))
}

func TestAPictureBehindABand(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	v, err := b.Backgrounds.Of(b.PageID, b.band)
	require.NoError(t, err)
	assert.Nil(t, v, "nothing stands there yet")
	picture := b.Ready("juniors-boat", 1)
	b.set(behind(picture))
	v, err = b.Backgrounds.Of(b.PageID, b.band)
	require.NoError(t, err)
	assert.Equal(t, picture, v.Shows.ID)
	assert.Equal(t, store.Shelf, b.PictureOf(picture).Station, "it is used, so it is on the shelf")
	require.NoError(t, b.Pages.SetBand(b.PageID, b.band, b.mark(), page.BandLayout{Pattern: "text"}))
	assert.Equal(t, []uint{picture}, b.PageView().Doc.Pictures(), "other measures of the band leave it there")

	desktest.Refusal(t, b.Backgrounds.Set(b.PageID, b.band, "as somebody else saw it", nil), access.Clash, "Somebody else")
	desktest.Refusal(t, b.Backgrounds.Set(b.PageID, "none", "", nil), access.Missing, "band")
	desktest.Refusal(t, b.Backgrounds.Set(b.PageID, b.band, b.mark(), behind(999)), access.Missing, "picture")
	high := behind(picture)
	high.Height.Phone = 5000
	desktest.Refusal(t, b.Backgrounds.Set(b.PageID, b.band, b.mark(), high), access.Bad, "cannot stand there")
	b.set(nil)
	assert.Empty(t, b.PageView().Doc.Pictures())
	require.NoError(t, b.Pages.PageStep(b.PageID, b.PageView().Version, b.PageView().Undo()))
	assert.Equal(t, []uint{picture}, b.PageView().Doc.Pictures(), "one step back")
}

// What goes live has a file for each device, made from the original, and the check looks at
// all of them.
func TestABackgroundGoesLive(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	picture := b.Ready("juniors-boat", 1)
	back := behind(picture)
	back.Header, back.Shade = true, 70
	b.set(back)
	report := b.GoLive()
	assert.True(t, report.OK(), "%v", report.Checks)
	assert.Contains(t, fmt.Sprint(report.Checks), "Behind the text: 390 × 260")
	seen, err := page.ReadHTML(strings.NewReader(b.LivePage()))
	require.NoError(t, err)
	require.Len(t, seen.Behind, 1)
	assert.Empty(t, seen.Behind[0].Alt)
	assert.GreaterOrEqual(t, len(seen.Behind[0].Files), 5)
	for address, width := range seen.Behind[0].Files {
		status, data := b.Visit(address)
		require.Equal(t, 200, status, address)
		c, _, err := image.DecodeConfig(bytes.NewReader(data))
		require.NoError(t, err)
		assert.Equal(t, width, c.Width, address)
		assert.LessOrEqual(t, c.Width, 1600, "no more than the original has")
		assert.LessOrEqual(t, len(data), 400_000, "the budget")
	}
	assert.False(t, b.PageView().Differs)

	weights, err := b.House.Weights(b.PageID)
	require.NoError(t, err)
	for _, w := range weights {
		require.Len(t, w.Shares, 1, w.Device)
		assert.Contains(t, w.Shares[0].Name, "behind the text")
		assert.Positive(t, w.Bytes, "it is part of what the page weighs")
	}

	b.Tamper = func(path string, data []byte) []byte {
		if strings.Contains(path, "juniors-boat-390") {
			return data[:len(data)-1]
		}
		return data
	}
	report, err = b.Visits.Check(context.Background(), b.PageID)
	require.NoError(t, err)
	assert.False(t, report.OK())
	assert.Contains(t, fmt.Sprint(report.Checks), "Behind the text, what comes from")
	b.Tamper = nil

	back.Focus = &fit.Focus{X: 0.1, Y: 0.9}
	b.set(back)
	assert.True(t, b.PageView().Differs, "another part of it is shown")
	b.GoLive()
	require.NoError(t, b.Withdraw.Withdraw(context.Background(), picture))
	assert.NotContains(t, b.LivePage(), "<picture", "what is taken off the air stands behind nothing")
	assert.Contains(t, b.LivePage(), "<h1>Autumn</h1>")
}

// Text that is hard to read over its picture is a finding, with what would mend it.
func TestContrastIsAFinding(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	b.set(behind(b.Ready("juniors-boat", 1)))
	low := func() *snapshot.PageFinding {
		for _, f := range b.PageView().Findings {
			if f.Code == audit.LowContrast {
				return &f
			}
		}
		return nil
	}
	f := low()
	require.NotNil(t, f)
	assert.Equal(t, []any{b.band, audit.SetShade}, []any{f.Block, f.Mend.Do})
	v, err := b.Backgrounds.Of(b.PageID, b.band)
	require.NoError(t, err)
	assert.Equal(t, f.Mend.Value, fmt.Sprint(v.Dark))
	require.NoError(t, b.Pages.Mend(b.PageID, b.band, 0, audit.SetShade, f.Mend.Value))
	assert.Nil(t, low())
	back := behind(v.Shows.ID)
	back.Shade = v.Dark - 1
	b.set(back)
	assert.NotNil(t, low(), "one percent less is not enough")
	back.Light, back.Shade = true, v.Lit
	b.set(back)
	assert.Nil(t, low(), "light under dark text is as good")
	v, err = b.Backgrounds.Of(b.PageID, b.band)
	require.NoError(t, err)
	require.Len(t, v.Contrasts, 3)
	for i, c := range v.Contrasts {
		assert.Equal(t, layout.Devices[i], c.On)
		assert.GreaterOrEqual(t, c.Ratio, 4.5)
	}
}

// What is seen behind a band of a draft has its veils, and needs somebody who may see the
// picture.
func TestTheLookOfABackground(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	_, err := b.Backgrounds.Look(b.PageID, b.band, layout.Phone)
	desktest.Refusal(t, err, access.Missing, "no picture behind")
	picture := b.Ready("juniors-boat", 1)
	b.set(behind(picture))
	look := func() []byte {
		f, err := b.Backgrounds.Look(b.PageID, b.band, layout.Phone)
		require.NoError(t, err)
		defer f.Close()
		data, err := io.ReadAll(f)
		require.NoError(t, err)
		return data
	}
	before := look()
	c, _, err := image.DecodeConfig(bytes.NewReader(before))
	require.NoError(t, err)
	assert.Equal(t, []int{390, 260}, []int{c.Width, c.Height})
	b.veil(picture)
	assert.NotEqual(t, before, look())
	_, err = b.Derive.BoxLook(page.Cover{Picture: picture}, fit.Size{W: 99999, H: 10})
	desktest.Refusal(t, err, access.Bad, "no such box")
}

// The picture of a section's front page stands at the top of its other pages, once both are
// live; pages with a header of their own keep it.
func TestTheTopOfAllPagesOfASection(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	picture := b.Ready("juniors-boat", 1)
	front, err := b.Covers.BeginFront("juniors", "")
	require.NoError(t, err)
	live := func(id uint) visit.Report {
		p, err := b.Pages.Page(id)
		require.NoError(t, err)
		report, err := b.Publish.Publish(context.Background(), id, p.Seen, "as it is, for a test", desktest.PlainLayout)
		require.NoError(t, err)
		return report
	}
	top := func() string {
		_, data := b.Visit("/juniors/autumn")
		head, _, _ := strings.Cut(string(data), "<main>")
		return head[strings.Index(head, "</head>"):]
	}
	b.GoLive()
	require.NotContains(t, top(), "<header")

	band, err := b.Pages.AddBlock(front, page.Gap{}, page.Band, "wide", "")
	require.NoError(t, err)
	require.NoError(t, b.Pages.MoveBlock(front, band, -1))
	p, err := b.Pages.Page(front)
	require.NoError(t, err)
	at, _ := p.Doc.Block(band)
	back := behind(picture)
	back.Shade, back.Elsewhere, back.Below = 80, &page.UsualElsewhere, true
	require.NoError(t, b.Backgrounds.Set(front, band, at.Mark(), back))
	assert.False(t, b.PageView().Differs, "visitors do not see the front page's draft")
	live(front)
	lines, err := b.Pages.PageLines()
	require.NoError(t, err)
	for _, l := range lines {
		assert.Equal(t, l.ID == b.PageID, l.Differs, "%s: its top is another one now, the front page's own is not", l.Path())
	}
	report := b.GoLive()
	assert.True(t, report.OK(), "%v", report.Checks)
	assert.Contains(t, top(), `<header class="topped backed ways-below">`)
	assert.Contains(t, top(), "390w")
	assert.Contains(t, string(must(b.Visit("/juniors/autumn.css"))), "header.topped { --least: 180px;")

	b.veil(picture)
	assert.True(t, b.PageView().Differs, "its picture has changed")
	assert.Contains(t, b.PageView().Seen.Pictures, picture, "who publishes has seen it")
	b.GoLive()
	require.NoError(t, b.Withdraw.Withdraw(context.Background(), picture))
	assert.NotContains(t, top(), "<picture", "it is off the air everywhere")

	live(front)
	b.set(behind(picture))
	live(b.PageID)
	assert.NotContains(t, top(), "<header", "one at the top is enough")
	b.set(nil)
	require.NoError(t, b.Publish.TakePageOff(front))
	assert.False(t, strings.Contains(topOf(b), "picture"), "who has no front page gives nothing")
}

func topOf(b *house) string {
	b.T.Helper()
	b.GoLive()
	return b.LivePage()
}

func must(status int, data []byte) []byte {
	if status != 200 {
		return nil
	}
	return data
}

// Where the house offers lighter files, each device is offered them first (HTML Living Standard, the
// source element: the first that fits is taken), in the same sizes.
func TestLighterFilesBehindABand(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	b.UnderRules(func(r *rules.Rules) {
		r.ServeUpTo(1) // files that are quickly made show the same
		r.Placing.Lighter = []string{"webp"}
	})
	b.set(behind(b.Ready("juniors-boat", 1)))
	report := b.GoLive()
	require.True(t, report.OK(), "%v", report.Checks)
	require.NoError(t, b.Lighter.Make(t.Context(), desktest.PlainLayout))
	doc, err := goquery.NewDocumentFromReader(strings.NewReader(b.LivePage()))
	require.NoError(t, err)
	files := func(srcset string) (sizes []image.Point, bytesOfAll int) {
		for _, one := range strings.Split(srcset, ",") {
			status, data := b.Visit(strings.Fields(one)[0])
			require.Equal(t, 200, status, one)
			m, _, err := image.DecodeConfig(bytes.NewReader(data))
			require.NoError(t, err, one)
			sizes, bytesOfAll = append(sizes, image.Pt(m.Width, m.Height)), bytesOfAll+len(data)
		}
		return sizes, bytesOfAll
	}
	pictured := doc.Find("picture.background")
	offers := pictured.Find("source[type='image/webp']")
	require.Equal(t, 3, offers.Length(), "for each kind of screen")
	offers.Each(func(_ int, s *goquery.Selection) {
		other := s.Next()
		assert.Equal(t, s.AttrOr("media", ""), other.AttrOr("media", ""), "what comes next is for the same devices, and all browsers")
		assert.Empty(t, other.AttrOr("type", ""))
		lighter, light := files(s.AttrOr("srcset", ""))
		usual, heavy := files(other.AttrOr("srcset", ""))
		assert.Equal(t, usual, lighter)
		assert.Less(t, light, heavy)
	})
	assert.True(t, pictured.Children().Last().Is("img"))
}
