package e2e

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// manyPhotos are small photos, each another one.
func manyPhotos(t *testing.T, n int) []string {
	t.Helper()
	dir := t.TempDir()
	files := make([]string, n)
	for i := range n {
		m := image.NewRGBA(image.Rect(0, 0, 360, 240))
		for y := range 240 {
			for x := range 360 {
				m.SetRGBA(x, y, color.RGBA{uint8(x * (i + 3) % 251), uint8(y*2 + i*5), uint8(x ^ y*i), 255})
			}
		}
		var b bytes.Buffer
		require.NoError(t, jpeg.Encode(&b, m, nil))
		files[i] = filepath.Join(dir, fmt.Sprintf("P%03d.jpg", i+1))
		require.NoError(t, os.WriteFile(files[i], b.Bytes(), 0o600))
	}
	return files
}

// hangs are the names of the pictures in an album, in their order.
func hangs(p *rod.Page) (names []string) {
	for _, one := range p.MustEval(`() => [...document.querySelectorAll('#hung > li')].map((l) => l.getAttribute('aria-label').replace(/^\d+: /, ''))`).Arr() {
		names = append(names, one.Str())
	}
	return names
}

// An album of fifty files in one drop: what they lack is told, they are put in order and
// described by keys alone, and what was taken out by mistake comes back.
func TestAnAlbumOfFiftyFiles(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/albums", 1280, 800, 1)
	write(t, p, "#title", "The regatta in fifty")
	hit(t, p, ".begin .primary")
	waitText(t, p, ".empty", "Nothing hangs here yet")
	files := manyPhotos(t, 50)
	drop(t, p, "#album .empty", files...)
	waitText(t, p, "#landing", "50 came in.")
	require.Len(t, hangs(p), 50)
	assert.Equal(t, "P001.jpg", hangs(p)[0])
	waitText(t, p, ".album-side .finding", "50 pictures have no description.")
	waitText(t, p, ".hung-lacks", "name, description")

	type_ := func(keys ...input.Key) {
		t.Helper()
		calm(t, p)
		for _, k := range keys {
			require.NoError(t, p.Keyboard.Type(k))
		}
	}
	alt := func(key input.Key) {
		t.Helper()
		calm(t, p)
		p.KeyActions().Press(input.AltLeft).Type(key).Release(input.AltLeft).MustDo()
		calm(t, p)
	}
	p.MustEval(`() => document.activeElement?.blur()`)
	type_(input.ArrowRight, input.ArrowRight) // to the second
	alt(input.ArrowLeft)
	waitFor(t, p, `document.querySelector('#hung > li').getAttribute('aria-label') === '1: P002.jpg'`)
	assert.Equal(t, "1: P002.jpg", p.MustEval(`() => document.activeElement.getAttribute('aria-label')`).Str(), "the hand is where it was")
	type_(input.KeyL)
	type_(input.Delete)
	waitFor(t, p, `document.querySelectorAll('#hung > li').length === 49`)
	assert.NotContains(t, hangs(p), "P002.jpg")
	press(t, p, input.KeyU)
	waitFor(t, p, `document.querySelectorAll('#hung > li').length === 50`)
	assert.Equal(t, "P002.jpg", hangs(p)[0], "what was taken out by mistake is back where it was")

	press(t, p, input.KeyD)
	for i := range 3 {
		waitText(t, p, "#describing .file", fmt.Sprintf("%d pictures without", 50-i))
		calm(t, p)
		p.MustEval(`() => document.getElementById('alt').focus()`)
		require.NoError(t, p.MustElement("#alt").Input(fmt.Sprintf("Boat number %d before the buoy", i+1)))
		require.NoError(t, p.Keyboard.Type(input.Enter))
	}
	waitText(t, p, "#describing .file", "47 pictures without")
	press(t, p, input.Escape)
	waitText(t, p, ".album-side .finding", "47 pictures have no description.")

	// By hand: the last before the first.
	first := p.MustElement("#hung > li:first-child")
	p.MustElement("#hung > li:nth-child(4)").MustScrollIntoView()
	from, to := p.MustElement("#hung > li:nth-child(4) img").MustShape().Box(), first.MustElement("img").MustShape().Box()
	drag(p, from.X+from.Width/2, from.Y+from.Height/2, to.X+3, to.Y+to.Height/2)
	waitFor(t, p, `document.querySelector('#hung > li').getAttribute('aria-label') === '1: P004.jpg'`)
}

// Two people have an album open: what one does, the other sees.
func TestAnAlbumIsShared(t *testing.T) {
	h := start(t, "demo")
	b := browser(t)
	one, two := open(t, b, h.app+"/albums/1", 1280, 800, 1), open(t, b, h.app+"/albums/1", 1280, 800, 1)
	before := hangs(two)
	write(t, one, "#hung > li:nth-child(4) [name=caption]", "In the wind")
	waitFor(t, two, `document.querySelector('#hung > li:nth-child(4) [name=caption]').value === 'In the wind'`)
	one.MustElement("#album-order").MustSelect("by name")
	waitFor(t, two, `document.querySelector('#hung > li').getAttribute('aria-label') === '1: boatshed-boats-on-the-roof'`)
	assert.ElementsMatch(t, before, hangs(two))
}

