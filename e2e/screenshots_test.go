package e2e

import (
	"net/url"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/stretchr/testify/require"
)

// TestScreenshots remakes docs/screenshots from the demo. It runs only when it
// is asked for, as it writes into the repository.
func TestScreenshots(t *testing.T) {
	if os.Getenv("MIVLET_SCREENSHOTS") == "" {
		t.Skip("set MIVLET_SCREENSHOTS=1 to remake docs/screenshots")
	}
	h := startReading(t, "demo")
	b := browser(t)
	shoot := func(p *rod.Page, name string) {
		t.Helper()
		calm(t, p)
		waitFor(t, p, `document.fonts.status === 'loaded' && [...document.images].every((i) => i.complete)`)
		p.MustEval(`() => document.activeElement?.matches('.ProseMirror') || document.activeElement?.blur()`) // no caret, but in what is being written
		data, err := p.Screenshot(false, nil)
		require.NoError(t, err)
		require.NoError(t, os.WriteFile(filepath.Join("../docs/screenshots", name+".png"), data, 0o644))
	}

	p := open(t, b, h.app+"/arrivals", 1280, 800, 1)
	letter := filepath.Join(t.TempDir(), "letter.jpg")
	require.NoError(t, os.WriteFile(letter, []byte("Dear club"), 0o600))
	require.Eventually(t, func() bool { return strings.Contains(body(t, h.app+"/live"), "all is well") }, patience, 200*time.Millisecond)
	p.MustReload().MustWaitLoad()
	drop(t, p, "#strip", letter)
	waitText(t, p, "#coming .refused", "not a picture")
	hit(t, p, "#waiting .row input")
	shoot(p, "arrivals")
	hit(t, p, "#send")
	waitText(t, p, ".file", "DSC_0417.JPG")
	waitFor(t, p, `document.readyState === 'complete' && document.querySelector('#frame .body')?.getAttribute('width') > 0`)
	for _, field := range [][2]string{{"#frame-w", "3780"}, {"#frame-h", "2300"}, {"#frame-x", "1980"}, {"#frame-y", "1560"}} {
		write(t, p, field[0], field[1])
	}
	write(t, p, "#alt", alt)
	calm(t, p)
	hit(t, p, "#name-findings .mend", "^juniors-three")
	waitFor(t, p, `/1280/.test(document.getElementById('figures').innerText) && !/about/.test(document.getElementById('figures').innerText)`)
	shoot(p, "bench")

	hit(t, p, "#step-place a", "Autumn on the water")
	waitText(t, p, ".picked", "juniors-three")
	hit(t, p, `.gap[data-gap="2"]`)
	waitText(t, p, ".panel h2", "Place a picture")
	write(t, p, "#caption", caption)
	shoot(p, "page")
	hit(t, p, ".placing .primary", "Place it")
	p.MustElement("figure.placed")
	hit(t, p, ".panel .primary", "Publish")
	waitText(t, p, ".report", "all is well")
	p.MustEval(`() => document.querySelector('figure.placed').scrollIntoView({ block: 'center' })`)
	shoot(open(t, b, h.site+"/juniors/autumn-on-the-water", 1280, 800, 1), "live-page")
	shootFinish(t, h, b, shoot)

	visitStation := func(at string) {
		p.MustNavigate(h.app + at).MustWaitLoad()
		calm(t, p)
	}
	p.MustActivate() // the live page stood before it
	shootBench(t, h, b, shoot)
	shootPages(t, h, b, shoot)
	shootFormer(t, h, b, shoot)
	p.MustActivate()
	visitStation("/shelves")
	for range 2 {
		hit(t, p, "#acts input[name=picture]:not(:checked)")
	}
	shoot(p, "shelves")
	visitStation("/rules?part=page&pattern=main-side")
	write(t, p, `[id="d/page/gutter/desktop"]`, "40")
	waitText(t, p, ".changes", "gutter")
	medium(t, p, "prefers-color-scheme", "dark")
	shoot(p, "house-rules")
	medium(t, p, "prefers-color-scheme", "light")
	visitStation("/ruler")
	p.MustElement("#sheet-file").MustSetFiles("../docs/screenshots/live-page.png")
	waitFor(t, p, `document.getElementById('ruler')?.dataset.ready === 'yes'`)
	hit(t, p, "button", "Find columns")
	hit(t, p, "#found-list button", "640")
	write(t, p, "#reading-title", "Middle column")
	hit(t, p, ".keep-reading .primary", "Keep")
	waitText(t, p, ".kept-list", "Middle column")
	shoot(p, "ruler")
	shootDestination(t, h, b, shoot)
	shootFindings(t, h, b, shoot)
}

// shootFindings remakes the picture of the station of findings, with a link that a page which was taken off broke.
func shootFindings(t *testing.T, h house, b *rod.Browser, shoot func(*rod.Page, string)) {
	t.Helper()
	p := open(t, b, h.app+"/pages/2", 1280, 800, 1)
	hit(t, p, "#page-about summary")
	hit(t, p, `[hx-post$="/pages/2/offline"]`)
	waitFor(t, p, `!document.querySelector('[hx-post$="/pages/2/offline"]')`)
	p.MustNavigate(h.app + "/findings").MustWaitLoad()
	press(t, p, 'l')
	waitText(t, p, ".kind summary", "lead to nothing")
	shoot(p, "findings")
	p.MustClose()
}

