package e2e

import (
	"encoding/json"
	"io"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/go-rod/rod"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/store"
	"mivlet/store/datafolder"
)

const (
	alt     = "Three juniors paddle off the jetty on a clear morning"
	caption = "Red led, yellow followed."
)

// A 24-megapixel photo with a camera's name, from the desktop to a live page.
func TestTheWalk(t *testing.T) { walk(t, start(t, "demo")) }

// walk goes from a camera's file to a live page.
func walk(t *testing.T, h house) {
	t.Helper()
	b := browser(t)
	p := open(t, b, h.app+"/arrivals", 1280, 800, 1)

	photo := filepath.Join(t.TempDir(), "DSC_0999.JPG")
	original, err := os.ReadFile(demoPicture(t, "DSC_0417.JPG"))
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(photo, original, 0o600))

	// Arrivals: all that is known, at once.
	drop(t, p, "#strip", photo)
	row := waitText(t, p, "#waiting .row", "DSC_0999.JPG")
	for _, told := range []string{"6000 × 4000", "24.0 MP", "12 Sep 2026, 08:41", "Position inside", "Here already"} {
		assert.Contains(t, row.MustText(), told)
	}
	hit(t, p, "#send")
	p.MustWaitLoad()
	waitText(t, p, ".file", "DSC_0999.JPG")

	frameOnTheBench(t, p)
	nameAndDescribe(t, p)

	// Pages: to the gap after the first heading.
	hit(t, p, "#step-place a", "Autumn on the water")
	waitText(t, p, ".picked", "juniors-three-juniors-paddle")
	hit(t, p, `.gap[data-gap="2"]`)
	waitText(t, p, ".panel h2", "Place a picture")
	waitText(t, p, ".sides", "[Cc]entre")
	hit(t, p, `.sides input[value="centre"]`)
	write(t, p, "#caption", caption)
	hit(t, p, ".placing .primary", "Place it")
	placed := p.MustElement("figure.placed")
	assert.Contains(t, placed.MustText(), caption)
	width := placed.MustElement("img").MustEval(`() => this.getBoundingClientRect().width`).Num()
	assert.InDelta(t, 640, width, 1, "the page shows it at its true width")

	// Publish, and what was checked.
	hit(t, p, ".panel .primary", "Publish")
	report := waitText(t, p, ".report", "all is well").MustText()
	assert.Contains(t, report, alt)
	assert.Contains(t, report, "nothing hidden inside")

	live := h.site + "/juniors/autumn-on-the-water"
	small := visit(t, b, live, 1)
	large := visit(t, b, live, 2)
	assert.Contains(t, small.src, "/juniors/juniors-three-juniors-paddle-off-jetty-clear-640.jpg")
	assert.EqualValues(t, 640, small.natural)
	assert.Contains(t, large.src, "/juniors/juniors-three-juniors-paddle-off-jetty-clear-1280.jpg")
	assert.EqualValues(t, 640, large.natural, "1280 pixels at two to a CSS pixel")

	for _, address := range []string{small.src, large.src} {
		bare(t, address)
	}
	is, err := datafolder.OpenForReading(h.data)
	require.NoError(t, err)
	kept, err := store.Content(is.Files, store.HashOf(original))
	require.NoError(t, err)
	require.NoError(t, is.Close())
	assert.Equal(t, original, kept, "the original is untouched")
}

// frameOnTheBench draws a frame, sizes it by an edge, moves it, types it, and
// takes steps back and forth.
func frameOnTheBench(t *testing.T, p *rod.Page) {
	waitFor(t, p, `document.readyState === 'complete' && document.fonts.status === 'loaded' && document.querySelector('#frame .body')?.getAttribute('width') > 0`)
	stage := p.MustElement("#stage").MustEval(`() => { const m = this.getScreenCTM(); return { x: m.e, y: m.f, k: m.a } }`)
	x0, y0, k := stage.Get("x").Num(), stage.Get("y").Num(), stage.Get("k").Num()
	at := func(x, y float64) (float64, float64) { return x0 + x*k, y0 + y*k }
	frame := func() [4]int {
		var f [4]int
		for i, v := range strings.Fields(*p.MustElement("#figures").MustAttribute("data-frame")) {
			require.NoError(t, json.Unmarshal([]byte(v), &f[i]))
		}
		return f
	}
	near := func(want [4]int) {
		t.Helper()
		for i, v := range frame() {
			assert.InDelta(t, want[i], v, 2/k, "frame %v, wanted about %v", frame(), want)
		}
	}
	settled := func(history string) {
		t.Helper()
		waitText(t, p, "#history", history)
		calm(t, p)
	}

	ax, ay := at(1800, 1200)
	bx, by := at(5700, 3400)
	drag(p, ax, ay, bx, by)
	settled("History: 3 steps")
	near([4]int{1800, 1200, 3900, 2200})
	drawn := frame()

	ex, ey := at(float64(drawn[0]+drawn[2]), float64(drawn[1]+drawn[3]/2))
	lx, _ := at(5100, 0)
	drag(p, ex, ey, lx, ey)
	settled("History: 4 steps")
	near([4]int{1800, 1200, 3300, 2200})

	mx, my := at(3000, 2000)
	tx, ty := at(3300, 2100)
	drag(p, mx, my, tx, ty)
	settled("History: 5 steps")
	near([4]int{2100, 1300, 3300, 2200})

	write(t, p, "#frame-w", "3000")
	settled("History: 6 steps")
	assert.Equal(t, 3000, frame()[2], "typed numbers are exact")

	hit(t, p, "#figures dt") // as a hand leaves a field
	p.KeyActions().Type('u').MustDo()
	waitFor(t, p, `document.getElementById('figures').dataset.frame.split(' ')[2] !== '3000'`)
	calm(t, p)
	p.KeyActions().Type('r').MustDo()
	waitFor(t, p, `document.getElementById('figures').dataset.frame.split(' ')[2] === '3000'`)
	calm(t, p)

	// A field that is left while an answer is drawn does not get the hand back, or the next key would
	// be written into it.
	p.MustEval(`() => {
		document.getElementById('frame-w').focus();
		document.addEventListener('htmx:afterSwap', function left() {
			if (document.getElementById('figures').dataset.frame.split(' ')[2] === '3000') return; // another answer
			document.removeEventListener('htmx:afterSwap', left);
			document.body.dispatchEvent(new PointerEvent('pointerdown', { bubbles: true }));
			document.activeElement.blur();
		});
		document.querySelector('[data-key="u"]').click();
	}`)
	waitFor(t, p, `document.getElementById('figures').dataset.frame.split(' ')[2] !== '3000'`)
	calm(t, p)
	p.KeyActions().Type('r').MustDo()
	waitFor(t, p, `document.getElementById('figures').dataset.frame.split(' ')[2] === '3000'`)

	// The chain tells true sizes, and true bytes once the cuts are made.
	f := frame()
	chain := waitText(t, p, "#figures", `640 × \d+[\s\S]*1280 × \d+`).MustText()
	assert.Contains(t, chain, "6000 × 4000")
	assert.Contains(t, chain, "density 2")
	assert.Equal(t, 3000, f[2])
	waitFor(t, p, `/1280/.test(document.getElementById('figures').innerText) && !/about/.test(document.getElementById('figures').innerText)`)
}

