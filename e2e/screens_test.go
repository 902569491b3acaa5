package e2e

import (
	"testing"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// screens are all screens of the demo, with what can be open on them.
var screens = []string{"/arrivals", "/bench/8", "/bench/9", "/shelves", "/shelves?view=rows", "/pictures/1", "/files", "/pages", "/pages/1", "/pages/2", "/pages/6", "/pages/7", "/pages/1/widths", "/pages/1/insert?after=a1&picture=5",
	"/pages/7/insert?after=v1", "/pages/7/placement?block=v6", "/pages/7/band?block=v2", "/pages/17/background?block=fh1", "/pages/17/list?block=fh4", "/pages/6/album?block=w8", "/pages/2/cover", "/pages/2/link",
	"/pages/4/shared", "/covers", "/albums", "/albums/1", "/albums/1?describe=3", "/banners", "/banners/4", "/banners/2?choose=yes", "/live", "/ruler", "/people", "/people?person=2", "/trail", "/account", "/welcome",
	"/rules", "/rules?part=page", "/rules?part=slots", "/rules?part=names", "/rules?part=types", "/rules?part=words", "/rules?part=categories", "/rules?part=spots", "/rules?part=history"}

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

// Every screen is accessible as far as a program can tell, on a desk, on a phone and enlarged four
// times, and fits all of them.
func TestEveryScreenAtEveryWidth(t *testing.T) {
	h := start(t, "demo")
	b := browser(t)
	for _, at := range screens {
		p := open(t, b, h.app+at, windows[0][0], windows[0][1], 1)
		for i, window := range windows {
			part := ""
			if i > 0 {
				resize(t, p, window)
				if p.MustHas("#placing, #band-form, #background-form, #list-form, #album-form, .cover-panel") {
					part = "#panel" // the page beside it is looked at without it, too
				}
			}
			name := at + " at " + jsonOf(float64(window[0]))
			accessibleIn(t, p, name, part)
			fits(t, p, name)
		}
		p.MustClose()
	}
}
