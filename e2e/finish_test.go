package e2e

import (
	"bytes"
	"fmt"
	"os"
	"path/filepath"
	"regexp"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// freshPhoto is a demo photo that the house does not know: with a comment of its own behind its
// beginning (ITU-T T.81, B.2.4.5).
func freshPhoto(t *testing.T, name, comment string) string {
	t.Helper()
	data, err := os.ReadFile(demoPicture(t, name))
	require.NoError(t, err)
	require.True(t, bytes.HasPrefix(data, []byte{0xFF, 0xD8}))
	segment := append([]byte{0xFF, 0xFE, 0, byte(len(comment) + 2)}, comment...)
	at := filepath.Join(t.TempDir(), comment+".jpg")
	require.NoError(t, os.WriteFile(at, bytes.Join([][]byte{data[:2], segment, data[2:]}, nil), 0o600))
	return at
}

// noting notes in the browser itself at which moment each of some conditions first holds.
func noting(p *rod.Page, conditions map[string]string) {
	for name, condition := range conditions {
		p.MustEval(fmt.Sprintf(`() => {
			window.moments ??= {};
			const look = () => { if (%s) window.moments[%q] = performance.now(); else requestAnimationFrame(look); };
			look();
		}`, condition, name))
	}
}

// moment is what was noted, in seconds; now is the present one.
func moment(p *rod.Page, name string) float64 {
	if name == "now" {
		return p.MustEval(`() => performance.now() / 1000`).Num()
	}
	return p.MustEval(`(name) => window.moments[name] / 1000`, name).Num()
}

// From a photo of 12 megapixels on its side to a live page: one drop, one text, and two keys,
// without leaving the page.
func TestAPhotoIsFinishedWhereItIsDropped(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/pages/1", 1280, 900, 1)
	calm(t, p)
	photo := freshPhoto(t, "IMG_2140.JPG", "IMG_9001")
	noting(p, map[string]string{
		"asked":  `document.activeElement?.id === 'finish-alt'`,
		"placed": `document.querySelector('.sheet .placed img')?.alt.startsWith('Marsh') && !document.querySelector('#finish') && document.querySelector('[data-key="p"]:not([disabled])')`,
		"live":   `document.querySelector('.report')?.innerText.includes('all is well')`,
	})
	dropped := moment(p, "now")
	drop(t, p, `.gap[data-gap="1"]`, photo)
	waitFor(t, p, `document.activeElement?.id === 'finish-alt'`)
	calm(t, p)
	require.NoError(t, p.InsertText("Marshmallows over the fire on the beach"))
	entered := moment(p, "now")
	require.NoError(t, p.Keyboard.Type(input.Enter))
	waitFor(t, p, `!document.querySelector('#finish') && !!document.querySelector('[data-key="p"]:not([disabled])')`)
	calm(t, p)
	assert.Contains(t, p.MustElement(".sheet .placed img").MustProperty("alt").Str(), "Marshmallows over the fire")
	signing := moment(p, "now")
	require.NoError(t, p.Keyboard.Type('p'))
	waitText(t, p, ".report", "all is well")
	t.Logf("one drop, one text, two keys; waited %.1f s for the panel, %.1f s for its answer, %.1f s for the page to go live and be checked",
		moment(p, "asked")-dropped, moment(p, "placed")-entered, moment(p, "live")-signing)
	live := body(t, h.site+"/juniors/autumn-on-the-water")
	assert.Contains(t, live, `alt="Marshmallows over the fire on the beach"`)
	assert.Regexp(t, `juniors-[a-z-]*marshmallows[a-z-]*-`, live, "named by the house's convention")
}

// A name of one's own that breaks the convention is refused with one that does not, and the
// description is kept.
func TestANameIsRefusedWhereAPhotoIsFinished(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/pages/1", 1280, 900, 1)
	calm(t, p)
	drop(t, p, `.gap[data-gap="1"]`, freshPhoto(t, "IMG_2088.JPG", "IMG_9002"))
	waitFor(t, p, `document.activeElement?.id === 'finish-alt'`)
	calm(t, p)
	require.NoError(t, p.InsertText("A heron on the jetty"))
	p.MustElement("#finish-name").MustInput("My Photo!!")
	hit(t, p, "#finish .primary")
	waitText(t, p, "#finish .finding.stop", "is no name by the house convention")
	assert.Equal(t, "A heron on the jetty", p.MustElement("#finish-alt").MustProperty("value").Str())
	hit(t, p, "#finish [data-fill]")
	hit(t, p, "#finish .primary")
	waitFor(t, p, `!document.querySelector('#finish')`)
}

// shownCut is a picture of a page whose files are made.
var shownCut = regexp.MustCompile(`<img\s+src="/cuts/`)

// Ten photos for one page: one drop, and then keys alone; each description leads to the next.
func TestTenPhotosAreFinishedByKeys(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/pages/1", 1280, 900, 1)
	calm(t, p)
	sources := []string{"P1040860.JPG", "IMG_2101.JPG", "DSC_0402.JPG"}
	var files []string
	for n := range 10 {
		files = append(files, freshPhoto(t, sources[n%len(sources)], fmt.Sprintf("IMG_91%02d", n)))
	}
	began := time.Now()
	drop(t, p, `.gap[data-gap="1"]`, files...)
	waitFor(t, p, `document.querySelectorAll('.sheet .placed').length === 10 && document.activeElement?.id === 'finish-alt'`)
	came := time.Since(began)
	for n := range 10 {
		calm(t, p)
		waitFor(t, p, `document.activeElement?.id === 'finish-alt'`)
		require.NoError(t, p.InsertText(fmt.Sprintf("Boats on the lake, seen for the %s time", []string{"first", "second", "third", "fourth", "fifth", "sixth", "seventh", "eighth", "ninth", "tenth"}[n])))
		require.NoError(t, p.Keyboard.Type(input.Enter))
		waitFor(t, p, fmt.Sprintf(`document.querySelectorAll('.sheet .placed img[alt^="Boats on the lake"]').length === %d`, n+1))
	}
	calm(t, p)
	described := time.Since(began)
	waitFor(t, p, `!document.querySelector('#finish') && !!document.querySelector('[data-key="p"]:not([disabled])')`)
	// Whoever types takes longer than this: by then the files are made.
	require.Eventually(t, func() bool { return len(shownCut.FindAllString(body(t, h.app+"/pages/1"), -1)) == 10 }, patience, 100*time.Millisecond)
	made := time.Since(began)
	noting(p, map[string]string{"live": `document.querySelector('.report')?.innerText.includes('all is well')`})
	signing := moment(p, "now")
	require.NoError(t, p.Keyboard.Type('p'))
	waitText(t, p, ".report", "all is well")
	t.Logf("one drop, ten texts, eleven keys; %.1f s until all ten had come, %.1f s more for describing without typing, %.1f s until the files were made beside it, %.1f s for going live",
		came.Seconds(), (described - came).Seconds(), (made - described).Seconds(), moment(p, "live")-signing)
	assert.Equal(t, []string{"first", "second", "third", "fourth", "fifth", "sixth", "seventh", "eighth", "ninth", "tenth"}, orderOf(p), "in the order of the files")
}

// Who cannot drop picks the files of the device, as on a phone.
func TestPhotosArePickedInThePanel(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/pages/1", 390, 800, 2)
	calm(t, p)
	hit(t, p, `.gap[data-gap="1"]`)
	waitText(t, p, ".panel h2", "Place a picture")
	calm(t, p)
	p.MustElement("#photos-here").MustSetFiles(freshPhoto(t, "IMG_2088.JPG", "IMG_9201"), freshPhoto(t, "P1040860.JPG", "IMG_9202"))
	waitFor(t, p, `document.querySelectorAll('.sheet .placed').length === 2 && document.activeElement?.id === 'finish-alt'`)
	// On a phone the panel stands below the page: it is what one sees, also when the faces have come.
	waitFor(t, p, `!!document.querySelector('div#finish-faces')`)
	calm(t, p)
	waitFor(t, p, `(() => { const r = document.getElementById('finish-alt').getBoundingClientRect(); return r.top > 0 && r.bottom < innerHeight; })()`)
	labels := p.MustEval(`() => [...document.querySelectorAll('.sheet .placed .hold')].map((b) => b.ariaLabel).join()`).Str()
	assert.Regexp(t, `IMG_9201.*IMG_9202`, labels)
}

// A photo is framed where it is finished: drawn, held to a ratio, moved by keys; what is typed
// meanwhile stays, and the bench has the same frame.
func TestAPhotoIsFramedWhereItIsFinished(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/pages/1", 1280, 900, 1)
	calm(t, p)
	drop(t, p, `.gap[data-gap="1"]`, freshPhoto(t, "P1040860.JPG", "IMG_9301")) // 2400 × 1600
	waitFor(t, p, `document.activeElement?.id === 'finish-alt' && !!document.querySelector('div#finish-faces')`)
	require.NoError(t, p.InsertText("Vests on their hooks"))
	frame := func() string { return p.MustEval(`() => document.getElementById('finish-photo').dataset.frame`).Str() }
	assert.Equal(t, "0 0 2400 1600", frame())
	box := p.MustElement("#finish-photo").MustShape().Box()
	at := func(x, y float64) (float64, float64) { return box.X + x*box.Width, box.Y + y*box.Height }
	x0, y0 := at(0.25, 0.25)
	x1, y1 := at(0.75, 0.75)
	drag(p, x0, y0, x1, y1)
	waitFor(t, p, `(() => { const [x, y, w, h] = document.getElementById('finish-photo').dataset.frame.split(' ').map(Number); return Math.abs(x - 600) < 20 && Math.abs(y - 400) < 20 && Math.abs(w - 1200) < 30 && Math.abs(h - 800) < 30; })()`)
	calm(t, p)
	assert.Equal(t, "Vests on their hooks", p.MustElement("#finish-alt").MustProperty("value").Str())
	p.MustElement("#finish-ratio").MustSelect("1:1")
	waitFor(t, p, `(() => { const [, , w, h] = document.getElementById('finish-photo').dataset.frame.split(' ').map(Number); return w === h && w < 900; })()`)
	calm(t, p)
	assert.Equal(t, "1:1", p.MustElement("#finish-ratio").MustProperty("value").Str(), "the ratio is kept")
	before := frame()
	p.MustElement("#finish-frame").MustFocus()
	require.NoError(t, p.Keyboard.Type(input.ArrowRight))
	waitFor(t, p, `document.getElementById('finish-photo').dataset.frame !== '`+before+`' && document.activeElement.id === 'finish-frame'`)
	calm(t, p)
	// A corner keeps the ratio, and the corner across from it stays.
	box = p.MustElement("#finish-photo").MustShape().Box()
	var x, y, w, hi float64
	_, err := fmt.Sscan(frame(), &x, &y, &w, &hi)
	require.NoError(t, err)
	k := box.Width / 2400
	drag(p, box.X+x*k+4, box.Y+y*k+4, box.X+x*k-20, box.Y+y*k-20)
	waitFor(t, p, fmt.Sprintf(`(() => { const [x, y, w, h] = document.getElementById('finish-photo').dataset.frame.split(' ').map(Number); return w === h && w > %v && Math.abs(x + w - %v) < 2 && Math.abs(y + h - %v) < 2; })()`, w+50, x+w, y+hi))
	calm(t, p)
	last := frame()
	assert.Equal(t, "Vests on their hooks", p.MustElement("#finish-alt").MustProperty("value").Str())
	picture := p.MustEval(`() => document.getElementById('finish').dataset.picture`).Str()
	assert.Contains(t, body(t, h.app+"/bench/"+picture), `data-frame="`+last+`"`)
	hit(t, p, "#finish .primary")
	waitFor(t, p, `!document.querySelector('#finish')`)
	assert.Equal(t, "Vests on their hooks", p.MustElement(".sheet .placed img").MustProperty("alt").Str())
}

// Faces are found without waiting for them, and covered where the photo is finished.
func TestFacesAreCoveredWhereAPhotoIsFinished(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/pages/1", 1280, 900, 1)
	calm(t, p)
	drop(t, p, `.gap[data-gap="1"]`, freshPhoto(t, "IMG_2140.JPG", "IMG_9302"))
	waitFor(t, p, `document.activeElement?.id === 'finish-alt'`)
	require.NoError(t, p.InsertText("Three paddlers at the fire"))
	waitText(t, p, "#finish-faces", `\d faces? can be seen`)
	waitFor(t, p, `document.querySelectorAll('#finish-outlines .open').length > 0`)
	hit(t, p, "#finish-faces button", "Cover")
	waitText(t, p, "#finish-faces", "all covered or allowed")
	waitFor(t, p, `document.querySelectorAll('#finish-outlines .open').length === 0 && document.querySelectorAll('#finish-outlines .covered').length > 0`)
	assert.Equal(t, "Three paddlers at the fire", p.MustElement("#finish-alt").MustProperty("value").Str())
	picture := p.MustEval(`() => document.getElementById('finish').dataset.picture`).Str()
	assert.Contains(t, body(t, h.app+"/bench/"+picture), "Hidden: ")
}

// Several photos of one drop come to stand together, before or after they are described.
func TestPhotosOfOneDropStandTogether(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/pages/1", 1280, 900, 1)
	calm(t, p)
	var files []string
	for n, name := range []string{"P1040860.JPG", "IMG_2088.JPG", "P1040877.JPG"} {
		files = append(files, freshPhoto(t, name, fmt.Sprintf("IMG_940%d", n)))
	}
	drop(t, p, `.gap[data-gap="1"]`, files...)
	waitFor(t, p, `document.querySelectorAll('.sheet .placed').length === 3 && document.activeElement?.id === 'finish-alt'`)
	calm(t, p)
	waitText(t, p, ".together", "3 pictures stand one below the other")
	hit(t, p, ".together button", "In a strip")
	waitFor(t, p, `document.querySelectorAll('.sheet .strip .placed').length === 3 && document.activeElement?.id === 'finish-alt'`)
	for n, words := range []string{"first", "second", "third"} {
		calm(t, p)
		waitFor(t, p, `document.activeElement?.id === 'finish-alt'`)
		require.NoError(t, p.InsertText("Boats on the lake, seen for the "+words+" time"))
		require.NoError(t, p.Keyboard.Type(input.Enter))
		waitFor(t, p, fmt.Sprintf(`document.querySelectorAll('.sheet .strip img[alt^="Boats on the lake"]').length === %d`, n+1))
	}
	assert.Equal(t, []string{"first", "second", "third"}, orderOf(p))
	calm(t, p)
	for range 3 { // the words are steps of the pictures; the page takes back how they stand
		if p.MustEval(`() => !document.querySelector('.sheet .strip')`).Bool() {
			break
		}
		press(t, p, 'u')
		calm(t, p)
	}
	waitFor(t, p, `!document.querySelector('.sheet .strip') && document.querySelectorAll('.sheet .placed').length === 3`)
	hit(t, p, ".sheet .placed .hold")
	waitText(t, p, ".together", "3 pictures stand")
	hit(t, p, ".together button", "As an album")
	waitText(t, p, ".panel h2", "This album")
	waitFor(t, p, `document.querySelectorAll('.sheet .album-drawn img').length === 3`)
	calm(t, p)
	require.NoError(t, p.Keyboard.Type(input.Escape))
	waitFor(t, p, `!!document.querySelector('[data-key="p"]:not([disabled])')`)
	require.NoError(t, p.Keyboard.Type('p'))
	waitText(t, p, ".report", "all is well")
}

func orderOf(p *rod.Page) (order []string) {
	for _, v := range p.MustEval(`() => [...document.querySelectorAll('.sheet .placed img')].map((i) => i.alt.split(' ').at(-2))`).Arr() {
		order = append(order, v.Str())
	}
	return order
}
