package e2e

import (
	"archive/zip"
	"bytes"
	"fmt"
	"io"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"strings"
	"sync/atomic"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/fit"
	"mivlet/core/mend"
	"mivlet/store"
	"mivlet/store/datafolder"
	"mivlet/store/sqlite"
)

// oldSite is a folder of two pages, as somebody wrote them years ago.
func oldSite(t *testing.T) string {
	t.Helper()
	dir := filepath.Join(t.TempDir(), "camp")
	require.NoError(t, os.MkdirAll(filepath.Join(dir, "files"), 0o755))
	for to, from := range map[string]string{"IMG_2041.jpg": "DSC_0402.JPG", "IMG_2042.jpg": "DSC_0421.JPG"} {
		data, err := os.ReadFile(demoPicture(t, from))
		require.NoError(t, err)
		require.NoError(t, os.WriteFile(filepath.Join(dir, "files", to), data, 0o600))
	}
	for at, text := range map[string]string{
		"index.html": "<html><head><title>Summer camp</title><style>body { font-family: sans-serif } .c { width: 640px } .c img { width: 100%; height: auto }</style></head><body><h1>Camp</h1><div class=c><p>Off we went at dawn.</p><img src=\"files/IMG_2041.jpg\"></div><p>Then <a href=next.html>the second day</a>.</p></body></html>",
		"next.html":  `<html><head><title>The second day</title></head><body><p>Back at the jetty <img src="/files/IMG_2042.jpg" width="300" alt="IMG_2042.jpg"> and <img src="files/IMG_2041.jpg" width="200" height="150"></p><script>document.title = "a script ran"</script></body></html>`,
	} {
		require.NoError(t, os.WriteFile(filepath.Join(dir, at), []byte(text), 0o600))
	}
	return dir
}

