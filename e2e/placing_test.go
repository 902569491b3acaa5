package e2e

import (
	"archive/zip"
	"bytes"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/page"
	"mivlet/demo"
	"mivlet/store/datafolder"
)

// centre is the middle of an element on the screen, once it is in view.
func centre(t *testing.T, el *rod.Element) (x, y float64) {
	t.Helper()
	require.NoError(t, el.ScrollIntoView())
	require.NoError(t, el.WaitStableRAF())
	box := el.MustShape().Box()
	return box.X + box.Width/2, box.Y + box.Height/2
}

// placedNames are the descriptions of the pictures on the page, in reading order.
func placedNames(p *rod.Page) string {
	return p.MustEval(`() => [...document.querySelectorAll('.sheet .placed img')].map((i) => i.alt).join(' | ')`).Str()
}

// Pictures come to a page by pointer, by keyboard and from the desktop; they are
// replaced, and blocks are moved, by dragging; and all of it is undone.
func TestPicturesComeToAPage(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/pages/3", 1280, 1100, 1)

	// By pointer: from the tray into a gap.
	hit(t, p, `.gap[data-gap="0"]`)
	waitText(t, p, ".panel h2", "Place a picture")
	x, y := centre(t, p.MustElement(`.in-tray:has(img[alt="touring-jetty-at-dusk"])`))
	dragInto(t, p, x, y, `.gap[data-gap="4"]`)
	waitFor(t, p, `document.querySelectorAll('.sheet .placed').length === 2`)
	assert.True(t, strings.HasSuffix(placedNames(p), "under a pink evening sky"), placedNames(p))

	// By keyboard: to a gap, into the tray, a picture, and placed.
	calm(t, p)
	require.NoError(t, p.Keyboard.Type('i'))
	require.NoError(t, p.Keyboard.Type(input.Enter))
	waitFor(t, p, `document.activeElement?.name === 'picture'`)
	calm(t, p)
	require.NoError(t, p.Keyboard.Type(input.Space))
	waitFor(t, p, `document.querySelector('#placing .primary') !== null`)
	calm(t, p)
	focus(t, p, "#placing .primary")
	require.NoError(t, p.Keyboard.Type(input.Enter))
	waitFor(t, p, `document.querySelectorAll('.sheet .placed').length === 3`)

	// From the desktop: a file dropped into a gap, with what it lacks.
	calm(t, p)
	p.MustElement(`.gap[data-gap="0"]`).MustScrollIntoView()
	drop(t, p, `.gap[data-gap="0"]`, demoPicture(t, "IMG_2140.JPG"), demoPicture(t, "P1040860.JPG"))
	waitFor(t, p, `document.querySelectorAll('.sheet .placed').length === 5`)
	labels := p.MustEval(`() => [...document.querySelectorAll('.sheet .placed .hold')].slice(0, 2).map((b) => b.ariaLabel).join()`).Str()
	assert.Regexp(t, `IMG_2140.*P1040860`, labels, "several stand in their order")
	waitText(t, p, ".lacks", "name")
	waitFor(t, p, `document.querySelector('.sheet .placed img').complete`)

	// Onto a picture: another one in its place.
	calm(t, p)
	require.NoError(t, p.Keyboard.Type(input.Escape))
	calm(t, p)
	hit(t, p, `.gap[data-gap="0"]`)
	waitText(t, p, ".panel h2", "Place a picture")
	write(t, p, "#find", "dusk")
	waitFor(t, p, `document.querySelectorAll('.in-tray').length === 1`)
	calm(t, p)
	x, y = centre(t, p.MustElement(`.in-tray img`))
	dragInto(t, p, x, y, ".sheet .placed")
	waitFor(t, p, `document.querySelector('.sheet .placed img').alt.includes('pink evening sky')`)

	// A block is dragged by its grip into another gap, and moved by keys.
	calm(t, p)
	require.NoError(t, p.Keyboard.Type(input.Escape))
	calm(t, p)
	order := strings.Fields(p.MustEval(`() => [...document.querySelectorAll('.sheet [data-block]')].map((b) => b.dataset.block).join(' ')`).Str())
	words := p.MustElement(".sheet .words")
	id := *words.MustAttribute("data-block")
	words.MustScrollIntoView().MustHover()
	x, y = centre(t, words.MustElement(".grip"))
	dragInto(t, p, x, y, `.gap[data-gap="0"]`)
	waitFor(t, p, `document.querySelector('.sheet [data-block]').dataset.block === '`+id+`'`)
	calm(t, p)
	focus(t, p, `[data-block="`+id+`"] .grip`)
	require.NoError(t, p.KeyActions().Press(input.AltLeft).Type(input.ArrowDown).Release(input.AltLeft).Do())
	order = slices.DeleteFunc(order, func(b string) bool { return b == id })
	waitFor(t, p, `[...document.querySelectorAll('.sheet [data-block]')].map((b) => b.dataset.block).join(' ') === '`+strings.Join(slices.Insert(order, 1, id), " ")+`'`)

	for range 7 {
		calm(t, p)
		version := *p.MustElement("#page-screen").MustAttribute("data-version")
		press(t, p, 'u')
		waitFor(t, p, `document.getElementById('page-screen').dataset.version !== '`+version+`'`)
	}
	assert.Equal(t, 1, p.MustEval(`() => document.querySelectorAll('.sheet .placed').length`).Int(), "all of it is undone")
}

