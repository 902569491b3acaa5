package page_test

import (
	"encoding/json"
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/fit"
	"mivlet/core/layout"
	"mivlet/core/page"
	"mivlet/core/recipe"
	"mivlet/core/rules"
)

func backed(b page.Background, blocks ...page.Block) page.Doc {
	band := page.Block{ID: "b1", Kind: page.Band, Band: &page.BandLayout{Pattern: "wide", Background: &b}}
	return page.Doc{Version: page.Version, Title: "Across the lake", Blocks: append([]page.Block{band}, blocks...)}
}

func behind(picture uint) page.Background {
	return page.Background{Cover: page.Cover{Picture: picture}, Height: page.UsualHeight, Shade: 40}
}

// A background that cannot be is refused, with the value.
func TestBackgroundsThatCannotBe(t *testing.T) {
	t.Parallel()
	good := behind(3)
	require.NoError(t, backed(good).Check())
	data, err := json.Marshal(backed(good))
	require.NoError(t, err)
	again, err := page.Parse(data)
	require.NoError(t, err)
	assert.Equal(t, backed(good), again)
	for says, change := range map[string]func(*page.Background){
		"not 0":      func(b *page.Background) { b.Picture = 0 },
		"not 101":    func(b *page.Background) { b.Shade = 101 },
		"not -1":     func(b *page.Background) { b.Shade = -1 },
		"not 59":     func(b *page.Background) { b.Height.Phone = 59 },
		"not 901":    func(b *page.Background) { b.Height.Desktop = 901 },
		"not 12":     func(b *page.Background) { b.Elsewhere = &layout.Lengths{Phone: 100, Tablet: 12, Desktop: 100} },
		"at 2, 0.5":  func(b *page.Background) { b.Focus = &fit.Focus{X: 2, Y: 0.5} },
		"holds noth": func(b *page.Background) { b.Frame = &fit.Box{Width: -1} },
	} {
		b := behind(3)
		change(&b)
		assert.ErrorContains(t, backed(b).Check(), says)
	}
	for _, h := range []int{0, page.LeastHeight, page.MostHeight} {
		b := behind(3)
		b.Height = layout.Same(h)
		assert.NoError(t, backed(b).Check(), "%d px", h)
	}
}

// The picture behind a band is one of the page's, and goes with it.
func TestTheBackgroundIsAPictureOfThePage(t *testing.T) {
	t.Parallel()
	d := backed(behind(3))
	assert.Equal(t, []uint{3}, d.Pictures())
	assert.Empty(t, d.Placements(), "it is placed nowhere")
	for _, gone := range []page.Doc{d.Without(3), d.Forgetting(3)} {
		assert.Empty(t, gone.Pictures())
		assert.NotNil(t, gone.Blocks[0].Band, "the band stays")
		assert.NotContains(t, asJSON(t, gone), "background")
	}
	assert.Equal(t, d, d.Without(4))
	assert.Equal(t, []uint{3}, d.Pictures(), "the page before it was not touched")
}

func asJSON(t *testing.T, d page.Doc) string {
	t.Helper()
	data, err := json.Marshal(d)
	require.NoError(t, err)
	return string(data)
}