// nameAndDescribe tries the camera's name, is refused, and takes the proposal.
func nameAndDescribe(t *testing.T, p *rod.Page) {
	write(t, p, "#name", "DSC_0999")
	waitText(t, p, "#name-findings", "what a camera called it")
	write(t, p, "#name", "my photo!")
	waitText(t, p, "#name-findings", "Hyphens separate the words")

	write(t, p, "#alt", alt)
	waitText(t, p, "#name-findings .mend", "^juniors-three-juniors-paddle-off-jetty-clear$")
	calm(t, p)
	hit(t, p, "#name-findings .mend", "^juniors-three-juniors-paddle-off-jetty-clear$")
	waitFor(t, p, `document.getElementById('name').value === 'juniors-three-juniors-paddle-off-jetty-clear'`)
}

type seen struct {
	src     string
	natural float64
}

// visit reads a live page as a visitor's browser shows it.
func visit(t *testing.T, b *rod.Browser, address string, scale float64) seen {
	t.Helper()
	p := open(t, b, address, 1280, 800, scale)
	defer p.MustClose()
	img := p.MustElement("main figure img")
	waitFor(t, p, `document.querySelector('main figure img').complete && document.querySelector('main figure img').naturalWidth > 0`)
	for name, want := range map[string]string{"alt": alt, "width": "640", "loading": "eager"} {
		assert.Equal(t, want, *img.MustAttribute(name), name)
	}
	assert.NotEmpty(t, *img.MustAttribute("height"))
	assert.Equal(t, "(max-width: 669px) calc(100vw - 30px), 640px", *img.MustAttribute("sizes"))
	assert.Equal(t, caption, p.MustElement("main figure figcaption").MustText())
	assert.Zero(t, p.MustEval(`() => document.querySelectorAll('[style], main script').length`).Int(), "clean HTML")
	return seen{img.MustEval(`() => this.currentSrc`).Str(), img.MustEval(`() => this.naturalWidth`).Num()}
}

// bare asks exiftool what a published file carries: nothing but structure.
func bare(t *testing.T, address string) {
	t.Helper()
	res, err := http.Get(address)
	require.NoError(t, err)
	defer res.Body.Close()
	assert.Equal(t, "image/jpeg", res.Header.Get("Content-Type"))
	assert.Equal(t, "nosniff", res.Header.Get("X-Content-Type-Options"))
	file := filepath.Join(t.TempDir(), "cut.jpg")
	f, err := os.Create(file)
	require.NoError(t, err)
	_, err = io.Copy(f, res.Body)
	require.NoError(t, err)
	require.NoError(t, f.Close())

	if _, err := exec.LookPath("exiftool"); err != nil {
		if os.Getenv("CI") != "" {
			t.Fatal("exiftool is missing: scripts/test installs it")
		}
		t.Log("SKIPPED: exiftool is missing, so nobody independent has looked for metadata. Run scripts/test.")
		return
	}
	out, err := exec.Command("exiftool", "-json", "-G", "-a", "-u", file).Output()
	require.NoError(t, err)
	var tags []map[string]any
	require.NoError(t, json.Unmarshal(out, &tags))
	structure := regexp.MustCompile(`^(SourceFile|ExifTool:.*|File:.*|Composite:(ImageSize|Megapixels))$`)
	for tag, value := range tags[0] {
		assert.Regexp(t, structure, tag, "the cut still carries %s = %v", tag, value)
	}
}
