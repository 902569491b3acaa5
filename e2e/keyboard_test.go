package e2e

import (
	"fmt"
	"testing"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// tabTo presses Tab until an element has the focus.
func tabTo(t *testing.T, p *rod.Page, selector string) {
	t.Helper()
	calm(t, p)
	for range 150 {
		if p.MustEval(`(s) => Boolean(document.activeElement?.matches(s))`, selector).Bool() {
			return
		}
		require.NoError(t, p.Keyboard.Type(input.Tab))
	}
	t.Fatalf("Tab does not lead to %s", selector)
}

// counted counts the keys that are pressed on a page and on those that it leads to.
func counted(t *testing.T, p *rod.Page) (presses func() int) {
	t.Helper()
	count := `addEventListener('keydown', (e) => { sessionStorage.setItem('presses', Number(sessionStorage.getItem('presses')) + 1)}, true)`
	_, err := p.EvalOnNewDocument(count)
	require.NoError(t, err)
	p.MustEval(`() => { ` + count + ` }`)
	return func() int { return p.MustEval(`() => Number(sessionStorage.getItem('presses'))`).Int() }
}

// enter follows what has the focus to another screen.
func enter(t *testing.T, p *rod.Page, key input.Key) {
	t.Helper()
	wait := p.MustWaitNavigation()
	require.NoError(t, p.Keyboard.Type(key))
	wait()
	p.MustWaitLoad()
}

// The whole job, from a camera's file to a live page that was looked at, without a pointer (WCAG
// 2.2, SC 2.1.1): fitted, its number hidden, named, described, placed, seen at three widths,
// published and checked. It takes at most 60 key presses and two texts.
func TestTheWholeJobByKeys(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/arrivals", 1280, 800, 1)
	presses := counted(t, p)
	press(t, p, 'w')
	require.NoError(t, p.Keyboard.Type(input.Space))
	wait := p.MustWaitNavigation()
	require.NoError(t, p.Keyboard.Type('b'))
	wait()
	waitText(t, p, ".file", "DSC_0417.JPG")
	waitFor(t, p, `document.querySelector('#frame .body')?.getAttribute('width') > 0`)

	// Fit: the frame, its upper and its lower edge.
	press(t, p, 'f')
	require.NoError(t, p.KeyActions().Press(input.ShiftLeft, input.ControlLeft).Type(input.ArrowDown, input.ArrowDown, input.ArrowDown).Release(input.ShiftLeft, input.ControlLeft).Do())
	require.NoError(t, p.KeyActions().Press(input.ShiftLeft, input.AltLeft).Type(input.ArrowUp, input.ArrowUp).Release(input.ShiftLeft, input.AltLeft).Do())
	waitFor(t, p, `document.getElementById("tools").dataset.step === "1"`)
	calm(t, p)

	// Hide: an outline of three corners.
	press(t, p, 'y')
	require.NoError(t, p.Keyboard.Type(input.Enter))
	require.NoError(t, p.KeyActions().Press(input.ShiftLeft).Type(input.ArrowRight, input.ArrowRight).Release(input.ShiftLeft).Type(input.Enter).Do())
	require.NoError(t, p.KeyActions().Press(input.ShiftLeft).Type(input.ArrowDown, input.ArrowDown).Release(input.ShiftLeft).Type(input.Enter, input.Enter).Do())
	waitFor(t, p, `JSON.parse(document.getElementById('step-hide').dataset.veils).length === 1`)
	calm(t, p)
	assert.Equal(t, "polygon", p.MustEval(`() => JSON.parse(document.getElementById('step-hide').dataset.veils)[0].shape`).Str())
	waitFor(t, p, `document.activeElement.matches(".veil")`) // the arrows move it on

	press(t, p, 'd')
	require.NoError(t, p.InsertText(alt))
	require.NoError(t, p.Keyboard.Type(input.Tab))
	press(t, p, 'n')
	require.NoError(t, p.InsertText("juniors-off-the-jetty"))
	require.NoError(t, p.Keyboard.Type(input.Tab))
	waitText(t, p, "#step-place a", "Autumn on the water")
	tabTo(t, p, "#step-place a")
	enter(t, p, input.Enter)

	waitText(t, p, ".picked", "juniors-off-the-jetty")
	press(t, p, 'i')
	require.NoError(t, p.Keyboard.Type(input.Enter))
	waitText(t, p, ".panel h2", "Place a picture")
	calm(t, p)
	require.NoError(t, p.Keyboard.Type(input.Enter)) // the picture that was brought along is chosen
	waitFor(t, p, `document.activeElement?.matches('figure.placed .hold')`)
	press(t, p, '3')
	waitText(t, p, ".widths h1", "at three widths")
	press(t, p, input.Escape)
	waitText(t, p, ".panel h2", "Sign-off")
	calm(t, p)
	press(t, p, 'p')
	waitText(t, p, ".report", "all is well")
	assert.Contains(t, body(t, h.site+"/juniors/autumn-on-the-water"), alt)
	taken := presses()
	t.Log(taken, "key presses")
	assert.LessOrEqual(t, taken, 60)
}

// What is done while the line is lost reaches Mivlet when it is back.
func TestALostConnectionLosesNothing(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/bench/9", 1280, 800, 1)
	atHand(t, p)
	require.NoError(t, proto.NetworkEnable{}.Call(p))
	network := func(offline bool) {
		require.NoError(t, proto.NetworkEmulateNetworkConditions{Offline: offline, DownloadThroughput: -1, UploadThroughput: -1}.Call(p))
	}
	network(true)
	write(t, p, "#frame-w", "2400")
	waitText(t, p, "#notice", "Mivlet does not answer")
	hit(t, p, "[name=slot][value=side]") // its form is redrawn by the answer to what was done before it
	waitFor(t, p, `!document.querySelector('.htmx-request')`)
	network(false)
	waitText(t, p, "#notice", "has all that you did")
	waitFor(t, p, `document.getElementById('figures').dataset.frame.endsWith(' 2400 2400')`)
	p.MustReload().MustWaitLoad()
	assert.Equal(t, [4]float64{0, 0, 2400, 2400}, frameOf(p))
	assert.True(t, p.MustEval(`() => document.querySelector('[name=slot][value=side]').checked`).Bool())
}

// A step is done to the chosen pictures of the batch, which the strip tells.
func TestAStepIsDoneToTheChosen(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/bench/9", 1280, 800, 1)
	atHand(t, p)
	hit(t, p, "[name=slot][value=side]")
	waitText(t, p, "#fits", "Side picture")
	calm(t, p)
	for _, id := range []int{7, 8} {
		hit(t, p, fmt.Sprintf("#pick-%d", id))
	}
	hit(t, p, "#history summary")
	hit(t, p, "#history li:last-child button", "copy to the chosen pictures")
	calm(t, p)
	for _, id := range []int{7, 8} {
		assert.Contains(t, body(t, fmt.Sprintf("%s/bench/%d", h.app, id)), `value="side" checked`)
	}
}

// An answer to something earlier, which knows nothing of a veil that has just been drawn, takes the
// veil away for a moment, however long; the next answer gives it the hand again, unless the hand has
// gone elsewhere by then.
func TestAVeilIsAwaitedByTheHand(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/bench/8", 1280, 800, 1)
	drawVeil(t, p, "Box", 100, 100, 400, 300)
	calm(t, p)
	veils := p.MustElement("#step-hide").MustEval(`() => this.dataset.veils`).Str()
	// answer is what comes from the server, with some veils.
	answer := func(veils string) {
		t.Helper()
		p.MustEval(`async (veils) => {
			const part = document.getElementById('step-hide');
			const tell = (kind) => part.dispatchEvent(new CustomEvent(kind, { bubbles: true, detail: { target: part, elt: part } }));
			tell('htmx:oobBeforeSwap');
			part.dataset.veils = veils;
			tell('htmx:oobAfterSwap');
			await new Promise((r) => setTimeout(() => setTimeout(r, 50)));
		}`, veils)
	}
	onVeil := `document.activeElement.matches('.veil')`
	focus(t, p, "#veils .veil")
	answer("[]")
	assert.Zero(t, p.MustEval(`() => document.querySelectorAll('#veils .veil').length`).Int(), "it has gone for a moment")
	answer(veils)
	assert.True(t, p.MustEval(`() => `+onVeil).Bool(), "it has the hand again")
	answer("[]")
	focus(t, p, "#alt")
	answer(veils)
	assert.Equal(t, "alt", p.MustEval(`() => document.activeElement.id`).Str(), "who went on is left alone")
}