// shootBench remakes the pictures of the Bench's own views: veils and proposals.
func shootBench(t *testing.T, h house, b *rod.Browser, shoot func(*rod.Page, string)) {
	t.Helper()
	p := open(t, b, h.app+toBench(t, h, "Screenshot 2026-11-02.png"), 1280, 800, 1)
	hit(t, p, "#find-lines")
	waitText(t, p, "#proposals", "lines that can be read")
	hit(t, p, "#proposals button", "Hide the column of")
	waitFor(t, p, `document.querySelectorAll('.veil-list li').length > 3`)
	p.MustEval(`() => document.getElementById('proposals').scrollIntoView({ block: 'center' })`)
	shoot(p, "bench-veils")
	p.MustClose()
}

// shootFormer remakes the picture of a former site, when it has been mended.
func shootFormer(t *testing.T, h house, b *rod.Browser, shoot func(*rod.Page, string)) {
	t.Helper()
	p := open(t, b, h.app+"/former/1", 1280, 800, 1)
	hit(t, p, `form[action="/former/1/mend"] button`)
	waitText(t, p, ".way-through", "Mended ")
	shoot(p, "former-site")
	p.MustClose()
}

// shootPages remakes the pictures of the station and of pages: banners, and a sign-off with
// something to mend.
func shootPages(t *testing.T, h house, b *rod.Browser, shoot func(*rod.Page, string)) {
	t.Helper()
	p := open(t, b, h.app+"/pages", 1280, 800, 1)
	shoot(p, "pages")
	p.MustNavigate(h.app + "/pages/8").MustWaitLoad()
	shoot(p, "sign-off")
	p.MustNavigate(h.app + "/banners").MustWaitLoad()
	waitFor(t, p, `document.querySelectorAll('.banner-list .runs').length === 3`)
	shoot(p, "banners")
	p.MustNavigate(h.app + "/covers").MustWaitLoad()
	waitFor(t, p, `[...document.querySelectorAll('.cover-text')].every((c) => c.getBoundingClientRect().top > innerHeight || !c.classList.contains('htmx-request'))`)
	shoot(p, "covers")
	p.MustNavigate(h.app + "/albums/1").MustWaitLoad()
	waitText(t, p, ".album-uses", "The season in pictures")
	shoot(p, "album")
	phone := open(t, b, h.app+"/bench/8#step-hide", 390, 844, 2)
	atHand(t, phone)
	calm(t, phone)
	shoot(phone, "phone")
	phone.MustClose()
	p.MustActivate()
	goOld(t, h, p)
	shoot(p, "shared-link")
	p.MustClose()
}

// goOld shares a page, and publishes it with another picture for its link.
func goOld(t *testing.T, h house, p *rod.Page) {
	t.Helper()
	publish := func() {
		t.Helper()
		res, err := h.client.PostForm(h.app+"/pages/4/publish", url.Values{"seen": {h.seen(t, 4)}})
		require.NoError(t, err)
		res.Body.Close()
	}
	publish()
	res, err := h.client.PostForm(h.app+"/pages/4/shared/fetch", url.Values{})
	require.NoError(t, err)
	res.Body.Close()
	res, err = h.client.PostForm(h.app+"/pages/4/card", url.Values{"on": {"deep"}})
	require.NoError(t, err)
	res.Body.Close()
	publish()
	p.MustNavigate(h.app + "/pages/4/shared").MustWaitLoad()
	waitText(t, p, ".preview-steps [aria-current]", "another picture")
}

// shootDestination shows what a folder has that another server serves, after a page has changed.
func shootDestination(t *testing.T, h house, b *rod.Browser, shoot func(*rod.Page, string)) {
	t.Helper()
	folder := filepath.Join(os.TempDir(), "paddle-club")
	require.NoError(t, os.RemoveAll(folder))
	require.NoError(t, os.MkdirAll(folder, 0o750))
	defer os.RemoveAll(folder)
	base, _ := nginx(t, folder)
	p := open(t, b, h.app+"/destinations/new", 1280, 800, 1)
	for name, text := range map[string]string{"folder": folder, "base": base, "title": "The club's own server"} {
		p.MustElement("[name=" + name + "]").MustInput(text)
	}
	hit(t, p, ".destination-form .primary")
	waitText(t, p, "#plan", `\d+ files, \d`)
	hit(t, p, "#now .primary")
	waitText(t, p, "#now .state", "Everything is there")
	hit(t, p, "#now .quiet", "Stop sending")
	waitText(t, p, "#now", "Nothing is sent until")
	res, err := h.client.PostForm(h.app+"/pages/6/rename", url.Values{"title": {"A lake in the mist"}, "slug": {"a-lake-in-the-mist"}})
	require.NoError(t, err)
	res.Body.Close()
	p.MustReload().MustWaitLoad()
	waitText(t, p, "#plan", `\d+ files?, \d`)
	p.MustEval(`() => { document.querySelector('#plan details').open = true; }`)
	shoot(p, "destinations")
	p.MustClose()
}

// shootFinish shows two photos that were dropped, and the panel that finishes them.
func shootFinish(t *testing.T, h house, b *rod.Browser, shoot func(*rod.Page, string)) {
	t.Helper()
	p := open(t, b, h.app+"/pages/1", 1280, 800, 1)
	calm(t, p)
	drop(t, p, `.gap[data-gap="1"]`, freshPhoto(t, "IMG_2140.JPG", "IMG_4711"), freshPhoto(t, "P1040860.JPG", "IMG_4712"))
	waitFor(t, p, `document.querySelectorAll('.sheet .placed').length === 3 && !!document.querySelector('#finish') && !!document.querySelector('div#finish-faces')`)
	calm(t, p)
	choose := p.MustElement("#finish-ratio")
	choose.MustSelect("3:2")
	calm(t, p)
	p.MustEval(`() => document.querySelector('.sheet .held').scrollIntoView({ block: 'center' })`)
	shoot(p, "finish")
	p.MustClose()
}