// Files are made for the box on each device: on usual screens of 390, 768 and 1280 px at one
// and two pixels to each CSS px, and for the widest screens. None is wider than is shown at
// two pixels, or than 2,560.
func TestFilesForEachDevice(t *testing.T) {
	t.Parallel()
	r := rules.Default()
	r.Page.Breaks, r.Page.Cap = layout.Breaks{Tablet: 720, Desktop: 1024}, 1080
	f := backed(behind(3)).Blocks[0].Band
	room := page.BandRoom(r, f)
	want := map[layout.Device]struct {
		box    fit.Size
		widths []int
	}{
		layout.Phone:   {fit.Size{W: 390, H: 260}, []int{390, 719, 780, 1438}},
		layout.Tablet:  {fit.Size{W: 768, H: 320}, []int{768, 1023, 1536, 2046}},
		layout.Desktop: {fit.Size{W: 1080, H: 400}, []int{1080, 2160}},
	}
	for d, w := range want {
		s := room.Slot(d)
		assert.Equal(t, w.box, room.At(d), "%v", d)
		assert.Equal(t, w.box, fit.Size{W: s.Width, H: s.Height})
		var widths []int
		for _, density := range s.Densities {
			widths = append(widths, int(density*float64(s.Width)+0.5))
		}
		assert.Equal(t, w.widths, widths, "%v", d)
		assert.Equal(t, rules.Box, s.Kind())
	}
	assert.Len(t, room.Slots(), 3)
	assert.Equal(t, []string{"(max-width: 719px)", "(max-width: 1023px)", ""}, []string{room.Media(layout.Phone), room.Media(layout.Tablet), room.Media(layout.Desktop)})
	assert.Equal(t, "min(100vw, 1080px)", room.Sizes())

	b := behind(3)
	b.Elsewhere, b.Height = &page.UsualElsewhere, layout.Lengths{Tablet: 500}
	top := page.TopRoom(r, b)
	assert.Equal(t, "100vw", top.Sizes(), "at the top it crosses the window")
	assert.Equal(t, fit.Size{W: 1280, H: 180}, top.At(layout.Desktop))
	assert.Equal(t, []float64{1, 1.5, 2}, top.Slot(layout.Desktop).Densities, "1280, 1920 and 2560")
	f = backed(b).Blocks[0].Band
	assert.Equal(t, fit.Size{W: 390, H: page.UsualHeight.Phone}, page.BandRoom(r, f).At(layout.Phone), "as high as its text: cut as usual")
	assert.Equal(t, 500, page.BandRoom(r, f).At(layout.Tablet).H)
	r.Page.Breaks = layout.Breaks{Tablet: 300, Desktop: 1400}
	assert.Equal(t, 299, page.BandRoom(r, f).At(layout.Phone).W, "where a usual phone is no phone by the rules")
	assert.Equal(t, 1080, page.BandRoom(r, f).At(layout.Desktop).W)
}

// The focal point keeps its place in what each device shows: worked by hand for a picture of
// 4000 × 3000 and boxes of 390 × 260 and 1280 × 320.
func TestTheSpotThatStaysInView(t *testing.T) {
	t.Parallel()
	room := page.Room{Breaks: layout.Breaks{Tablet: 720, Desktop: 1024}, Width: func(v int) int { return v }, Height: layout.Lengths{Phone: 260, Tablet: 320, Desktop: 320}}
	source := fit.Size{W: 4000, H: 3000}
	at := func(fx, fy float64, d layout.Device) string {
		r, err := recipe.Recipe{}.With(recipe.Edit{Op: recipe.OpFocus, FocusX: fx, FocusY: fy}, source)
		require.NoError(t, err)
		x, y := room.Spot(r.View(source), d)
		return fmt.Sprintf("%d %d", x, y)
	}
	// A phone shows 4000 × 2667, a desktop 4000 × 1000.
	assert.Equal(t, "50 50", at(0.5, 0.5, layout.Phone))
	assert.Equal(t, "25 50", at(0.25, 0.5, layout.Desktop))
	assert.Equal(t, "80 10", at(0.8, 0.0334, layout.Desktop), "100 of the first 1000 rows")
	assert.Equal(t, "80 90", at(0.8, 0.9667, layout.Desktop), "900 of the last 1000 rows")
	assert.Equal(t, "10 4", at(0.1, 0.0334, layout.Phone))
}