// A keeper brings the folder of an old site in, describes and names its pictures, mends it, looks at a page
// before and after, and takes the new site away.
func TestAFormerSiteIsBroughtInAndMended(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/former", 1280, 800, 1)
	waitText(t, p, "main", "Brindlemere, the old site")
	p.MustElement(`input[name="folder"]`).MustSetFiles(oldSite(t))
	hit(t, p, ".bring .primary")
	waitText(t, p, "h1", "camp")
	waitText(t, p, ".sum", "2 pages, 2 pictures: .*; 2 pictures without a description")
	accessible(t, p, "a former site")
	hit(t, p, `button[hx-post="/former/2/look"]`)
	waitFor(t, p, `!/Looking into|Nobody has looked/.test(document.querySelector('main').innerText)`)
	calm(t, p)

	// One after the other, by keys alone; the same picture elsewhere is described along with it.
	require.NoError(t, p.Keyboard.Type('d'))
	waitText(t, p, ".spot", "3 to go")
	waitText(t, p, ".near", "Off we went at dawn")
	waitFor(t, p, `document.querySelector('.spot img').naturalWidth > 600`)
	accessible(t, p, "describing")
	p.MustElement(`[name="text"]`).MustInput("A red kayak in the mist")
	p.Keyboard.MustType(input.Enter)
	waitText(t, p, ".spot", "1 to go")
	hit(t, p, ".spot .primary")
	waitText(t, p, "#notice, main", "Nothing is written yet")
	p.MustNavigate(h.app + "/former/2/describe").MustWaitLoad()
	p.MustElement(`[name="text"]`).MustInput("The jetty at dusk")
	p.Keyboard.MustType(input.Enter)
	waitText(t, p, "main", "Every picture that needs words has some")

	p.MustNavigate(h.app + "/former/2").MustWaitLoad()
	hit(t, p, `a[href="/former/2/names"]`)
	waitText(t, p, "main", "files/IMG_2041.jpg")
	assert.Equal(t, "a-red-kayak-in-the-mist", p.MustElement(`[name="name files/IMG_2041.jpg"]`).MustProperty("value").Str())
	accessible(t, p, "naming")
	hit(t, p, ".acts .primary")
	waitText(t, p, "main", "No picture is called as a camera called it")

	p.MustNavigate(h.app + "/former/2/changes").MustWaitLoad()
	waitText(t, p, "main", "3 tags on 2 pages")
	hit(t, p, ".kind summary", "What you decided")
	hit(t, p, ".decided button")
	waitText(t, p, "main", "3 tags on 2 pages")
	accessible(t, p, "what changes")
	p.MustNavigate(h.app + "/former/2").MustWaitLoad()
	hit(t, p, `form[action="/former/2/mend"] button`)
	waitText(t, p, ".way-through", "Mended")
	waitText(t, p, ".weighs", "came with a page")

	hit(t, p, `a[href="/former/2/compare"]`)
	waitText(t, p, "#moved", "Everything stands where it stood")
	was, now := p.MustElement("#was").MustFrame(), p.MustElement("#now").MustFrame()
	assert.Contains(t, now.MustElement("img").MustProperty("currentSrc").Str(), "a-red-kayak-in-the-mist")
	assert.Less(t, now.MustElement("img").MustProperty("naturalWidth").Int(), was.MustElement("img").MustProperty("naturalWidth").Int())
	accessible(t, p, "before and after")
	require.NoError(t, p.Keyboard.Type('.'))
	waitText(t, p, "#moved", "Everything stands where it stood")
	assert.Equal(t, "The second day", p.MustElement("#now").MustFrame().MustEval(`() => document.title`).Str(), "no script of the site runs")

	// Where a browser found that a page looks otherwise, both pages say where.
	s, err := sqlite.Open(filepath.Join(h.data, datafolder.DatabaseName))
	require.NoError(t, err)
	f, err := s.FormerSite(2)
	require.NoError(t, err)
	pages := []mend.Compared{{Page: "index.html"}, {Page: "index.html", Viewport: 1, Areas: []fit.Box{{X: 16, Y: 40, Width: 80, Height: 24}}}, {Page: "two.html"}, {Page: "three.html", Fault: "the page is not loaded in time"}}
	require.NoError(t, s.SaveFormerCompared(store.FormerCompared{FormerSiteID: 2, Hash: f.MendedHash, At: time.Now(), Pages: pages}))
	require.NoError(t, s.Close())
	p.MustNavigate(h.app + "/former/2/compare").MustWaitLoad()
	waitText(t, p, ".compared", `1 of 3 pages looks different outside of the pictures[\s\S]*1 page could not be compared`)
	hit(t, p, ".compared li a", "index.html")
	waitText(t, p, "#moved", "one area looks different")
	for _, frame := range []string{"#was", "#now"} {
		assert.Equal(t, []any{12.0, 36.0, 88.0, 32.0}, p.MustElement(frame).MustFrame().MustElement(".mivlet-differs").MustEval(`() => { const r = this.getBoundingClientRect(); return [r.x + scrollX, r.y + scrollY, r.width, r.height] }`).Val())
	}
	accessible(t, p, "what differs")

	data := []byte(body(t, h.app+"/former/2/mended.zip"))
	z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	require.NoError(t, err)
	page, err := z.Open("index.html")
	require.NoError(t, err)
	text, err := io.ReadAll(page)
	require.NoError(t, err)
	assert.Contains(t, string(text), `src="files/a-red-kayak-in-the-mist.jpg"`)
	assert.True(t, strings.HasPrefix(string(text), "<html><head><title>Summer camp</title><style>"))

	// It is sent to the server that the old one lies on, where visitors get the mended pages.
	folder := oldSite(t)
	base, _ := nginx(t, folder)
	p.MustNavigate(h.app + "/former/2").MustWaitLoad()
	hit(t, p, `a[href="/destinations/new?former=2"]`)
	waitText(t, p, "main", "This destination gets camp, as it was mended")
	accessible(t, p, "a destination of a former site")
	p.MustElement("[name=folder]").MustInput(folder)
	p.MustElement("[name=base]").MustSelectAllText().MustInput(base)
	hit(t, p, ".destination-form .primary")
	waitText(t, p, "#plan", `\d+ files, \d`)
	hit(t, p, "#now .primary")
	waitText(t, p, "#now .state", "Everything is there")
	waitText(t, p, ".saw", "came from the public address as they were sent")
	assert.Contains(t, body(t, base+"/"), `src="files/a-red-kayak-in-the-mist.jpg"`)
}

