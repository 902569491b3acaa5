package e2e

import (
	"testing"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// inFields are the figures in the fields of the frame: left, top, width and height.
const inFields = `['x', 'y', 'w', 'h'].map((k) => document.getElementById('frame-' + k).value).join(' ')`

// framed is the frame as the server has it, in pixels of the upright original.
const framed = `document.getElementById('figures').dataset.frame`

// After a quarter turn the figures, the ratio and the arrow keys mean the picture as it is seen.
func TestATurnedPictureHasTurnedAxes(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/bench/9", 1280, 800, 1) // 3600 × 2400
	atHand(t, p)
	press(t, p, 't')
	waitFor(t, p, inFields+` === '0 0 2400 3600'`)
	calm(t, p)
	p.MustElement("#ratio").MustSelect("3:2")
	waitFor(t, p, inFields+` === '0 1000 2400 1600'`)
	waitFor(t, p, framed+` === '1000 0 1600 2400'`)
	waitText(t, p, "#figures", `2400 × 1600`)

	// A width that is typed: the height follows by the ratio as it is seen.
	write(t, p, "#frame-w", "900")
	waitFor(t, p, inFields+` === '0 1000 900 600'`)
	waitFor(t, p, framed+` === '1000 1500 600 900'`) // a quarter turn clockwise: what is left was below

	// Right is right.
	calm(t, p)
	focus(t, p, "#frame")
	typed(t, p, input.ArrowRight)
	waitFor(t, p, `Number(document.getElementById('frame-x').value) > 0 && document.getElementById('frame-y').value === '1000'`)
	waitFor(t, p, framed+`.split(' ')[1] < 1500`)
	require.NoError(t, p.KeyActions().Press(input.AltLeft).Type(input.ArrowDown).Release(input.AltLeft).Do())
	waitFor(t, p, `Number(document.getElementById('frame-h').value) > 600 && document.getElementById('frame-y').value === '1000'`)
	waitFor(t, p, `(() => { const [, , w, h] = `+framed+`.split(' '); return h > 900 && Math.abs(h / w - 1.5) < 0.01; })()`)

	// Without a script the form says itself how the picture stood.
	p.MustEval(`() => fetch('/bench/9/frame', { method: 'POST', body: new URLSearchParams({ turn: 6, x: 100, y: 200, w: 300, h: 400 }) })`)
	p.MustReload()
	atHand(t, p)
	assert.Equal(t, "200 2000 400 300", p.MustEval(`() => `+framed).Str())
}

// What is typed and cannot be is told, and the frame stays; nothing is swallowed in silence.
func TestAFrameThatCannotBeIsTold(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/bench/9", 1280, 800, 1)
	atHand(t, p)
	write(t, p, "#frame-w", "9000")
	waitText(t, p, "#notice", `9000 × 2400 pixels from 0, 0 leaves the picture, which has 3600 × 2400`)
	waitFor(t, p, inFields+` === '0 0 3600 2400'`)
	write(t, p, "#frame-w", "1e") // letters: a field of numbers gives nothing
	waitText(t, p, "#notice", `four whole numbers`)
	waitFor(t, p, inFields+` === '0 0 3600 2400'`)
	assert.Equal(t, "0 0 3600 2400", p.MustEval(`() => `+framed).Str())
}

// The ratio of one picture is not that of another, but where one goes on with the settings.
func TestARatioStaysWithItsPicture(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/bench/9", 1280, 800, 1)
	atHand(t, p)
	p.MustElement("#ratio").MustSelect("1:1")
	waitFor(t, p, `(() => { const [, , w, h] = `+framed+`.split(' '); return w === h; })()`)
	calm(t, p)
	p.MustNavigate(h.app + "/bench/8")
	atHand(t, p)
	assert.Empty(t, p.MustElement("#ratio").MustProperty("value").Str())
	p.MustNavigate(h.app + "/bench/9")
	atHand(t, p)
	p.MustElement("#ratio").MustSelect("1:1")
	p.MustEval(`() => document.activeElement.blur()`)
	press(t, p, input.Enter)
	waitFor(t, p, `location.search === '?ratio=1:1' && !location.pathname.endsWith('/9')`)
	atHand(t, p)
	assert.Equal(t, "1:1", p.MustElement("#ratio").MustProperty("value").Str())
}

// Each corner and edge of a frame is there for the hand, whatever is drawn beside it.
func TestCornersAreForTheHand(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/bench/9", 1280, 800, 1)
	at := atHand(t, p)
	x0, y0 := at(900, 600)
	x1, y1 := at(2700, 1800)
	drag(p, x0, y0, x1, y1)
	waitFor(t, p, framed+` !== '0 0 3600 2400'`)
	calm(t, p)
	for edge, spot := range map[string][2]float64{"nw": {0, 0}, "ne": {1, 0}, "se": {1, 1}, "sw": {0, 1}, "n": {0.5, 0}, "e": {1, 0.5}, "s": {0.5, 1}, "w": {0, 0.5}} {
		assert.Equal(t, edge, atFrame(p, spot), "what lies at this corner or edge")
	}
}

// atFrame is the edge whose grip lies at a part of the frame.
func atFrame(p *rod.Page, part [2]float64) string {
	return p.MustEval(`(x, y) => {
		const b = document.querySelector('#frame .body').getBoundingClientRect();
		return document.elementFromPoint(b.left + x * b.width, b.top + y * b.height).dataset.edge ?? '';
	}`, part[0], part[1]).Str()
}
