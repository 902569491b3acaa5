package e2e

import (
	"net/url"
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// toBench sends a picture that has arrived to the bench, and returns where it lies.
func toBench(t *testing.T, h house, name string) string {
	t.Helper()
	row := regexp.MustCompile(`(?s)id="arrival-(\d+)".{0,600}?` + regexp.QuoteMeta(name)).FindStringSubmatch(body(t, h.app+"/arrivals"))
	require.NotNil(t, row, name)
	res, err := h.client.PostForm(h.app+"/arrivals/send", url.Values{"slot": {"column"}, "section": {"juniors"}, "picture": {row[1]}})
	require.NoError(t, err)
	res.Body.Close()
	return "/bench/" + row[1]
}

// Faces are told of in Arrivals, outlined on request, and covered, softened and allowed
// with keys alone; the next picture carries on.
func TestFacesOnTheBench(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/arrivals", 1280, 800, 1)
	waitText(t, p, ".row", "2 faces")
	p.MustNavigate(h.app + "/bench/5").MustWaitLoad()
	calm(t, p)
	assert.Empty(t, p.MustElements("#faces .face-found"), "nothing is outlined before somebody asks")
	p.KeyActions().Type('s').MustDo()
	waitFor(t, p, `document.querySelectorAll('#faces .face-found.open').length >= 2 && document.activeElement.matches('.face-list li')`)
	assert.Empty(t, p.MustElements(".veil-list li"), "finding covers nothing")
	p.KeyActions().Type('2').MustDo()
	waitFor(t, p, `document.activeElement.getAttribute('aria-label') === 'Face 2, can be seen'`)
	p.KeyActions().Type('c').MustDo()
	waitFor(t, p, `document.querySelectorAll('.face-list li')[1].className === 'covered'`)
	p.KeyActions().Type('1').MustDo()
	p.KeyActions().Type('a').MustDo()
	waitFor(t, p, `document.querySelectorAll('.face-list li')[0].className === 'left'`)
	calm(t, p)
	for range 4 { // what is left, with the mouse
		open := p.MustElements(".face-list li.open")
		if len(open) == 0 {
			break
		}
		hit(t, p, ".face-list li.open [data-does=s]")
		waitFor(t, p, `document.querySelectorAll('.face-list li.open').length < `+jsonOf(float64(len(open))))
	}
	waitText(t, p, "#faces-found", "all dealt with")
	p.MustNavigate(h.app + "/bench/9").MustWaitLoad()
	waitFor(t, p, `document.querySelectorAll('#faces-found p').length > 0`)
	p.MustNavigate(h.app + "/bench/5").MustWaitLoad()
	hit(t, p, "#faces-found button", "Look closer")
	waitFor(t, p, `document.querySelectorAll('.face-list li').length >= 2 && ![...document.querySelectorAll('#faces-found button')].some((b) => /closer/.test(b.textContent))`)
}

// Who said no has a face, and saying which covers it.
func TestWhoseFaceItIs(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/bench/5", 1280, 800, 1)
	calm(t, p)
	hit(t, p, "#seen-new summary")
	write(t, p, "#seen-new [name=whom]", "the one in green")
	p.MustElement("#seen-new [name=state]").MustSelect("refused")
	hit(t, p, "#seen-new button", "Note it")
	waitText(t, p, "#step-hide", "which face is theirs")
	hit(t, p, ".seen-list summary")
	hit(t, p, ".whose button", "Face 1")
	waitFor(t, p, `document.querySelectorAll('.veil-list li').length === 1 && !/refused/.test(document.getElementById('step-hide').innerText)`)
	waitFor(t, p, `document.querySelector('.covers input:checked') !== null`)
}

// A column of a screenshot is hidden in one act, all as wide as it is, and the sheet tells
// what is left.
func TestAColumnIsHiddenAsOne(t *testing.T) {
	h := startReading(t, "demo")
	at := toBench(t, h, "Screenshot 2026-11-02.png")
	p := open(t, browser(t), h.app+at, 1280, 800, 1)
	calm(t, p)
	hit(t, p, "[id^=telling-] summary")
	waitText(t, p, ".telling", "may be private")
	hit(t, p, "#find-lines")
	waitText(t, p, "#proposals", "lines that can be read")
	before := len(p.MustElements(".line-list:not(.face-list) li"))
	hit(t, p, "#proposals button", "Hide the column of")
	waitFor(t, p, `document.querySelectorAll('.veil-list li').length >= 5`)
	widths := p.MustEval(`() => new Set(JSON.parse(document.getElementById('step-hide').dataset.veils).map((v) => v.width)).size`).Int()
	assert.Equal(t, 1, widths, "all of one length")
	waitFor(t, p, `document.querySelectorAll('.line-list:not(.face-list) li').length < `+jsonOf(float64(before)))
}

// What went live as averages is told of before everything else. (The demo has nothing of
// the kind: the notice is not there.)
func TestNothingOfTheDemoIsAveraged(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/pages", 1280, 800, 1)
	calm(t, p)
	assert.Empty(t, p.MustElements(".group.first"))
}