// What a page of a former site may do where it is looked at: nothing. No script runs, no form is sent, it leads
// nowhere by itself, and nothing in it is got from elsewhere.
// A page of a former site becomes a draft with its words and pictures, which is published as any other.
func TestAFormerPageIsCarriedOver(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/former/1", 1280, 800, 1)
	press(t, p, 'o')
	waitFor(t, p, `location.pathname === '/former/1/carry'`)
	accessible(t, p, "pages that can be carried over")
	require.NoError(t, p.MustElement(`[name=section]`).Select([]string{"River Watch"}, true, rod.SelectorTypeText))
	hit(t, p, `[data-ticks]`)
	waitFor(t, p, `[...document.querySelectorAll('input[name=page]')].every(one => one.checked)`)
	hit(t, p, `[data-ticks]`)
	hit(t, p, `input[value="2016/page-1.html"]`)
	hit(t, p, `input[value="2016/page-2.html"]`)
	waitFor(t, p, `document.querySelector('[data-ticks]').indeterminate`)
	hit(t, p, `.carry button`)
	waitText(t, p, `table`, "Page 2 of the club[\\s\\S]*Page 2 of the club")
	link := waitText(t, p, `td a[href^="/pages/"]`, "Page 1 of the club")
	assert.Equal(t, "river", p.MustElement(`[name=section]`).MustProperty("value").Str(), "the next page is likely for the same section")
	address := link.MustProperty("href").Str()
	p.MustNavigate(address).MustWaitLoad()
	calm(t, p)
	waitText(t, p, "#page-screen", `Page 1 of the club[\s\S]*Words of the day`)
	assert.GreaterOrEqual(t, len(p.MustElements(".sheet img")), 2)
}

// A site is fetched from its address beside the screens.
func TestAFormerSiteIsFetched(t *testing.T) {
	h := start(t, "demo")
	files := http.FileServer(http.Dir("/usr/share/doc/xfig/html"))
	var asked atomic.Int64
	srv := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if asked.Add(1) > 40 {
			http.Error(w, "it is enough for a test", http.StatusNotFound)
			return
		}
		files.ServeHTTP(w, r)
	}))
	t.Cleanup(srv.Close)
	p := open(t, browser(t), h.app+"/former", 1280, 800, 1)
	write(t, p, `[action="/former/fetch"] [name=address]`, srv.URL+"/introduction.html")
	hit(t, p, `[action="/former/fetch"] button`)
	waitText(t, p, ".former-list h2", "^127.0.0.1:")
	accessible(t, p, "former sites")
	write(t, p, `[action="/former/fetch"] [name=address]`, "127.0.0.1:1")
	hit(t, p, `[action="/former/fetch"] button`)
	waitText(t, p, ".job", "127.0.0.1:1")
	waitText(t, p, ".job .finding", "connection refused|could not be")
}

func TestAFormerPageDoesNothing(t *testing.T) {
	h := start(t, "demo")
	dir := filepath.Join(t.TempDir(), "bad")
	require.NoError(t, os.MkdirAll(dir, 0o755))
	for at, text := range map[string]string{
		"index.html": `<title>Bad</title><script>document.title = "ran"</script><img src=x.jpg width=30 alt=x onerror="document.title = 'ran'"><meta http-equiv="refresh" content="0; url=/former">
			<form action="/sign-out" method="post" id="out"><button>Go</button></form><iframe src="/people"></iframe><object data="/people"></object>`,
		"x.svg": `<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>`,
	} {
		require.NoError(t, os.WriteFile(filepath.Join(dir, at), []byte(text), 0o600))
	}
	photo, err := os.ReadFile(demoPicture(t, "DSC_0402.JPG"))
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(filepath.Join(dir, "x.jpg"), photo, 0o600))
	p := open(t, browser(t), h.app+"/former", 1280, 800, 1)
	p.MustElement(`input[name="folder"]`).MustSetFiles(dir)
	hit(t, p, ".bring .primary")
	waitText(t, p, "h1", "bad")
	hit(t, p, `form[action="/former/2/mend"] button`)
	waitText(t, p, ".way-through", "Mended ")
	hit(t, p, `a[href="/former/2/compare"]`)
	waitText(t, p, "#moved", "thing")
	for _, frame := range []string{"#was", "#now"} {
		inside := p.MustElement(frame).MustFrame()
		inside.MustElement("#out button").MustEval(`() => this.click()`)
		calm(t, p)
		assert.Equal(t, []any{"Bad", float64(0)}, inside.MustEval(`() => [document.title, document.querySelectorAll('iframe')[0].contentDocument?.body?.childElementCount ?? 0]`).Val())
	}
	p.MustNavigate(h.app + "/former").MustWaitLoad()
	waitText(t, p, "h1", "Former sites") // nobody was signed out
	for _, at := range []string{"was/index.html", "was/x.svg", "now/x.jpg"} {
		res, err := h.client.Get(h.app + "/former/2/" + at)
		require.NoError(t, err)
		require.NoError(t, res.Body.Close())
		assert.Equal(t, 200, res.StatusCode)
		policy := res.Header.Get("Content-Security-Policy")
		assert.Contains(t, policy, "sandbox allow-same-origin; default-src 'none';", at)
		assert.NotContains(t, policy, "script", at)
		assert.Equal(t, "nosniff", res.Header.Get("X-Content-Type-Options"))
	}
}

