package e2e

import (
	"fmt"
	"os"
	"strconv"
	"testing"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// screens are all screens of the demo, with what can be open on them.
var screens = []string{"/arrivals", "/bench/8", "/bench/9", "/shelves", "/shelves?view=rows", "/pictures/1", "/files", "/pages", "/pages/1", "/pages/2", "/pages/6", "/pages/7", "/pages/1/widths", "/pages/1/insert?after=a1&picture=5",
	"/pages/7/insert?after=v1", "/pages/7/placement?block=v6", "/pages/7/band?block=v2", "/pages/17/background?block=fh1", "/pages/17/list?block=fh4", "/pages/6/album?block=w8", "/pages/2/cover", "/pages/2/link",
	"/pages/4/shared", "/covers", "/albums", "/albums/1", "/albums/1?describe=3", "/banners", "/banners/4", "/banners/2?choose=yes", "/live", "/ruler", "/people", "/people?person=2", "/people/provider", "/destinations", "/destinations/new", "/destinations/new?kind=sftp", "/running", "/findings", "/former", "/former/1", "/former/1/describe", "/former/1/names", "/former/1/changes", "/former/1/compare", "/former/1/carry", "/leaving", "/privacy", "/trail", "/account", "/welcome", "/help",
	"/rules", "/rules?part=page", "/rules?part=slots", "/rules?part=names", "/rules?part=types", "/rules?part=limits", "/rules?part=words", "/rules?part=categories", "/rules?part=spots", "/rules?part=history"}

// windows are the sizes that screens are looked at: a desk, a phone, and a desk enlarged four times
// (WCAG 2.2, SC 1.4.10 Reflow: 320 by 256 CSS pixels).
var windows = [][2]int{{1280, 800}, {390, 844}, {320, 256}}

// resize gives a page another window.
func resize(t *testing.T, p *rod.Page, window [2]int) {
	t.Helper()
	require.NoError(t, proto.EmulationSetDeviceMetricsOverride{Width: window[0], Height: window[1], DeviceScaleFactor: 1}.Call(p))
	waitFor(t, p, `innerWidth === `+jsonOf(float64(window[0])))
	p.MustEval(`() => new Promise((r) => requestAnimationFrame(() => requestAnimationFrame(r)))`)
}

// spaced spreads a text as far as WCAG 2.2, SC 1.4.12 Text Spacing, asks.
const spaced = `const spread = new CSSStyleSheet();
	spread.replaceSync('* { line-height: 1.5 !important; letter-spacing: 0.12em !important; word-spacing: 0.16em !important } p { margin-bottom: 2em !important }');
	document.adoptedStyleSheets = [...document.adoptedStyleSheets, spread];`

// fits asserts that nothing sticks out of the window, however the text is spaced, that no text
// is cut off, and that what stays put while the rest scrolls leaves half of the window free.
func fits(t *testing.T, p *rod.Page, name string) {
	t.Helper()
	found := p.MustEval(`() => {
		const tell = (e) => e.tagName + '#' + e.id + '.' + e.className;
		const out = (how) => document.documentElement.scrollWidth <= innerWidth ? [] : [how + ' sticks out: ' + [...document.querySelectorAll('body *')].filter((e) => e.checkVisibility() && e.getBoundingClientRect().right > innerWidth + 1).map(tell).slice(0, 5)];
		const stuck = [...document.querySelectorAll('body *')].filter((e) => /fixed|sticky/.test(getComputedStyle(e).position) && e.checkVisibility() && !e.closest('dialog')).reduce((sum, e) => sum + Math.min(e.getBoundingClientRect().height, innerHeight), 0);
		const before = [...out('it'), ...(stuck > innerHeight / 2 && innerHeight < 300 ? ['covers the window: ' + stuck] : [])];
		` + spaced + `
		const cut = [...document.querySelectorAll('body *')].filter((e) => e.checkVisibility() && e.childElementCount === 0 && e.textContent.trim() && e.tagName !== 'TEXTAREA' && e.clientWidth > 1 && getComputedStyle(e).overflow !== 'visible' && (e.scrollWidth > e.clientWidth + 1 || e.scrollHeight > e.clientHeight + 1)).map((e) => 'is cut off: ' + tell(e));
		const after = out('with its text spread it');
		document.adoptedStyleSheets = document.adoptedStyleSheets.filter((s) => s !== spread);
		return [...before, ...cut, ...after];
	}`).Arr()
	for _, what := range found {
		assert.Fail(t, name+" "+what.Str())
	}
}

// inTurn says whether the i-th of many is looked at closely in this run. scripts/test does so with a
// third, which one follows from the commit; who runs a test alone gets all.
func inTurn(i int) bool {
	turn, err := strconv.Atoi(os.Getenv("MIVLET_TURN"))
	return err != nil || i%3 == turn
}

// Every screen is accessible as far as a program can tell on a desk, and fits a desk, a phone and a
// desk enlarged four times. In turn they are looked at closely in all of them, by night and with the
// reader's colours, too.
func TestEveryScreenAtEveryWidth(t *testing.T) {
	h := startReading(t, "demo")
	const parts = 3 // beside each other
	for n := range parts {
		t.Run(fmt.Sprint(n), func(t *testing.T) {
			t.Parallel()
			show := leafing(t, browser(t), windows[0][0], windows[0][1])
			for i := n; i < len(screens); i += parts {
				atEveryWidth(t, show(h.app+screens[i]), screens[i], inTurn(i/parts))
			}
		})
	}
}

// atEveryWidth looks at a screen at all sizes of windows and, closely, by night and with the
// reader's colours.
func atEveryWidth(t *testing.T, p *rod.Page, at string, closely bool) {
	t.Helper()
	for i, window := range windows {
		part := ""
		if i > 0 {
			resize(t, p, window)
			if p.MustHas("#placing, #band-form, #background-form, #list-form, #album-form, .cover-panel") {
				part = "#panel" // the page beside it is looked at without it, too
			}
		}
		name := fmt.Sprintf("%s at %d", at, window[0])
		looked := allRules
		if i == 2 {
			looked = bySize // it shows what the phone shows, in less room
		}
		if closely || i == 0 {
			accessibleIn(t, p, name, part, looked)
		}
		fits(t, p, name)
	}
	resize(t, p, windows[0])
	if !closely {
		return
	}
	byNight(t, p, at)
	readersColours(t, p, at)
}

// medium has a page shown as a system asks for it; none takes that back.
func medium(t *testing.T, p *rod.Page, name, value string) {
	t.Helper()
	require.NoError(t, proto.EmulationSetEmulatedMedia{Features: []*proto.EmulationMediaFeature{{Name: name, Value: value}}}.Call(p))
}

// byNight asserts that a screen is dark where the system asks for it, and can be read; the page in
// it is shown by day, as visitors see it.
func byNight(t *testing.T, p *rod.Page, name string) {
	t.Helper()
	medium(t, p, "prefers-color-scheme", "dark")
	light := p.MustEval(`() => {
		const light = (el) => el && getComputedStyle(el).backgroundColor.match(/[0-9.]+/g).slice(0, 3).reduce((a, b) => a + Number(b), 0) / 3;
		return [light(document.body), light(document.querySelector('.sheet.content')) ?? 255];
	}`).Arr()
	assert.Less(t, light[0].Num(), 64.0, name)
	assert.Greater(t, light[1].Num(), 192.0, name)
	found, err := p.Eval(`async () => (await axe.run(document, { resultTypes: ['violations'], runOnly: ['color-contrast'], preload: false })).violations.flatMap((v) => v.nodes.map((n) => n.target.join(' ') + '  ' + n.failureSummary.replace(/\s+/g, ' '))).join('\n')`)
	require.NoError(t, err)
	assert.Empty(t, found.Value.Str(), "%s by night", name)
	medium(t, p, "prefers-color-scheme", "light")
}

// readersColours asserts that what is drawn has the reader's own colours where they are forced
// (CSS Color Adjustment 1, section 3), and that what is chosen or pressed is told without them.
func readersColours(t *testing.T, p *rod.Page, name string) {
	t.Helper()
	medium(t, p, "forced-colors", "active")
	untold := p.MustEval(`() => {
		const ink = getComputedStyle(document.body).color;
		const drawn = [...document.querySelectorAll('.brand svg, .dim text')].filter((el) => el.checkVisibility() && !el.closest('#stage, .sheet .ground-deep')).filter((el) => { const s = getComputedStyle(el); return (el.matches('text') ? s.fill : s.color) === 'rgb(18, 72, 63)'; });
		const chosen = [...document.querySelectorAll('[aria-pressed="true"], .line .here a')].filter((el) => el.checkVisibility() && getComputedStyle(el).outlineStyle !== 'solid');
		return [...drawn, ...chosen].map((el) => el.outerHTML.slice(0, 90) + ink);
	}`).Arr()
	assert.Empty(t, untold, name)
	medium(t, p, "forced-colors", "none")
}

// With less motion asked for, nothing on a screen moves (WCAG 2.2, SC 2.3.3).
func TestNothingMovesWhereLessMotionIsAskedFor(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/arrivals", 1280, 800, 1)
	medium(t, p, "prefers-reduced-motion", "reduce")
	moving := `document.getAnimations().filter((a) => a.playState === 'running').length`
	drop(t, p, "#strip", freshPhoto(t, "IMG_2101.JPG", "IMG_9501"))
	waitText(t, p, "#waiting .row", "IMG_9501.jpg")
	assert.Zero(t, p.MustEval(`() => `+moving).Int())
	medium(t, p, "prefers-reduced-motion", "no-preference")
	drop(t, p, "#strip", freshPhoto(t, "IMG_2101.JPG", "IMG_9502"))
	waitFor(t, p, moving+` > 0`)
}
