package e2e

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// What is wrong with the live site stands at its station, with a number in the line. It leads to the page, and stays
// there until it is mended or somebody decides that it stays. Keys begin a round.
func TestFindingsAreMendedOrLeft(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/findings", 1280, 800, 1)
	calm(t, p)
	waitText(t, p, "#line", `0\s*Findings`)
	waitText(t, p, "main", "Nothing waits for you here")
	assert.Len(t, p.MustElements(".health li"), 3)
	waitText(t, p, ".health", `612 kB on [\s\S]*41 on [\s\S]*19 on `)
	accessible(t, p, "findings, with nothing wrong")

	// A page is taken off the site that another one leads to.
	p.MustNavigate(h.app + "/pages/2").MustWaitLoad()
	calm(t, p)
	hit(t, p, "#page-about summary")
	hit(t, p, `[hx-post$="/pages/2/offline"]`)
	waitFor(t, p, `!document.querySelector('[hx-post$="/pages/2/offline"]')`)
	p.MustNavigate(h.app + "/findings").MustWaitLoad()
	calm(t, p)
	press(t, p, 'l')
	waitText(t, p, ".kind summary", "lead to nothing")
	waitText(t, p, "#line", `1\s*Findings`)
	accessible(t, p, "findings, with one of them")
	thing := p.MustElement(".thing").MustText()
	assert.Contains(t, thing, "The link /boatshed/where-things-hang")

	// It stays, by decision, and comes back when that is taken back.
	hit(t, p, ".thing button", "Leave it as it is")
	waitText(t, p, "#line", `0\s*Findings`)
	waitText(t, p, "main", "Nothing waits for you here")
	hit(t, p, ".stayed summary")
	waitText(t, p, ".stayed", "where-things-hang[\\s\\S]*Ines Varrow")
	accessible(t, p, "findings that stay")
	hit(t, p, ".stayed button", "Take it up again")
	waitText(t, p, "#line", `1\s*Findings`)

	// It leads to the page, where it is mended.
	hit(t, p, ".thing a")
	waitFor(t, p, `/^.pages.\d+$/.test(location.pathname)`)
	waitText(t, p, "#page-screen", "in the shed")
}
