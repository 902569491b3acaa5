package e2e

import (
	"testing"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// standing is how the picture stands on the stage: the size it is seen in, how the plane is
// turned, and the angle it is straightened by.
const standing = `(() => { const d = document.getElementById('stage').dataset; return d.seen + ' ' + document.getElementById('plane').getAttribute('transform') + ' ' + (d.slant || 0) + ' ' + document.getElementById('slant').getAttribute('transform'); })()`

// Turning, mirroring, straightening and what takes them back redraw the picture where it
// stands: the screen is not loaded again, and the hand stays where it was.
func TestTurningRedrawsInPlace(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/bench/9", 1280, 800, 1)
	atHand(t, p)
	p.MustEval(`() => { window.sameScreen = true }`)
	has := func(js string) { t.Helper(); waitFor(t, p, js); calm(t, p) }
	has(standing + ` === '3600 2400 matrix(1 0 0 1 0 0) 0 rotate(0 1800 1200)'`)

	p.MustElement("#turn-right").MustFocus()
	typed(t, p, input.Enter)
	has(standing + `.startsWith('2400 3600 matrix(0 1 -1 0 2400 0)')`)
	waitFor(t, p, `document.activeElement.id === 'turn-right'`)
	// The whole of it is in view, upright, and the lines of measure stand at its sides.
	has(`(() => { const s = document.getElementById('stage').getBoundingClientRect(), i = document.getElementById('stage-image').getBoundingClientRect(); return i.height > i.width && i.left >= s.left - 1 && i.right <= s.right + 1 && i.top >= s.top - 1 && i.bottom <= s.bottom + 1; })()`)
	assert.Equal(t, "2400", p.MustEval(`() => document.querySelector("#stage-dims text").textContent`).Str())
	press(t, p, 'm')
	has(standing + `.startsWith('2400 3600 matrix(0 1 1 0 0 0)')`)
	press(t, p, 'u')
	has(standing + `.startsWith('2400 3600 matrix(0 1 -1 0 2400 0)')`)
	press(t, p, 'u')
	has(standing + `.startsWith('3600 2400 matrix(1 0 0 1 0 0)')`)

	// One step of the slider is one step of the history, and the slider stays in the hand.
	p.MustElement("#straighten").MustFocus()
	for _, angle := range []string{"0.1", "0.2", "0.3"} {
		typed(t, p, input.ArrowRight)
		has(standing + ` === '3600 2400 matrix(1 0 0 1 0 0) ` + angle + ` rotate(` + angle + ` 1800 1200)'`)
		waitFor(t, p, `document.activeElement.id === 'straighten'`)
	}
	// A frame that is drawn now is drawn on the picture as it stands.
	press(t, p, input.Backspace) // as it arrived
	has(standing + ` === '3600 2400 matrix(1 0 0 1 0 0) 0 rotate(0 1800 1200)'`)
	press(t, p, 'T')
	has(standing + `.startsWith('2400 3600 matrix(0 -1 1 0 0 3600)')`)
	at := atHand(t, p)
	x0, y0 := at(900, 600)
	x1, y1 := at(2700, 1800)
	drag(p, x0, y0, x1, y1)
	has(`(() => { const [x, y, w, h] = document.getElementById('figures').dataset.frame.split(' ').map(Number); return w > h && Math.abs(x + w / 2 - 1800) < 40 && Math.abs(y + h / 2 - 1200) < 40; })()`)
	assert.True(t, p.MustEval(`() => window.sameScreen === true`).Bool(), "the screen was loaded again")

	// Somebody else sees it turn, too, without losing their screen.
	h.as(t, 3).hosts(t)
	other := open(t, browser(t), h.app+"/bench/9", 1280, 800, 1)
	atHand(t, other)
	other.MustEval(`() => { window.sameScreen = true }`)
	waitFor(t, other, standing+`.startsWith('2400 3600')`)
	press(t, p, 'u')
	press(t, p, 'u')
	waitFor(t, other, standing+`.startsWith('3600 2400')`)
	assert.True(t, other.MustEval(`() => window.sameScreen === true`).Bool())
}

// typed presses a key on what has the hand.
func typed(t *testing.T, p *rod.Page, key input.Key) {
	t.Helper()
	require.NoError(t, p.Keyboard.Type(key))
}