// A picture that is added is live when the page that shows the album is published again. On
// the live page an album is stepped through by keys and by touch, and each picture has an
// address: "back" leads to the page, the hand is where it was, and nothing further than one
// picture away is fetched.
func TestAnAlbumIsLive(t *testing.T) {
	h := start(t, "demo")
	waitLive(t, h)
	b := browser(t)
	p := open(t, b, h.app+"/shelves?q=socials-is-it-deep", 1280, 800, 1)
	hit(t, p, "#acts input[name=picture]")
	p.MustElement("#into-album").MustSelect("The season in 24 pictures")
	hit(t, p, "#acts-bar button", "Into the album")
	waitText(t, p, ".file", "25 pictures")
	waitText(t, p, ".album-uses", "to be published again")
	hit(t, p, ".album-uses a", "The season in pictures")
	waitText(t, p, ".album-beyond", "And 13 more")
	calm(t, p)
	hit(t, p, ".panel .primary", "Publish")
	waitText(t, p, ".panel", "Visitors already see it like this.")
	waitText(t, p, ".report", "all is well")

	page := "/touring/the-season-in-pictures"
	live := open(t, b, h.site+page, 1280, 800, 1)
	waitText(t, live, ".album-more a", "And 13 more")
	thumb := live.MustElement(".album-thumb:nth-child(3) a")
	href := *thumb.MustAttribute("href")
	thumb.MustScrollIntoView()
	shown := func(p *rod.Page, place string) {
		t.Helper()
		defer func() {
			if t.Failed() {
				t.Log(p.MustEval(`() => [location.href, document.querySelector('.album-over')?.className, document.querySelector('.album-over')?.dataset.shows, document.querySelector('.album-place')?.textContent, JSON.stringify(performance.getEntriesByType('resource').slice(-4).map(e => [e.name, e.duration]))].join(' | ')`).Str())
			}
		}()
		waitFor(t, p, fmt.Sprintf(`document.querySelector('.album-over[open] .album-place')?.textContent === %q && !document.querySelector('.album-over.changing')`, place))
	}
	hit(t, live, ".album-thumb:nth-child(3) a")
	shown(live, "3 of 25")
	assert.Equal(t, href, live.MustEval(`() => location.pathname`).Str(), "it has an address")
	said := live.MustElement(".album-said").MustText()
	assert.Equal(t, "The season in 24 pictures, 3 of 25. A paddler in a yellow kayak leans into the stroke beside the reeds", said, "title, place and description are told")
	accessible(t, live, "an album over its page")
	fetched := func() []string {
		var all []string
		for _, one := range live.MustEval(`() => performance.getEntriesByType('resource').map((e) => new URL(e.name).pathname).filter((p) => /\/pictures\//.test(p))`).Arr() {
			all = append(all, one.Str())
		}
		return all
	}
	require.Eventually(t, func() bool { return len(fetched()) == 3 }, patience, 50*time.Millisecond)
	assert.Len(t, fetched(), 3, "the one that is shown, and its neighbours: %v", fetched())
	require.NoError(t, live.Keyboard.Type(input.ArrowRight))
	shown(live, "4 of 25")
	require.NoError(t, live.Keyboard.Type(input.ArrowLeft))
	shown(live, "3 of 25")
	require.NoError(t, live.Keyboard.Type(input.ArrowLeft))
	shown(live, "2 of 25")
	require.NoError(t, live.Keyboard.Type(input.Escape))
	waitFor(t, live, `!document.querySelector('.album-over[open]') && location.pathname === '`+page+`'`)
	assert.Equal(t, href, live.MustEval(`() => document.activeElement.getAttribute('href')`).Str(), "the hand is back where it was")

	hit(t, live, ".album-more a")
	shown(live, "13 of 25")
	live.MustEval(`() => history.back()`)
	waitFor(t, live, `!document.querySelector('.album-over[open]') && location.pathname === '`+page+`'`)
	live.MustEval(`() => history.forward()`)
	shown(live, "13 of 25")

	phone := open(t, b, h.site+page, 390, 844, 2)
	fingers(t, phone)
	phone.MustElement(".album").MustScrollIntoView()
	hit(t, phone, ".album-thumb:nth-child(1) a")
	shown(phone, "1 of 25")
	assert.True(t, phone.MustEval(`() => document.querySelector('[data-to=previous]').disabled`).Bool(), "nothing comes before the first")
	swipe(t, phone, [4]float64{320, 150, 120, 150}) // beside the picture: it may not have come yet, and has no size then
	shown(phone, "2 of 25")
	swipe(t, phone, [4]float64{120, 400, 320, 400})
	shown(phone, "1 of 25")

	// The same address by itself is a page of the picture, valid, with ways on.
	alone := open(t, b, h.site+href, 1280, 800, 1)
	assert.Equal(t, "3 of 25", alone.MustElement(".album-at").MustText())
	accessible(t, alone, "a picture of an album by itself")
	hit(t, alone, ".album-next")
	waitText(t, alone, ".album-at", "4 of 25")
	hit(t, alone, ".album-back")
	waitText(t, alone, "h1", "The season in pictures")
}

