package e2e

import (
	"os"
	"strings"
	"sync"
	"testing"

	"github.com/go-rod/rod"
	"github.com/stretchr/testify/require"
)

// accessible has axe-core (MPL-2.0, in checkers/axe, for tests alone) look at a
// screen by all of its rules, those of good practice and those on trial among them: it must
// find nothing of any grade. Left out is the contrast of 7 to 1, which is level AAA, and one rule
// on trial, which knows no group that scrolls and so contradicts another of its rules.
func accessible(t *testing.T, p *rod.Page, name string) { accessibleIn(t, p, name, "", allRules) }

// allRules and bySize choose among the rules of axe-core: all but those two, or those that look at
// where things lie.
const (
	allRules = `(id) => !['color-contrast-enhanced', 'focus-order-semantics'].includes(id)`
	bySize   = `(id) => ['target-size', 'scrollable-region-focusable', 'css-orientation-lock'].includes(id)`
)

// checker is axe-core.
var checker = sync.OnceValues(func() ([]byte, error) { return os.ReadFile("checkers/axe/axe.min.js") })

// withChecker brings the checker into a document, unless it is there.
func withChecker(t *testing.T, p *rod.Page) {
	t.Helper()
	there, err := p.Eval(`() => Boolean(window.axe)`)
	require.NoError(t, err)
	if there.Value.Bool() {
		return
	}
	source, err := checker()
	require.NoError(t, err)
	_, err = p.Eval(`() => { ` + string(source) + ` }`)
	require.NoError(t, err)
}

// accessibleIn does so with a part of a screen, by some of the rules; the empty part is all of it.
func accessibleIn(t *testing.T, p *rod.Page, name, part, rules string) {
	t.Helper()
	calm(t, p)
	withChecker(t, p)
	framed, err := p.Elements(".spot iframe")
	require.NoError(t, err)
	for _, f := range framed { // what is in frames is looked at with the page
		in, err := f.Frame()
		require.NoError(t, err)
		withChecker(t, in)
	}
	least := 10 // rules that have something to look at
	switch {
	case rules == bySize:
		least = 1
	case part != "":
		least = 3
	}
	found, err := p.Eval(`async (part, least) => {
		const rules = Object.fromEntries(axe.getRules().map((r) => [r.ruleId, { enabled: (`+rules+`)(r.ruleId) }]));
		const { violations, passes } = await axe.run((part && document.querySelector(part)) || document, { resultTypes: ['violations'], rules, preload: false });
		if (passes.length < least) throw new Error('axe looked at nothing');
		return violations.map((v) => v.impact + ' ' + v.id + ': ' + v.help + '\n' + v.nodes.map((n) => '    ' + n.target.join(' ') + '  ' + n.failureSummary.replace(/\s+/g, ' ')).join('\n')).join('\n');
	}`, part, least)
	require.NoError(t, err)
	if text := strings.TrimSpace(found.Value.Str()); text != "" {
		t.Errorf("%s:\n%s", name, text)
	}
}

// What opens under the hand is accessible, too.
func TestWhatOpensIsAccessible(t *testing.T) {
	h := start(t, "demo")
	b := browser(t)
	p := open(t, b, h.app+"/pages/7", 1280, 800, 1)
	hit(t, p, ".words-text table")
	waitFor(t, p, writing)
	hit(t, p, ".words-bar button", "^Link$")
	waitFor(t, p, `document.querySelectorAll('.words-link .found button').length > 0`)
	accessible(t, p, "writing in a table, with the panel of links")
	p.MustClose()
	p = open(t, b, h.app+"/pages/1", 1280, 800, 1)
	calm(t, p)
	drop(t, p, `.gap[data-gap="1"]`, freshPhoto(t, "IMG_2088.JPG", "IMG_9301"))
	waitFor(t, p, `document.activeElement?.id === 'finish-alt'`)
	accessible(t, p, "finishing a photo")
	p.MustClose()
	p = open(t, b, h.app+"/bench/8", 1280, 800, 1)
	accessible(t, p, "the bench")
	drawVeil(t, p, "Box", 500, 750, 1450, 900)
	calm(t, p)
	hit(t, p, "#find-lines")
	waitFor(t, p, `document.querySelectorAll('#proposals li').length > 0`)
	for _, open := range []string{"#history", ".exact", "#words-more"} {
		hit(t, p, open+" summary")
	}
	accessible(t, p, "the bench with a veil and proposals")
	hit(t, p, "[data-compare]")
	waitFor(t, p, `document.getElementById('pair')?.dataset.ready > 0`)
	accessible(t, p, "comparing")
	p.MustClose()
	p = open(t, b, h.app+"/bench/8", 390, 844, 2)
	accessible(t, p, "the bench on a phone")
	p.MustElement("body").MustEval(`() => document.getElementById('keys').showModal()`)
	accessible(t, p, "the keys")
	p.MustClose()
	door := b.MustPage(h.app + "/sign-in").MustWaitLoad()
	accessible(t, door, "the door")
	live := open(t, b, h.site, 1280, 800, 1)
	accessible(t, live, "the practice site")
}