// What stands over the picture is written inside of its band; the files come first, for the
// devices from narrow to wide (HTML Living Standard, 4.8.1: the first source that fits is
// taken).
func TestTheBackgroundInHTML(t *testing.T) {
	t.Parallel()
	r := rules.Default()
	b := behind(3)
	b.Header = true
	d := backed(b, page.Block{ID: "h", Kind: page.Heading, Text: "Tea & wind"})
	how := page.Writing{Rules: r, Backing: func(page.Background, page.Room) (page.Backing, error) {
		return page.Backing{Sources: []page.ForDevice{{Media: "(max-width: 719px)", SrcSet: "/s.jpg?a&b 390w", Sizes: "100vw", Width: 390, Height: 260}},
			Image: page.Image{Src: "/l.jpg", SrcSet: "/l.jpg 1080w, /xl.jpg 2160w", Sizes: "100vw", Width: 1080, Height: 400}}, nil
	}}
	written := html(t, d, how)
	assert.Equal(t, `<div class="band pattern-wide backed own-b1">
  <picture class="background">
    <source media="(max-width: 719px)"
      srcset="/s.jpg?a&amp;b 390w"
      sizes="100vw" width="390" height="260">
    <img src="/l.jpg"
      srcset="/l.jpg 1080w, /xl.jpg 2160w"
      sizes="100vw"
      width="1080" height="400" alt="" fetchpriority="high">
  </picture>
  <h1>Across the lake</h1>
  <div class="columns">
    <div class="column">
      <h2>Tea &amp; wind</h2>
    </div>
  </div>
</div>
`, written)
	how.Backing = nil
	plain := html(t, d, how)
	assert.NotContains(t, plain, "<picture")
	assert.True(t, strings.HasPrefix(plain, "<h1>"), "without its picture the title stands where it always does")

	how.Backing = func(page.Background, page.Room) (page.Backing, error) {
		return page.Backing{}, fmt.Errorf("no such file")
	}
	assert.ErrorContains(t, page.WriteHTML(&strings.Builder{}, d, how), "no such file")
	b.Header = false
	later := backed(b)
	later.Blocks = append([]page.Block{{ID: "t", Kind: page.Text, Text: "Words."}}, later.Blocks...)
	how.Backing = func(page.Background, page.Room) (page.Backing, error) {
		return page.Backing{Image: page.Image{Src: "/l.jpg", Width: 4, Height: 3}}, nil
	}
	assert.Contains(t, html(t, later, how), `fetchpriority="high"`, "the first picture of the page")
	later.Blocks = append(later.Blocks, page.Block{ID: "b2", Kind: page.Band, Band: &page.BandLayout{Pattern: "wide", Background: &b}})
	assert.Equal(t, 1, strings.Count(html(t, later, how), `loading="lazy"`), "the second waits until it is near")

	how.Inline = true
	inline := html(t, later, how)
	assert.Contains(t, inline, "background:rgb(0 0 0 / 40%)")
	assert.Contains(t, inline, "min-height:260px;color:#ffffff")
	assert.NotContains(t, inline, "class=")
}

func html(t *testing.T, d page.Doc, how page.Writing) string {
	t.Helper()
	var b strings.Builder
	require.NoError(t, page.WriteHTML(&b, d, how))
	return b.String()
}

// The stylesheet of a page has the heights by device, the spot, and what lies over the
// picture, in the order in which the narrower wins.
func TestTheBackgroundInCSS(t *testing.T) {
	t.Parallel()
	r := rules.Default()
	r.Page.Breaks = layout.Breaks{Tablet: 720, Desktop: 1024}
	b := behind(3)
	b.Light, b.Elsewhere, b.Below = true, &page.UsualElsewhere, true
	views := func(c page.Cover) (recipe.View, bool) {
		return recipe.Recipe{}.View(fit.Size{W: 4000, H: 3000}), c.Picture == 3
	}
	css := string(page.DocCSS(r, backed(b), views))
	assert.Contains(t, css, `.content .own-b1 { --shade: rgb(255 255 255 / 40%); }
.content .own-b1 { --least: 400px; --spot: 50% 50%; }
@media (max-width: 1023px) { .content .own-b1 { --least: 320px; --spot: 50% 50%; } }
@media (max-width: 719px) { .content .own-b1 { --least: 260px; --spot: 50% 50%; } }
`)
	none := func(page.Cover) (recipe.View, bool) { return recipe.View{}, false }
	assert.NotContains(t, string(page.DocCSS(r, backed(b), none)), "--spot")
	assert.Contains(t, string(page.TopCSS(r, b, views)), "header.topped { --least: 180px;")
	assert.Equal(t, "topped backed backed-light ways-below", b.TopClasses())
	assert.Contains(t, html(t, backed(b), page.Writing{Rules: r}), "backed backed-light own-b1")
	assert.Equal(t, "topped backed", behind(1).TopClasses())
}