// A browser lays rows out as they were computed: each fills the column but for a pixel at
// most, its pictures are of one height, whole, and none is larger than its file.
func TestRowsOfAnAlbumFillTheirWidth(t *testing.T) {
	h := start(t, "demo")
	waitLive(t, h)
	b := browser(t)
	p := open(t, b, h.app+"/pages/6/album?block=w8", 1280, 800, 1)
	hit(t, p, ".album-form .look", "Rows, uncropped")
	waitFor(t, p, `document.querySelector('.album-drawn.in-rows') !== null`)
	write(t, p, "#album-most", "")
	calm(t, p)
	hit(t, p, ".panel button", "Done")
	hit(t, p, ".panel .primary", "Publish")
	waitText(t, p, ".panel", "Visitors already see it like this.")
	for _, width := range []int{320, 390, 600, 768, 1000, 1280, 1600} {
		live := open(t, b, h.site+"/touring/the-season-in-pictures", width, 800, 1)
		live.MustElement(".album").MustScrollIntoView()
		waitFor(t, live, `[...document.querySelectorAll('.album img')].every((i) => { i.loading = 'eager'; return i.complete && i.naturalWidth })`)
		v := live.MustEval(`() => {
			const wide = document.querySelector('.album-thumbs').getBoundingClientRect().width;
			const rows = [];
			for (const i of document.querySelectorAll('.album img')) {
				const r = i.getBoundingClientRect();
				const last = rows.at(-1);
				if (last && Math.abs(last.top - r.top) < 2) last.all.push(r); else rows.push({ top: r.top, all: [r] });
			}
			return { short: rows.slice(0, -1).map((row) => wide - (row.all.at(-1).right - row.all[0].left)),
				uneven: rows.map((row) => Math.max(...row.all.map((r) => r.height)) - Math.min(...row.all.map((r) => r.height))),
				cropped: [...document.querySelectorAll('.album img')].map((i) => Math.abs(i.clientWidth / i.clientHeight / (i.naturalWidth / i.naturalHeight) - 1)),
				larger: [...document.querySelectorAll('.album img')].filter((i) => i.clientHeight > i.naturalHeight + 1).length, n: rows.length };
		}`)
		for _, short := range v.Get("short").Arr() {
			assert.InDelta(t, 0, short.Num(), 1, "a row at %d", width)
		}
		for _, uneven := range v.Get("uneven").Arr() {
			assert.LessOrEqual(t, uneven.Num(), 2.0, "heights in a row at %d", width)
		}
		for _, cropped := range v.Get("cropped").Arr() {
			assert.Less(t, cropped.Num(), 0.03, "proportions at %d", width)
		}
		assert.Zero(t, v.Get("larger").Int(), "enlarged at %d", width)
		assert.Greater(t, v.Get("n").Int(), 2)
		live.MustClose()
	}
}

// An album goes out as a ZIP, and comes in again.
func TestAnAlbumGoesOutAndComesIn(t *testing.T) {
	h := start(t, "demo")
	zip := body(t, h.app+"/albums/2/zip?width=300")
	require.True(t, strings.HasPrefix(zip, "PK"))
	file := filepath.Join(t.TempDir(), "Once more.zip")
	require.NoError(t, os.WriteFile(file, []byte(zip), 0o600))
	p := open(t, browser(t), h.app+"/albums", 1280, 800, 1)
	p.MustElement("#zip").MustSetFiles(file)
	waitText(t, p, ".file", "Once more")
	assert.Equal(t, []string{"socials-two-with-mugs.jpg", "socials-flames.jpg", "socials-is-it-deep.png"}, hangs(p))
	hit(t, p, ".history-fold summary")
	hit(t, p, ".history-fold button", "Delete the album")
	waitText(t, p, ".deleted", "Once more")
	hit(t, p, ".deleted button", "Bring back")
	waitText(t, p, ".file", "3 pictures")
}

// While the files of an album are made, the work tells how far it is, and the album stays.
func TestAnAlbumStaysWhileItsFilesAreMade(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/albums/1", 1280, 800, 1)
	hit(t, p, ".album-cut button", "Make all files")
	waitFor(t, p, `Boolean(document.querySelector('#cutting .job'))`)
	waitFor(t, p, `Boolean(document.querySelector('#cutting .job:not([hx-get])'))`) // it has ended
	assert.True(t, p.MustHas("#album #hung li"), "the pictures are still there")
}
