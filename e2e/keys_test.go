package e2e

import (
	"slices"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Every key that the list of a screen tells of does something there: a script has taken
// it, or a button bears it. What only works in a state that the screen is not in is named
// here. A script that takes a key which is not in the list throws, which fails any test.
func TestEveryListedKeyDoesSomething(t *testing.T) {
	h := start(t, "demo")
	show := leafing(t, browser(t), 1280, 800)
	elsewhere := []string{"Tab", "Alt", "Ctrl+Enter"} // the browser's own, or a field's
	for at, later := range map[string][]string{
		"/arrivals": nil, "/shelves": {"n"}, "/rules": nil, "/ruler": {"c", "k", "x", "+", "=", "-"}, "/pages/1": {"t", "h", "Escape"}, "/pages/1/widths": nil,
		"/bench/8": {"u", "r"}, "/pages": nil, "/covers": nil, "/albums": nil, "/files": nil, "/albums/1": {"d", "Escape"}, "/banners": nil, "/banners/4": nil, "/live": nil,
	} {
		p := show(h.app + at)
		calm(t, p)
		for _, key := range p.MustEval(`() => [...document.querySelectorAll('#keys [data-press]')].filter((k) => !k.dataset.taken && !document.querySelector('[data-key="' + CSS.escape(k.dataset.press) + '"]')).map((k) => k.dataset.press)`).Arr() {
			assert.True(t, slices.Contains(elsewhere, key.Str()) || slices.Contains(later, key.Str()), "%s: nothing takes %q", at, key.Str())
		}
		for _, key := range p.MustEval(`() => [...document.querySelectorAll('[data-key]')].map((b) => b.dataset.key).filter((k) => !document.querySelector('#keys [data-press="' + CSS.escape(k) + '"]'))`).Arr() {
			t.Errorf("%s: the list does not tell of %q, which a button bears", at, key.Str())
		}
		p.MustEval(`() => document.dispatchEvent(new KeyboardEvent('keydown', { key: '?', bubbles: true }))`)
		assert.True(t, p.MustEval(`() => document.getElementById('keys').open`).Bool(), at)
	}
}

// Single letters and signs can be turned off, and on again, without any of them; other keys go on
// (WCAG 2.1, 2.1.4 Character Key Shortcuts).
func TestSingleLettersCanBeTurnedOff(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/bench/9", 1280, 800, 1)
	atHand(t, p)
	hit(t, p, ".who summary")
	hit(t, p, "[data-keys]")
	waitFor(t, p, `document.getElementById('keys').open`)
	p.MustElement("#letter-keys").MustClick()
	p.MustElement("#keys .button").MustClick()
	steps := `document.querySelectorAll('#history li').length`
	before := p.MustEval(`() => ` + steps).Int()
	for _, key := range []input.Key{'t', 'w', '?', 'g', 'p'} {
		press(t, p, key)
	}
	calm(t, p)
	assert.Equal(t, before, p.MustEval(`() => `+steps).Int())
	assert.False(t, p.MustEval(`() => document.getElementById('keys').open`).Bool())
	assert.Equal(t, "/bench/9", p.MustEval(`() => location.pathname`).Str())
	focus(t, p, "#frame")
	require.NoError(t, p.KeyActions().Press(input.ControlLeft).Type(input.ArrowRight).Release(input.ControlLeft).Do())
	waitFor(t, p, `Number(document.getElementById('frame-x').value) > 0 && Number(document.getElementById('frame-w').value) + Number(document.getElementById('frame-x').value) === 3600`)

	p.MustReload()
	atHand(t, p)
	press(t, p, 't')
	hit(t, p, ".who summary")
	hit(t, p, "[data-keys]")
	assert.False(t, p.MustElement("#letter-keys").MustProperty("checked").Bool(), "it is kept")
	p.MustElement("#letter-keys").MustClick()
	p.MustElement("#keys .button").MustClick()
	press(t, p, 't')
	waitFor(t, p, `document.getElementById('stage').dataset.seen === '2400 3600'`)
}

// Backspace on a veil removes that veil. It does not put the whole picture back as it
// arrived, which is what it does elsewhere.
func TestBackspaceOnAVeilRemovesTheVeilAlone(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/bench/8", 1280, 800, 1)
	calm(t, p)
	press(t, p, 'm') // mirrored: a step that has to stay
	waitFor(t, p, `document.querySelectorAll('#history li').length > 1 && !document.querySelector('.htmx-request')`)
	drawVeil(t, p, "Box", 500, 750, 1450, 900)
	calm(t, p)
	steps := p.MustEval(`() => document.querySelectorAll('#history li').length`).Int()
	focus(t, p, ".veil")
	require.NoError(t, p.Keyboard.Type(input.Backspace))
	waitFor(t, p, `document.querySelectorAll('.veil-list li').length === 0`)
	calm(t, p)
	now := p.MustEval(`() => [document.querySelectorAll('#history li').length, document.querySelector('#history [aria-current]').textContent]`).Arr()
	assert.Equal(t, steps+1, now[0].Int(), "one step, and no other")
	assert.Contains(t, now[1].Str(), "taken off", "the step that is shown is the removal")
	press(t, p, input.Backspace)
	waitFor(t, p, `document.querySelector('#history [aria-current]')?.textContent.includes('arrived')`)
}
