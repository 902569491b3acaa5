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

// Every screen fits a phone of 390 pixels.
func TestEveryScreenFitsAPhone(t *testing.T) {
	h := start(t, "demo")
	b := browser(t)
	for _, at := range []string{"/arrivals", "/bench/9", "/pages", "/covers", "/pages/2/cover", "/pages/2/link", "/pages/17/list?block=fh4", "/pages/17/background?block=fh1", "/pages/4/shared", "/albums", "/files", "/albums/1", "/albums/1?describe=3", "/pages/6/album?block=w8", "/rules?part=categories", "/rules?part=spots", "/banners", "/banners/2", "/banners/4?choose=yes", "/pages/2", "/pages/1/insert?after=a1&picture=5", "/pages/7/insert?after=v1", "/pages/6", "/pages/7", "/pages/7/placement?block=v6", "/pages/7/band?block=v2", "/live", "/rules", "/rules?part=slots", "/rules?part=words", "/ruler", "/account", "/welcome"} {
		p := open(t, b, h.app+at, 390, 800, 1)
		assert.LessOrEqual(t, p.MustEval(`() => document.documentElement.scrollWidth`).Int(), 390, at)
		small := p.MustEval(`() => [...document.querySelectorAll('button, a.button, .quiet, input:not([type=hidden], .seen-by-readers), select, textarea, summary')].filter((e) => e.offsetParent && !e.closest('label')).map((e) => [e.outerHTML.slice(0, 80), e.getBoundingClientRect()]).filter(([, r]) => r.width && (r.width < 24 || r.height < 24)).map(([h]) => h).join(' | ')`).Str()
		assert.Empty(t, small, "targets below 24 CSS px (WCAG 2.2, SC 2.5.8) on %s", at)
		p.MustClose()
	}
}
