package e2e

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/layout"
	"mivlet/core/rules"
)

// A real browser measures the slots of a live page and agrees with core/layout
// to one pixel; and it picks from srcset what the widest cut allows.
func TestABrowserAgreesWithTheLayout(t *testing.T) {
	h := start(t, "demo")
	require.Eventually(t, func() bool { return strings.Contains(body(t, h.app+"/live"), "all is well") }, patience, 200*time.Millisecond)
	r := rules.Default()
	b := browser(t)
	for _, viewport := range []int{320, 390, 768, 1280, 1920} {
		p := open(t, b, h.site+"/boatshed/where-things-hang", viewport, 800, 1)
		waitFor(t, p, `[...document.images].every((i) => { i.loading = 'eager'; return i.complete && i.naturalWidth })`)
		for _, slot := range []string{"column", "side"} {
			known, ok := r.Slot(slot)
			require.True(t, ok)
			img := p.MustElement(".slot-" + slot + " img")
			got := img.MustEval(`() => this.getBoundingClientRect().width`).Num()
			assert.InDelta(t, r.Place(known).Width(viewport), got, 1, "%s at %d", slot, viewport)
			// Where text stands beside it, it starts beside it, and nowhere else.
			beside := p.MustEval(`() => { const f = document.querySelector('.slot-side').getBoundingClientRect(); const t = [...document.querySelectorAll('main p')].find((p) => p.textContent.startsWith('Paddles stand')); const r = document.createRange(); r.selectNodeContents(t); const line = r.getClientRects()[0]; return line.top < f.bottom && line.bottom > f.top }`).Bool()
			assert.Equal(t, layout.Place{Section: r.Text(), Rule: layout.Rule{Fixed: 300}}.Beside(viewport), beside, "at %d", viewport)
		}
		assert.LessOrEqual(t, p.MustEval(`() => document.documentElement.scrollWidth`).Int(), viewport, "nothing sticks out at %d", viewport)
		p.MustClose()
	}
}