// A picture that is taken off leaves the band with its words, and another background stays.
func TestTakingABackgroundOff(t *testing.T) {
	t.Parallel()
	const live = `<html><head></head><body><div class="band backed"><picture class="background"><source srcset="/s.jpg?v=1 390w"><img src="/l.jpg?v=1" alt=""></picture><h1>Tea</h1></div><div class="band backed"><picture class="background"><img src="/other.jpg" alt=""></picture></div></body></html>`
	off := page.Taking{Picture: 3, Addresses: map[string]bool{"/l.jpg": true, "/s.jpg": true}, Space: func(int, int) (string, error) { return "/space.svg", nil }}
	for range 2 {
		left, err := off.From(strings.NewReader(live))
		require.NoError(t, err)
		assert.NotContains(t, string(left), "/l.jpg")
		assert.NotContains(t, string(left), "/s.jpg")
		assert.Contains(t, string(left), `<div class="band backed"><h1>Tea</h1></div>`)
		assert.Contains(t, string(left), "/other.jpg")
		off.Space = nil // erased
	}
	seen, err := page.ReadHTML(strings.NewReader(live))
	require.NoError(t, err)
	require.Len(t, seen.Behind, 2)
	assert.Equal(t, map[string]int{"/l.jpg?v=1": 0, "/s.jpg?v=1": 390}, seen.Behind[0].Files)
}

// Text stands at the foot of a band, in columns that hold any; where something else stands
// there, it may stand anywhere.
func TestWhereTextStandsOverABackground(t *testing.T) {
	t.Parallel()
	r := rules.Default()
	words := page.Block{ID: "t", Kind: page.Text, Text: "Eleven kilometres, one island, two flasks of tea."}
	d := backed(behind(3), words)
	box := page.BandRoom(r, d.Blocks[0].Band).At(layout.Desktop)
	areas := d.TextAreas(r, "b1", layout.Desktop)
	require.Len(t, areas, 1)
	assert.Equal(t, box.H, areas[0].Max.Y)
	assert.Greater(t, areas[0].Min.Y, box.H/2, "one line is low")
	long := words
	long.Text = strings.Repeat("Eleven kilometres, one island. ", 40)
	assert.Less(t, backed(behind(3), long).TextAreas(r, "b1", layout.Desktop)[0].Min.Y, areas[0].Min.Y)
	assert.Zero(t, backed(behind(3), words, page.Block{ID: "f", Kind: page.Facts}).TextAreas(r, "b1", layout.Phone)[0].Min.Y, "nobody knows how high facts get")
	assert.Nil(t, backed(behind(3)).TextAreas(r, "b1", layout.Phone), "nothing is written")
	assert.Nil(t, backed(behind(3), page.Block{ID: "d", Kind: page.Divider}).TextAreas(r, "b1", layout.Phone))
	assert.Nil(t, d.TextAreas(r, "t", layout.Phone), "no band")

	titled := behind(3)
	titled.Header = true
	assert.Len(t, backed(titled).TextAreas(r, "b1", layout.Phone), 1, "the title is text")

	two := backed(behind(3), words, page.Block{ID: "p", Kind: page.Picture, Column: 1, Placement: &page.Placement{Slot: "side", Side: page.None}})
	two.Blocks[0].Band.Pattern = "two"
	areas = two.TextAreas(r, "b1", layout.Desktop)
	require.Len(t, areas, 1, "the picture beside it has no words")
	assert.Less(t, areas[0].Max.X, box.W/2+20)
	two.Blocks[2].Placement.Caption = "Nobody was up yet."
	areas = two.TextAreas(r, "b1", layout.Desktop)
	require.Len(t, areas, 2)
	assert.GreaterOrEqual(t, areas[1].Min.X, areas[0].Max.X)
	assert.Len(t, two.TextAreas(r, "b1", layout.Phone), 1, "on a phone all stand below each other")
}

// WCAG 2.2, 1.4.3: large text is of 24 px, or bold and of 18.66. Of the site's text that is
// the title and headings of level 2.
func TestOnlyLargeText(t *testing.T) {
	t.Parallel()
	r := rules.Default()
	heading := func(level int) page.Block { return page.Block{ID: "h", Kind: page.Heading, Level: level, Text: "Tea"} }
	assert.True(t, backed(behind(3), heading(2)).OnlyLarge(r, "b1"))
	assert.True(t, backed(behind(3), heading(0)).OnlyLarge(r, "b1"))
	assert.True(t, backed(behind(3)).OnlyLarge(r, "b1"))
	assert.False(t, backed(behind(3), heading(3)).OnlyLarge(r, "b1"))
	assert.False(t, backed(behind(3), heading(2), page.Block{ID: "t", Kind: page.Text, Text: "Tea"}).OnlyLarge(r, "b1"))
	assert.False(t, backed(behind(3)).OnlyLarge(r, "x"))
}
