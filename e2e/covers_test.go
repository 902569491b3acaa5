package e2e

import (
	"bytes"
	stdimage "image"
	_ "image/jpeg" // read by DecodeConfig
	"io"
	"net/http"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/PuerkitoBio/goquery"
	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// dragTo drags one element onto another with a mouse.
func dragTo(t *testing.T, p *rod.Page, from, to *rod.Element) {
	t.Helper()
	from.MustScrollIntoView()
	a, b := from.MustShape().Box(), to.MustShape().Box()
	m := p.Mouse
	require.NoError(t, m.MoveTo(proto.Point{X: a.X + a.Width/2, Y: a.Y + a.Height/2}))
	require.NoError(t, m.Down(proto.InputMouseButtonLeft, 1))
	require.NoError(t, m.MoveLinear(proto.Point{X: b.X + b.Width/2, Y: b.Y + b.Height/2}, 8))
	require.NoError(t, m.Up(proto.InputMouseButtonLeft, 1))
}

// A blank cover is filled by dropping a picture on it; visitors see it on the front page in
// the act that publishes it.
func TestABlankCoverIsFilledByDrop(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/covers", 1280, 800, 1)
	blanks := func() int { return p.MustEval(`() => document.querySelectorAll('.cover-tile.blank').length`).Int() }
	before := blanks()
	require.Positive(t, before)
	river := p.MustElementR(".cover-tile", "River Watch")
	dragTo(t, p, p.MustElement(`[data-picture][title="river-bucket-and-net"]`), river)
	waitFor(t, p, `[...document.querySelectorAll('.cover-tile')].some((t) => t.textContent.includes('River Watch') && t.textContent.includes('chosen for it'))`)
	assert.Equal(t, before-1, blanks())
	assert.NotContains(t, section(t, h.site, "river"), "<img", "not published yet")

	hit(t, p, ".cover-tile a", "River Watch")
	waitText(t, p, ".panel h2", "Cover")
	hit(t, p, ".panel button", "Done")
	waitText(t, p, "#page-changes, .panel", "Publish again")
	hit(t, p, ".panel .primary")
	waitText(t, p, ".report", "Its cover: 400 × 300")
	assert.Contains(t, section(t, h.site, "river"), "river-bucket-and-net-cover-tile-400.jpg")
}

// section is the card of a section on the front page of the site.
func section(t *testing.T, site, code string) string {
	t.Helper()
	html := body(t, site+"/")
	from := strings.Index(html, `<a href="/`+code+`">`+"\n            <")
	require.Positive(t, from, "it is on the front page")
	return html[from : from+strings.Index(html[from:], "</li>")]
}

// Blanks are filled in one go from ticked pictures, with the keyboard alone.
func TestBlanksAreFilledInOneGo(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/covers?show=blanks", 1280, 800, 1)
	before := p.MustEval(`() => document.querySelectorAll('.cover-tile').length`).Int()
	require.GreaterOrEqual(t, before, 3)
	for _, name := range []string{"river-bucket-and-net", "boatshed-vests-on-hooks"} {
		box := p.MustElement(`[data-picture][title="` + name + `"] input`)
		require.NoError(t, box.Focus())
		require.NoError(t, p.Keyboard.Type(input.Space))
	}
	require.NoError(t, p.MustElement("#fill").Focus())
	require.NoError(t, p.Keyboard.Type(input.Enter))
	waitText(t, p, ".covers-head", "blank")
	waitFor(t, p, `document.querySelectorAll('.cover-tile.blank').length === `+strconv.Itoa(before-2))
}

// The picture in the list is another one than on the page, with a focal point of its own.
func TestAnotherPictureForTheList(t *testing.T) {
	h := start(t, "demo")
	b := browser(t)
	p := open(t, b, h.app+"/covers", 1280, 800, 1)
	hit(t, p, ".cover-tile a", "Where things hang")
	waitText(t, p, ".panel h2", "Cover")
	hit(t, p, `.cover-tray button[title="boatshed-vests-on-hooks"]`)
	waitText(t, p, ".cover-why", "boatshed-vests-on-hooks: chosen for it")
	shown := func() string { return p.MustElement(".shape-cover-thumb").MustProperty("outerHTML").Str() }
	was := shown()
	p.MustEval(`() => { const s = document.getElementById('cover-across'); s.value = 5; s.dispatchEvent(new Event('change', { bubbles: true })); }`)
	waitFor(t, p, `document.getElementById('cover-across').value <= 6`)
	require.Eventually(t, func() bool { return shown() != was }, patience, 50*time.Millisecond, "the shapes follow the focal point")
	hit(t, p, ".panel button", "Done")
	hit(t, p, ".panel .primary")
	waitText(t, p, ".panel", "Visitors already see it like this.")
	live := open(t, b, h.site+"/boatshed", 1280, 800, 2)
	live.MustElement(".list img.cover").MustScrollIntoView()
	waitFor(t, live, `document.querySelector('.list img.cover').currentSrc !== ''`)
	src := live.MustElement(".list img.cover").MustProperty("currentSrc").Str()
	assert.Contains(t, src, "boatshed-vests-on-hooks-cover-tile-800", "a sharp screen takes the sharp file")
	assert.Equal(t, "", *live.MustElement(".list img.cover").MustAttribute("alt"), "its title stands in the same link")
	page := body(t, h.site+"/boatshed/where-things-hang")
	assert.Contains(t, page, "boatshed-eight-boats-on-racks", "the page shows what it showed")
	assert.NotContains(t, page, "vests-on-hooks")
}

// A new page appears on the front page of its section with its tile, and its facts on itself.
func TestANewPageAppearsOnTheFrontPage(t *testing.T) {
	h := start(t, "demo")
	b := browser(t)
	p := open(t, b, h.app+"/pages", 1280, 800, 1)
	hit(t, p, "#new-page summary")
	write(t, p, "#new-page [name=title]", "Frost on the oars")
	p.MustElement("#new-page select").MustSelect("Touring")
	hit(t, p, "#new-page .tick", "Activity")
	hit(t, p, "#new-page .button.primary")
	waitText(t, p, ".file", "Frost on the oars")
	hit(t, p, "#page-details summary")
	p.MustEval(`() => { document.querySelector('#page-details [name=from]').value = '2026-11-30'; }`)
	write(t, p, "#page-details [name=whom]", "Those who own gloves")
	write(t, p, "#page-details [name=summary]", "A short tour before breakfast.")
	hit(t, p, "#page-details .tick", "On the water")
	hit(t, p, "#page-details .button.small")
	waitText(t, p, ".facts", "30 November 2026")
	hit(t, p, ".placed.hole .hold")
	hit(t, p, `#tray-found button[title="touring-jetty-at-dusk"]`)
	waitText(t, p, ".name-here", "touring-jetty-at-dusk")
	write(t, p, "#caption", "Six in the morning")
	calm(t, p)
	hit(t, p, ".placing button", "Done")
	hit(t, p, ".findings .mend", "Remove the block")
	waitText(t, p, ".panel", "Everything is in order")
	hit(t, p, ".panel .primary")
	waitText(t, p, ".report", "all is well")

	for address, first := range map[string]bool{"/": true, "/touring": true} {
		live := open(t, b, h.site+address, 1280, 800, 1)
		tile := live.MustElementR(".list .card-of-page", "Frost on the oars")
		assert.Equal(t, first, live.MustEval(`() => document.querySelector('.list .card-title').textContent === 'Frost on the oars'`).Bool(), "the newest comes first on %s", address)
		tile.MustElement("img.cover")
		assert.Contains(t, tile.MustText(), "A short tour before breakfast.")
	}
	live := open(t, b, h.site+"/touring/frost-on-the-oars", 1280, 800, 1)
	picture, facts := live.MustElement("figure.picture").MustShape().Box(), live.MustElement(".facts").MustShape().Box()
	assert.Greater(t, facts.X, picture.X+picture.Width-1, "words and facts stand at the right")
	assert.InDelta(t, 1.5, picture.Width/live.MustElement("figure.picture img").MustShape().Box().Height, 0.01, "3:2")
	phone := open(t, b, h.site+"/touring/frost-on-the-oars", 390, 844, 1)
	picture, facts = phone.MustElement("figure.picture").MustShape().Box(), phone.MustElement(".facts").MustShape().Box()
	assert.Greater(t, facts.Y, picture.Y+picture.Height-1, "and below it on a phone")

	p.MustNavigate(h.app + "/pages?q=gloves").MustWaitLoad()
	waitText(t, p, ".card", "Frost on the oars")
	p.MustNavigate(h.app + "/shelves?about=category:on-the-water").MustWaitLoad()
	assert.Contains(t, p.MustElement(".hall").MustText(), "touring-jetty-at-dusk")
	assert.NotContains(t, p.MustElement(".hall").MustText(), "river-sampling")
}

// The picture of a shared link is chosen and framed for it; what readers fetch tells of it,
// and the page stays as it is.
func TestALinkPictureIsChosen(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/pages", 1280, 800, 1)
	hit(t, p, ".card", "Across the lake in October")
	waitText(t, p, ".cover-line ~ .cover-line", "touring-island-in-the-mist: the cover of this page")
	hit(t, p, ".cover-line ~ .cover-line button")
	waitText(t, p, ".panel h2", "Shared link")
	assert.Len(t, p.MustElements(".cover-shapes svg"), 5, "what readers crop it to")
	hit(t, p, `.cover-tray button[title="touring-jetty-at-dusk"]`)
	waitText(t, p, ".cover-why", "touring-jetty-at-dusk: chosen for it")
	hit(t, p, ".panel button", "Done")
	hit(t, p, ".panel .primary")
	waitText(t, p, ".panel", "Visitors already see it like this.")
	assert.Contains(t, p.MustElement(".report").MustText(), "Its link picture: 1200 × 630")

	html := body(t, h.site+"/touring/across-the-lake")
	doc, err := goquery.NewDocumentFromReader(strings.NewReader(html))
	require.NoError(t, err)
	address := doc.Find(`meta[property="og:image"]`).AttrOr("content", "")
	assert.True(t, strings.HasPrefix(address, h.site+"/touring/across-the-lake-link.jpg?v="), address)
	image, kind, err := fetch(address)
	require.NoError(t, err)
	assert.Equal(t, "image/jpeg", kind)
	config, format, err := stdimage.DecodeConfig(bytes.NewReader(image))
	require.NoError(t, err)
	assert.Equal(t, []any{1200, 630, "jpeg"}, []any{config.Width, config.Height, format})
	assert.Less(t, len(image), 300_000, "its budget")
	assert.NotContains(t, doc.Find("main").Text(), "jetty")
	assert.Contains(t, doc.Find("main img").AttrOr("src", ""), "touring-island-in-the-mist")
}

// fetch gets an address as a client from elsewhere does.
func fetch(address string) (data []byte, kind string, err error) {
	res, err := http.Get(address) //nolint:gosec // its own site
	if err != nil {
		return nil, "", err
	}
	defer res.Body.Close()
	data, err = io.ReadAll(res.Body)
	return data, res.Header.Get("Content-Type"), err
}
