package e2e

import (
	"io"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"testing"

	"github.com/PuerkitoBio/goquery"
	"github.com/go-rod/rod"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// numbered finds the number of a picture of the demo by words.
func numbered(t *testing.T, h house, query string) string {
	t.Helper()
	found := regexp.MustCompile(`/pictures/(\d+)"`).FindStringSubmatch(body(t, h.app+"/shelves?q="+url.QueryEscape(query)))
	require.NotNil(t, found, "no picture is found by %q", query)
	return found[1]
}

// visited fetches an address of the site.
func visited(t *testing.T, address string) (int, string) {
	t.Helper()
	res, err := http.Get(address)
	require.NoError(t, err)
	defer res.Body.Close()
	data, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	return res.StatusCode, string(data)
}

// Somebody on a picture that is live says no: it is noted on the bench, what visitors
// still see is told at once, the picture is taken off the air, and a neutral space of
// its size stands in its place. An earlier version is not put back, its words are. At
// last the picture is erased, and the receipt tells what could not be reached.
func TestARefusalFromTheBenchToTheLivePage(t *testing.T) {
	h := start(t, "demo")
	b := browser(t)
	picture := numbered(t, h, "eight boats")
	const at = "/boatshed/where-things-hang" // page 2
	_, before := visited(t, h.site+at)
	src := liveImage(t, before, 0).AttrOr("src", "")
	status, _ := visited(t, h.site+src)
	require.Equal(t, http.StatusOK, status)

	p := open(t, b, h.app+"/bench/"+picture, 1280, 800, 1)
	assert.False(t, p.MustHas(".exposed"))
	click(p, "#seen-new > summary")
	p.MustElement("#seen-form [name=whom]").MustInput("the one by the door")
	click(p, "#seen-form .button")
	waitText(t, p, ".exposed", "Where things hang, though someone in it refused permission")
	waitText(t, p, ".seen-list summary", "the one by the door: refused")
	assert.True(t, p.MustEval(`() => { document.getElementById('step-seen').scrollIntoView(); const r = document.querySelector('.exposed').getBoundingClientRect(); return r.top >= 0 && r.bottom <= innerHeight && document.getElementById('step-fit').getBoundingClientRect().top < 0 }`).Bool(), "what visitors still see is told in sight of where the answer was noted")
	click(p, ".exposed .acts > :last-child")
	waitFor(t, p, `location.pathname === '/pictures/`+picture+`' && document.querySelector('.exposed') === null`)

	_, after := visited(t, h.site+at)
	space := liveImage(t, after, 0)
	assert.Equal(t, "This picture was taken off.", space.AttrOr("alt", ""))
	for _, side := range []string{"width", "height"} {
		assert.Equal(t, liveImage(t, before, 0).AttrOr(side, ""), space.AttrOr(side, "-"), "a space of the same size")
	}
	assert.Equal(t, liveImage(t, before, 1).AttrOr("src", ""), liveImage(t, after, 1).AttrOr("src", "-"), "the other picture stays")
	status, _ = visited(t, h.site+src)
	assert.Equal(t, http.StatusGone, status)
	q := open(t, b, h.site+at, 1280, 800, 1)
	waitFor(t, q, `[...document.images].every((i) => i.complete && i.naturalWidth > 0)`)
	assert.InDelta(t, 640, q.MustEval(`() => document.images[0].getBoundingClientRect().width`).Num(), 1)

	p.MustNavigate(h.app + "/pages/2").MustWaitLoad()
	p.MustElement("#page-lives").MustEval(`() => { this.open = true }`)
	click(p, "#page-lives .quiet")
	waitText(t, p, "#notice", "someone in boatshed-eight-boats-on-racks refused permission")
	click(p, "#notice .offer .button")
	waitFor(t, p, `document.getElementById('page-history').textContent.includes('Words and arrangement as they were live')`)

	p.MustNavigate(h.app + "/pictures/" + picture).MustWaitLoad()
	click(p, ".acts form:last-of-type .quiet")
	waitText(t, p, "#notice", "It is on 1 page: Where things hang")
	p.MustElement("#erase").MustEval(`() => { this.open = true }`)
	p.MustElement("#erase [name=why]").MustEval(`() => { this.value = 'The family asked for it in writing' }`)
	click(p, "#erase [name=names]")
	click(p, "#erase [name=sure]")
	click(p, "#erase .danger")
	waitText(t, p, ".receipt", "What could not be erased")
	waitText(t, p, ".receipt", "copies that visitors' browsers keep")
	res, err := h.client.Get(h.app + "/pictures/" + picture)
	require.NoError(t, err)
	res.Body.Close()
	assert.Equal(t, http.StatusNotFound, res.StatusCode)
	_, last := visited(t, h.site+at)
	for _, said := range []string{"eight-boats", "Eight kayaks", "Numbers run"} {
		assert.NotContains(t, last, said)
	}
	assert.NotContains(t, body(t, h.app+"/trail"), "eight-boats")
}

// liveImage is the nth picture of a live page.
func liveImage(t *testing.T, html string, n int) *goquery.Selection {
	t.Helper()
	doc, err := goquery.NewDocumentFromReader(strings.NewReader(html))
	require.NoError(t, err)
	return doc.Find("main figure img").Eq(n)
}

// click clicks something wherever it is on the screen.
func click(p *rod.Page, selector string) { p.MustElement(selector).MustEval(`() => this.click()`) }

// Two people write in the same field: theirs stays, mine is offered, and goes in with
// one click. What they wrote in other fields is joined.
func TestWordsOfTwoPeopleAreJoined(t *testing.T) {
	h := start(t, "demo")
	b := browser(t)
	picture := numbered(t, h, "eight boats")
	p := open(t, b, h.app+"/bench/"+picture, 1280, 800, 1)
	step := *p.MustElement("#tools").MustAttribute("data-step")
	res, err := h.client.PostForm(h.app+"/bench/"+picture+"/words", url.Values{"alt": {"Boats of the shed"}, "credit": {"Odo Tamsin"}, "seen": {step}})
	require.NoError(t, err)
	res.Body.Close()
	write(t, p, "#alt", "Eight boats on their racks")
	waitText(t, p, ".clash", "Eight boats on their racks")
	waitFor(t, p, `document.getElementById('alt').value === 'Boats of the shed'`)
	click(p, ".clash .mend")
	waitFor(t, p, `document.querySelector('.clash') === null && document.getElementById('alt').value === 'Eight boats on their racks'`)
	card := body(t, h.app+"/pictures/"+picture)
	assert.Contains(t, card, "Eight boats on their racks")
	assert.Contains(t, card, `name="credit" value="Odo Tamsin"`, "what they wrote elsewhere is kept")
}
