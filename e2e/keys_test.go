package e2e

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
)

// Every key that the list of a screen tells of does something there: a script has taken
// it, or a button bears it. What only works in a state that the screen is not in is named
// here. A script that takes a key which is not in the list throws, which fails any test.
func TestEveryListedKeyDoesSomething(t *testing.T) {
	h := start(t, "demo")
	b := browser(t)
	elsewhere := []string{"Tab", "Alt", "Ctrl+Enter"} // the browser's own, or a field's
	for at, later := range map[string][]string{
		"/arrivals": nil, "/shelves": {"n"}, "/rules": nil, "/ruler": {"c", "k", "x", "+", "=", "-"}, "/pages/1": {"t", "h", "Escape"}, "/pages/1/widths": nil,
		"/bench/8": {"u", "r"}, "/pages": nil, "/live": nil,
	} {
		p := open(t, b, h.app+at, 1280, 800, 1)
		calm(t, p)
		for _, key := range p.MustEval(`() => [...document.querySelectorAll('#keys [data-press]')].filter((k) => !k.dataset.taken && !document.querySelector('[data-key="' + CSS.escape(k.dataset.press) + '"]')).map((k) => k.dataset.press)`).Arr() {
			assert.True(t, slices.Contains(elsewhere, key.Str()) || slices.Contains(later, key.Str()), "%s: nothing takes %q", at, key.Str())
		}
		p.MustEval(`() => document.dispatchEvent(new KeyboardEvent('keydown', { key: '?', bubbles: true }))`)
		assert.True(t, p.MustEval(`() => document.getElementById('keys').open`).Bool(), at)
		p.MustClose()
	}
}