// How a picture stands is tried in the panel, and seen at once; a place that waits
// takes a file from the desktop; a stop is signed for.
func TestThePanelOfAPlacement(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/pages/2", 1280, 1000, 1)
	hit(t, p, "#block-b4 .hold")
	waitText(t, p, ".told", "300 px of 640, words flow beside it")
	p.MustElement("#by").MustSelect("% of the column")
	calm(t, p)
	write(t, p, "#own-width", "25")
	waitText(t, p, ".told", "160 px of 640")
	waitFor(t, p, `Math.abs(document.querySelector('#block-b4').getBoundingClientRect().width - 160) <= 1`)
	calm(t, p)
	hit(t, p, "#placing-looks summary")
	write(t, p, "#line-width", "4")
	waitFor(t, p, `getComputedStyle(document.querySelector('#block-b4 img')).borderTopWidth === '4px'`)
	write(t, p, "#air-left", "40")
	waitFor(t, p, `getComputedStyle(document.querySelector('#block-b4')).marginLeft === '40px'`)
	calm(t, p)
	// Quicker than the answers: nothing of it is lost.
	for _, field := range [][2]string{{"#air-top", "7"}, {"#air-right", "8"}, {"#air-bottom", "9"}, {"#own-width", "30"}} {
		p.MustEval(`(field) => { const el = document.querySelector(field); el.focus(); el.select(); }`, field[0])
		require.NoError(t, p.InsertText(field[1]))
	}
	require.NoError(t, p.Keyboard.Type(input.Tab))
	waitFor(t, p, `[['air-top', '7'], ['air-right', '8'], ['air-bottom', '9'], ['air-left', '40'], ['own-width', '30']].every(([id, v]) => document.getElementById(id).defaultValue === v)`)
	calm(t, p)
	write(t, p, "#own-width", "25")
	calm(t, p)
	write(t, p, "#shadow-x", "6")
	waitFor(t, p, `getComputedStyle(document.querySelector('#block-b4 img')).boxShadow.includes('6px 0px 0px')`)
	calm(t, p)
	hit(t, p, "#link-address")
	waitFor(t, p, `document.activeElement?.id === 'address'`)
	write(t, p, "#address", "javascript:alert(1)")
	waitText(t, p, "#notice", "is no address")
	write(t, p, "#address", "/socials/soup-night")
	waitFor(t, p, `document.getElementById('address').defaultValue === '/socials/soup-night'`)
	accessible(t, p, "the panel of a placement")

	// A page with a place that waits: its sign-off leads there, and offers what mends it.
	p = open(t, browser(t), h.app+"/pages/10", 1280, 1000, 1)
	accessible(t, p, "a sign-off with findings")
	p.MustSetViewport(1280, 640, 1, false)
	waitFor(t, p, `innerHeight === 640 && document.querySelector('.hole').getBoundingClientRect().bottom > 640`)
	hit(t, p, "#findings .to-place", "A place")
	waitText(t, p, ".panel h2", "An empty place")
	waitFor(t, p, `document.querySelector('.hole').getBoundingClientRect().bottom < 641`) // it is brought into view, to the pixel
	p.MustSetViewport(1280, 1000, 1, false)
	calm(t, p)
	p.MustElement(".hole").MustScrollIntoView()
	drop(t, p, ".hole", demoPicture(t, "IMG_2140.JPG"))
	waitFor(t, p, `document.querySelector('.hole') === null`)
	calm(t, p)
	require.NoError(t, p.Keyboard.Type(input.Escape))
	calm(t, p)
	hit(t, p, "#findings .mend", "Leave the caption out")
	waitFor(t, p, `![...document.querySelectorAll('#findings .mend')].some((b) => b.textContent === 'Leave it out')`)
	calm(t, p)
	hit(t, p, "#page-sign summary")
	write(t, p, "#reason", "The name follows tonight.")
	hit(t, p, "#page-sign button", "Sign and publish")
	hit(t, p, "#page-lives summary", "Earlier live versions: 1")
	waitText(t, p, "#page-lives", "The name follows tonight")

	// A band: its columns and its ground, seen at once.
	p = open(t, browser(t), h.app+"/pages/7", 1280, 1000, 1)
	hit(t, p, "#block-v2 button", "Band: two")
	waitText(t, p, ".panel h2", "This band")
	accessible(t, p, "the panel of a band")
	calm(t, p)
	p.MustElement("#band-pattern").MustSelect("Three equal columns")
	waitFor(t, p, `document.querySelectorAll('.own-v2 .column').length === 3`)
	calm(t, p)
	write(t, p, "#above-desktop", "64")
	waitFor(t, p, `getComputedStyle(document.querySelector('.own-v2')).paddingTop === '64px'`)
	calm(t, p)
	hit(t, p, "#ground-deep")
	waitFor(t, p, `document.querySelector('.own-v2.ground-deep') !== null`)
}

