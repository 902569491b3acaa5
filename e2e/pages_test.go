package e2e

import (
	"fmt"
	"net/http"
	"strings"
	"testing"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// writing holds while the hand is in the words of a block, or in the field of a heading.
const writing = `document.activeElement?.matches('.ProseMirror, .write [name=text]:not([data-words])')`

// writeBlock opens the words of a block, the nth on the page, and types others.
func writeBlock(t *testing.T, p *rod.Page, nth int, text string) {
	t.Helper()
	calm(t, p)
	waitFor(t, p, fmt.Sprintf(`(() => { const el = document.querySelectorAll('.words [data-write]')[%d]; el?.focus(); return Boolean(el) && document.activeElement === el; })()`, nth))
	require.NoError(t, p.Keyboard.Type(input.Enter))
	waitFor(t, p, writing)
	calm(t, p)
	require.NoError(t, p.KeyActions().Press(input.ControlLeft).Type('a').Release(input.ControlLeft).Do())
	require.NoError(t, p.InsertText(text))
}

// keepBlock leaves the field, which keeps what was typed.
func keepBlock(t *testing.T, p *rod.Page) {
	t.Helper()
	require.NoError(t, p.KeyActions().Press(input.ControlLeft).Type(input.Enter).Release(input.ControlLeft).Do())
}

// Two people write on one page: what the one writes appears at the other's;
// different blocks join; over the same block the second chooses, with both in sight.
func TestTwoBrowsersWriteOnOnePage(t *testing.T) {
	h := start(t, "demo")
	ines := open(t, browser(t), h.app+"/pages/1", 1280, 800, 1)
	h.as(t, 3).hosts(t) // Marta, who publishes for the juniors
	marta := open(t, browser(t), h.app+"/pages/1", 1280, 800, 1)
	waitText(t, marta, "#here", "Ines Varrow is here, too")

	writeBlock(t, marta, 1, "Marta has written this.")
	waitFor(t, ines, `document.querySelectorAll('.sheet .words')[1].dataset.heldBy === 'Marta Quillfeather'`) // where the other is at work
	writeBlock(t, ines, 0, "Ines has written that.")
	keepBlock(t, ines)
	waitText(t, ines, ".words", "Ines has written that")
	keepBlock(t, marta)
	waitText(t, marta, ".words", "Marta has written this")
	waitText(t, marta, ".words", "Ines has written that")
	waitText(t, ines, ".words", "Marta has written this")

	writeBlock(t, marta, 0, "Marta would rather say so.")
	writeBlock(t, ines, 0, "Ines says it better.")
	keepBlock(t, ines)
	waitFor(t, ines, `!document.querySelector('.write')`)
	waitText(t, ines, ".words", "Ines says it better")
	keepBlock(t, marta)
	clash := waitText(t, marta, ".clash", "Ines says it better")
	assert.Contains(t, clash.MustText(), "Someone else has changed this text in the meantime")
	field := marta.MustElement(".write [name=text]")
	assert.Equal(t, "Marta would rather say so.", field.MustProperty("value").Str(), "what was typed is still there")
	hit(t, marta, ".write button", "Keep mine")
	waitText(t, ines, ".words", "Marta would rather say so")
}

// What is being written outlasts a page that is closed in the middle of it.
func TestWordsOutlastAClosedPage(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/pages/1", 1280, 800, 1)
	writeBlock(t, p, 0, "Half a sentence that")
	p.MustEval(`() => { document.querySelector('.write [name=text]').dispatchEvent(new Event('input', { bubbles: true })); for (const form of document.querySelectorAll('.write')) form.remove(); }`)
	p.MustReload().MustWaitLoad()
	focus(t, p, ".words [data-write]")
	require.NoError(t, p.Keyboard.Type(input.Enter))
	waitFor(t, p, `document.querySelector('.write [name=text]')?.value === 'Half a sentence that'`)
}

// A page from its first word to visitors, by another address, put back, and off.
func TestTheLifeOfAPage(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/pages", 1280, 800, 1)
	hit(t, p, "#new-page summary")
	write(t, p, "#new-page [name=title]", "Ice on the lake")
	p.MustElement("#new-page [name=section]").MustSelect("Juniors")
	hit(t, p, "#new-page [value=empty]")
	hit(t, p, "#new-page .primary")
	waitText(t, p, ".file", "Ice on the lake")
	calm(t, p)
	for _, words := range [][3]string{{"^Heading$", "h2", "Thin still"}, {"^Text$", "p", "Nobody goes out."}} {
		hit(t, p, `.gap[data-gap="0"]`)
		hit(t, p, ".panel button", words[0])
		waitFor(t, p, writing)
		require.NoError(t, p.InsertText(words[2]))
		keepBlock(t, p)
		waitText(t, p, ".words "+words[1], words[2])
		calm(t, p)
	}
	p.MustElement(".words .block-acts button[hx-vals*='\"by\":\"1\"']").MustEval(`() => this.click()`)
	waitFor(t, p, `document.querySelectorAll('.words')[0].innerText.startsWith('Thin still')`)
	calm(t, p)
	hit(t, p, ".panel .primary", "Publish")
	waitText(t, p, ".report", "all is well")
	assert.Contains(t, body(t, h.site+"/juniors/ice-on-the-lake"), "<h2>Thin still</h2>")

	calm(t, p)
	hit(t, p, "#page-about summary")
	write(t, p, "#page-about [name=slug]", "ice")
	hit(t, p, "#page-about button", "^Rename$")
	waitFor(t, p, `document.querySelector('#page-about [name=slug]').defaultValue === 'ice'`)
	res, err := h.client.Get(h.site + "/juniors/ice-on-the-lake")
	require.NoError(t, err)
	res.Body.Close()
	assert.Equal(t, http.StatusMovedPermanently, res.StatusCode)
	assert.Equal(t, "/juniors/ice", res.Header.Get("Location"))

	writeBlock(t, p, 0, "Thick enough")
	keepBlock(t, p)
	waitText(t, p, "#page-changes", "What visitors will see differently: 1")
	hit(t, p, ".panel .primary", "Publish again")
	waitFor(t, p, `document.querySelectorAll('#page-lives li').length === 2`)
	assert.Contains(t, body(t, h.site+"/juniors/ice"), "Thick enough")
	calm(t, p)
	hit(t, p, "#page-lives summary")
	hit(t, p, "#page-lives li:nth-child(2) button")
	waitFor(t, p, `document.querySelectorAll('#page-lives li').length === 3`)
	assert.Contains(t, body(t, h.site+"/juniors/ice"), "Thin still")

	calm(t, p)
	if !p.MustElement("#page-about").MustProperty("open").Bool() {
		hit(t, p, "#page-about summary")
	}
	hit(t, p, "#page-about button", "Take off the site")
	waitText(t, p, ".file", "not live")
	res, err = h.client.Get(h.site + "/juniors/ice")
	require.NoError(t, err)
	res.Body.Close()
	assert.Equal(t, http.StatusGone, res.StatusCode)
	assert.True(t, strings.Contains(body(t, h.app+"/pages"), "Ice on the lake"), "the draft is kept")
}

// Three widths beside each other, each in a frame of real width: pictures are as
// wide there as core/layout says.
func TestThreeWidthsOfAPage(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/pages/2/widths", 1280, 800, 1)
	for device, inner := range map[string][2]float64{"desktop": {1280, 640}, "tablet": {768, 640}, "phone": {390, 360}} {
		waitFor(t, p, `document.querySelector('.at-`+device+` iframe').contentDocument?.querySelector('figure img')?.complete === true`)
		seen := p.MustEval(`(device) => { const d = document.querySelector('.at-' + device + ' iframe').contentDocument; return [d.defaultView.innerWidth, d.querySelector('figure img').getBoundingClientRect().width] }`, device)
		assert.Equal(t, inner[0], seen.Get("0").Num(), device)
		assert.InDelta(t, inner[1], seen.Get("1").Num(), 1, device)
	}
	row := p.MustElement(".weights tbody tr").MustText()
	assert.Equal(t, 3, strings.Count(row, "pixels for"), "%s", row)
	assert.Contains(t, p.MustElement(".weights tfoot").MustText(), "on a slow line")
	accessible(t, p, "three widths")
}