// Faces on a picture of an old site are found, covered on the bench, and covered in the mended site.
func TestAFaceOnAFormerSiteIsCovered(t *testing.T) {
	h := start(t, "demo")
	dir := filepath.Join(t.TempDir(), "juniors")
	require.NoError(t, os.MkdirAll(dir, 0o755))
	data, err := os.ReadFile(demoPicture(t, "IMG_2101.JPG"))
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(filepath.Join(dir, "two.jpg"), data, 0o600))
	require.NoError(t, os.WriteFile(filepath.Join(dir, "index.html"), []byte(`<!doctype html><html lang="en"><title>Juniors</title><h1>Juniors</h1><img src="two.jpg" width="600" height="450" alt="Two juniors at the jetty">`), 0o600))
	p := open(t, browser(t), h.app+"/former", 1280, 800, 1)
	p.MustElement(`input[name="folder"]`).MustSetFiles(dir)
	hit(t, p, ".bring .primary")
	waitText(t, p, "h1", "juniors")
	hit(t, p, `button[hx-post="/former/2/look"]`)
	waitText(t, p, "main", `Faces that can be seen`)
	calm(t, p)
	hit(t, p, ".kind summary", "Faces that can be seen")
	hit(t, p, `button[hx-post="/former/2/allow"]`)
	waitFor(t, p, `!/Faces that can be seen/.test(document.querySelector('main').innerText)`)
	p.MustNavigate(h.app + "/former/2/changes").MustWaitLoad()
	hit(t, p, ".kind summary", "What you decided")
	hit(t, p, `button[aria-label="Take back: two.jpg may be shown with the people in it"]`)
	waitFor(t, p, `!document.querySelector('.decided')`)
	p.MustNavigate(h.app + "/former/2").MustWaitLoad()
	calm(t, p)
	hit(t, p, ".kind summary", "Faces that can be seen")
	hit(t, p, `button[hx-post="/former/2/cover"]`)
	waitFor(t, p, `location.pathname.startsWith('/bench/')`)
	waitFor(t, p, `document.readyState === 'complete'`)
	calm(t, p)
	p.KeyActions().Type('s').MustDo()
	waitFor(t, p, `document.querySelectorAll('#faces .face-found.open').length >= 2 && document.activeElement.matches('.face-list li')`)
	for n, key := range []input.Key{'1', '2'} {
		p.KeyActions().Type(key).MustDo()
		p.KeyActions().Type('c').MustDo()
		waitFor(t, p, fmt.Sprintf(`document.querySelectorAll('.face-list li')[%d].className === 'covered'`, n))
	}
	waitText(t, p, "#faces-found", "all dealt with")
	p.MustNavigate(h.app + "/former/2").MustWaitLoad()
	calm(t, p)
	assert.NotContains(t, p.MustElement("main").MustText(), "Faces that can be seen")
	hit(t, p, `form[action="/former/2/mend"] button`)
	waitText(t, p, ".way-through", "Mended")
	p.MustNavigate(h.app + "/former/2/changes").MustWaitLoad()
	waitText(t, p, "main", "1 picture")
}

// The widths at which an old site shows its pictures become slots of the house.
func TestWidthsOfAFormerSiteBecomeSlots(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/former/1", 1280, 800, 1)
	waitText(t, p, ".columns", `640 px on a desktop: \d+ pictures`)
	hit(t, p, `.columns button[aria-label$=": 640 px"]`)
	waitFor(t, p, `location.pathname === '/rules' && new URLSearchParams(location.search).get('part') === 'slots'`)
	waitText(t, p, "main", "Brindlemere, the old site, 640 px")
}