// demoDocs are the pages of the demo by their numbers.
func demoDocs(t *testing.T) map[uint]page.Doc {
	t.Helper()
	s, err := datafolder.Open(t.TempDir())
	require.NoError(t, err)
	defer s.Close()
	_, err = demo.Fill(&s.Store, time.Now())
	require.NoError(t, err)
	all, err := s.Pages()
	require.NoError(t, err)
	docs := map[uint]page.Doc{}
	for _, p := range all {
		docs[p.ID] = p.Doc
	}
	return docs
}

// Every picture of every arrangement is as wide in a browser as core/layout says, on
// a phone, a tablet and a desktop; and nothing sticks out.
func TestEveryArrangementMeasuresWhatTheLayoutSays(t *testing.T) {
	h := start(t, "demo")
	publishAll(t, h)
	r := demo.Rules()
	b := browser(t)
	docs := demoDocs(t)
	measured := 0
	for _, id := range []uint{2, 5, 6, 7} {
		stands := docs[id].Stands(r)
		p := open(t, b, h.site+"/"+demoPages[id-1], 1280, 800, 1)
		for _, viewport := range []int{390, 768, 1280} {
			p.MustSetViewport(viewport, 800, 1, false)
			waitFor(t, p, `innerWidth === `+fmt.Sprint(viewport)+` && [...document.querySelectorAll('figure img')].every((i) => { i.loading = 'eager'; return i.complete && i.naturalWidth })`)
			figures := p.MustEval(`() => [...document.querySelectorAll('figure')].map((f) => ({ w: f.querySelector('img').getBoundingClientRect().width, h: f.querySelector('img').getBoundingClientRect().height }))`).Arr()
			require.Len(t, figures, len(stands), demoPages[id-1])
			for i, s := range stands {
				if s.Kind == page.Strip {
					assert.InDelta(t, s.Slot.Height, figures[i].Get("h").Num(), 1, "%s at %d: its height rules", s.Block, viewport)
				} else {
					assert.InDelta(t, s.Place.Width(viewport), figures[i].Get("w").Num(), 1, "%s of %s at %d", s.Block, demoPages[id-1], viewport)
				}
				measured++
			}
			assert.LessOrEqual(t, p.MustEval(`() => document.documentElement.scrollWidth`).Int(), viewport, "nothing sticks out of %s at %d", demoPages[id-1], viewport)
		}
		if id == 7 { // columns stand below each other on a phone, in the order the band says
			p.MustSetViewport(390, 800, 1, false)
			waitFor(t, p, `innerWidth === 390`)
			first := p.MustEval(`() => { const [a, b] = document.querySelectorAll('.pattern-side-main .column'); return a.getBoundingClientRect().top > b.getBoundingClientRect().top }`).Bool()
			assert.True(t, first, "the words come before the picture")
		}
		p.MustClose()
	}
	assert.Greater(t, measured, 30)
}

