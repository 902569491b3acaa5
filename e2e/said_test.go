package e2e

import (
	"testing"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
)

// listening notes all that one region says, and that it stays the same one (ARIA 1.2, status).
func listening(t *testing.T, p *rod.Page) {
	t.Helper()
	waitFor(t, p, `document.readyState === 'complete' && !!document.getElementById('said')`)
	p.MustEval(`() => {
		window.said = document.getElementById('said');
		window.heard = [];
		new MutationObserver(() => window.heard.push(window.said.textContent)).observe(window.said, { childList: true, characterData: true, subtree: true });
	}`)
}

// hears waits until the region says something since it was last heard.
func hears(t *testing.T, p *rod.Page, pattern string) {
	t.Helper()
	waitFor(t, p, `window.heard.some((text) => new RegExp(`+"`"+pattern+"`"+`).test(text))`)
	assert.True(t, p.MustEval(`() => document.getElementById('said') === window.said`).Bool(), "the region was replaced")
	p.MustEval(`() => { window.heard = [] }`)
}

// What happened is said: the step that an act has made, what was refused, how publishing went,
// and the size of a frame while keys change it.
func TestWhatHappenedIsSaid(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/bench/9", 1280, 800, 1)
	atHand(t, p)
	listening(t, p)
	press(t, p, 't')
	hears(t, p, `^Turned`)
	calm(t, p)
	write(t, p, "#frame-w", "9000")
	hears(t, p, `leaves the picture`)
	calm(t, p)
	focus(t, p, "#frame")
	for range 3 {
		typed(t, p, input.ArrowRight)
	}
	hears(t, p, `^\\d+ × 3600, from`)

	p.MustNavigate(h.app + "/pages/2")
	calm(t, p)
	listening(t, p)
	hit(t, p, `.gap[data-gap="1"]`)
	hit(t, p, ".to-add button", "Divider|Rule|Line")
	hears(t, p, `^Added|^Inserted`)
	calm(t, p)
	press(t, p, 'u')
	hears(t, p, `.`)
	calm(t, p)
	press(t, p, 'r')
	hears(t, p, `^Added|^Inserted`)
	calm(t, p)
	press(t, p, 'p')
	hears(t, p, `all is well`)
}