// A picture opens over the page, leads to the next, and closes with Escape; the hand
// comes back. Without scripts the links do the same.
func TestAPictureIsEnlarged(t *testing.T) {
	h := start(t, "demo")
	publishAll(t, h)
	b := browser(t)
	p := open(t, b, h.site+"/touring/the-season-in-pictures", 1280, 800, 1)
	opened := `(document.querySelector('.large:target')?.id ?? '')`
	first := p.MustEval(`() => document.querySelector('.enlarges').hash.slice(1)`).Str()
	hit(t, p, ".enlarges")
	waitFor(t, p, opened+` === '`+first+`'`)
	waitFor(t, p, `document.querySelector('.large:target img').naturalWidth > 960`)
	assert.True(t, p.MustEval(`() => document.querySelector('.large:target').contains(document.activeElement)`).Bool(), "the hand is in it")
	require.NoError(t, p.Keyboard.Type(input.ArrowRight))
	waitFor(t, p, opened+` !== '`+first+`' && `+opened+` !== ''`)
	require.NoError(t, p.Keyboard.Type(input.ArrowLeft))
	waitFor(t, p, opened+` === '`+first+`'`)
	accessible(t, p, "an enlarged picture")
	require.NoError(t, p.Keyboard.Type(input.Escape))
	waitFor(t, p, opened+` === ''`)
	assert.True(t, p.MustEval(`() => document.activeElement.matches('.enlarges')`).Bool(), "the hand is back")

	plain := b.MustPage()
	plain.MustSetViewport(1280, 800, 1, false)
	text := strings.ReplaceAll(body(t, h.site+"/touring/the-season-in-pictures"), `<script src="/enlarge.js" defer></script>`, "")
	dir := t.TempDir()
	require.NoError(t, os.WriteFile(filepath.Join(dir, "plain.html"), []byte(strings.ReplaceAll(text, `="/`, `="`+h.site+`/`)), 0o600))
	plain.MustNavigate("file://" + filepath.Join(dir, "plain.html")).MustWaitLoad()
	hit(t, plain, ".enlarges")
	waitFor(t, plain, `getComputedStyle(document.querySelector('.large')).display === 'flex'`)
	hit(t, plain, ".large:target .large-close")
	waitFor(t, plain, opened+` === ''`)
}

// A visitor who has the old picture in the cache sees the new one as soon as it is
// published; what did not change comes from the cache.
func TestAVisitorWithAWarmCacheSeesTheNewPicture(t *testing.T) {
	h := start(t, "demo")
	require.Eventually(t, func() bool { return strings.Contains(body(t, h.app+"/live"), "all is well") }, patience, 200*time.Millisecond)
	visitor := open(t, browser(t), h.site+"/boatshed/where-things-hang", 1280, 800, 1)
	look := func() (first, second string, cached float64) {
		waitFor(t, visitor, `[...document.querySelectorAll('figure img')].every((i) => { i.loading = 'eager'; return i.complete && i.naturalWidth })`)
		got := visitor.MustEval(`() => { const [a, b] = document.querySelectorAll('figure img'); return { a: a.currentSrc, b: b.currentSrc, cached: performance.getEntriesByName(b.currentSrc)[0].transferSize } }`)
		return got.Get("a").Str(), got.Get("b").Str(), got.Get("cached").Num()
	}
	oldFirst, oldSecond, _ := look()
	res, err := h.client.PostForm(h.app+"/bench/1/frame", url.Values{"x": {"200"}, "y": {"200"}, "w": {"2400"}, "h": {"1800"}, "seen": {"-1"}})
	require.NoError(t, err)
	res.Body.Close()
	require.Less(t, res.StatusCode, 400)

	p := open(t, browser(t), h.app+"/live", 1280, 800, 1)
	hit(t, p, "#publish-changed button", "Publish the one that changed")
	require.Eventually(t, func() bool {
		return !strings.Contains(body(t, h.site+"/boatshed/where-things-hang"), strings.TrimPrefix(oldFirst, h.site))
	}, patience, 200*time.Millisecond)
	visitor.MustNavigate(h.site + "/boatshed/where-things-hang").MustWaitLoad()
	newFirst, newSecond, cached := look()
	assert.NotEqual(t, oldFirst, newFirst, "another address")
	assert.Equal(t, strings.Split(oldFirst, "?")[0], strings.Split(newFirst, "?")[0], "and the same readable name")
	assert.Equal(t, oldSecond, newSecond)
	assert.Zero(t, cached, "what did not change was not fetched again")

	// What was fetched stands in the site's log, with its bytes; a slow line is slow.
	log := open(t, browser(t), h.site+"/visits", 1280, 800, 1)
	waitText(t, log, "td", strings.Split(strings.TrimPrefix(newFirst, h.site), "?")[0])
	hit(t, log, "main a", "Try a slow one")
	waitText(t, log, "main p", "You try a slow line")
	jar, err := log.Cookies([]string{h.site})
	require.NoError(t, err)
	req, err := http.NewRequest(http.MethodGet, newFirst, nil)
	require.NoError(t, err)
	for _, c := range jar {
		req.AddCookie(&http.Cookie{Name: c.Name, Value: c.Value})
	}
	begun := time.Now()
	res, err = http.DefaultClient.Do(req)
	require.NoError(t, err)
	n, err := io.Copy(io.Discard, res.Body)
	require.NoError(t, err)
	res.Body.Close()
	assert.GreaterOrEqual(t, time.Since(begun).Seconds(), float64(n-(16<<10))/200_000, "1.6 Mbit/s are 200 kB a second")
}

// The archive of a page, opened from a folder, shows the page as it is live.
func TestTheArchiveShowsTheSamePage(t *testing.T) {
	h := start(t, "demo")
	publishAll(t, h)
	dir := t.TempDir()
	unzip(t, body(t, h.app+"/pages/7/archive"), dir)
	b := browser(t)
	shape := func(address string) []string {
		p := open(t, b, address, 1280, 800, 1)
		defer p.MustClose()
		waitFor(t, p, `[...document.querySelectorAll('main img')].every((i) => { i.loading = 'eager'; return i.complete && i.naturalWidth })`)
		var all []string
		for _, one := range p.MustEval(`() => { const top = document.querySelector('main').getBoundingClientRect().top; return [...document.querySelectorAll('main :is(h1, h2, p, td, img, dt, hr, .band)')].map((e) => { const r = e.getBoundingClientRect(); return [e.localName, Math.round(r.left), Math.round(r.top - top), Math.round(r.width), Math.round(r.height), getComputedStyle(e).color, e.naturalWidth ?? ''].join(' ') }) }`).Arr() {
			all = append(all, one.Str())
		}
		return all
	}
	want := shape(h.site + "/boatshed/which-vest-is-yours")
	assert.Greater(t, len(want), 15)
	assert.Equal(t, want, shape("file://"+filepath.Join(dir, "index.html")))

	unzip(t, body(t, h.app+"/sections/touring/archive"), filepath.Join(dir, "all"))
	p := open(t, b, "file://"+filepath.Join(dir, "all", "index.html"), 1280, 800, 1)
	hit(t, p, "main a", "The season in pictures")
	waitText(t, p, "h1", "The season in pictures")
	waitFor(t, p, `[...document.querySelectorAll('main img')].every((i) => { i.loading = 'eager'; return i.complete && i.naturalWidth })`)
}

// unzip lays an archive out in a folder.
func unzip(t *testing.T, data, dir string) {
	t.Helper()
	z, err := zip.NewReader(bytes.NewReader([]byte(data)), int64(len(data)))
	require.NoError(t, err)
	for _, f := range z.File {
		require.True(t, filepath.IsLocal(f.Name))
		to := filepath.Join(dir, f.Name)
		require.NoError(t, os.MkdirAll(filepath.Dir(to), 0o750))
		from, err := f.Open()
		require.NoError(t, err)
		content, err := io.ReadAll(from)
		require.NoError(t, err)
		from.Close()
		require.NoError(t, os.WriteFile(to, content, 0o600))
	}
}
