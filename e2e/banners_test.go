package e2e

import (
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// tour is a live page of the demo that has two spots.
const tour = "/touring/across-the-lake"

// frameIn finds the address of the frame of a spot in a page as it is served.
func frameIn(html, spot string) string {
	return strings.ReplaceAll(regexp.MustCompile(`/spots/`+spot+`\?page=\d+`).FindString(html), "&amp;", "&")
}

// leadsFrom is where the banner leads that a visitor gets in a spot of a page; "" for none.
func leadsFrom(t *testing.T, at, spot string) string {
	t.Helper()
	frame := frameIn(body(t, at), spot)
	if frame == "" {
		return ""
	}
	return regexp.MustCompile(`/spots/follow/\d+`).FindString(body(t, here(t).site+frame))
}

// choose gives a field another value, as the picker of a day or of an option does.
func choose(t *testing.T, p *rod.Page, field, day string) {
	t.Helper()
	calm(t, p)
	_, err := p.Eval(`(field, day) => { const f = document.querySelector(field); f.value = day; f.dispatchEvent(new Event('change', { bubbles: true })); }`, field, day)
	require.NoError(t, err)
	calm(t, p)
}

// pick chooses the option of a list whose text begins so.
func pick(t *testing.T, p *rod.Page, list, text string) {
	t.Helper()
	calm(t, p)
	value := p.Timeout(patience).MustElement(list).MustEval(`(text) => [...this.options].find((o) => o.textContent.replace(/\s+/g, ' ').trim().startsWith(text))?.value ?? 'none'`, text).Str()
	require.NotEqual(t, "none", value, "%s has no %q", list, text)
	choose(t, p, list, value)
}

// approve approves the banner that is open, and waits until visitors get it.
func approve(t *testing.T, p *rod.Page) {
	t.Helper()
	calm(t, p)
	hit(t, p, ".approve .primary", "Approve it")
	waitFor(t, p, `!document.querySelector('.approve .primary')`)
	calm(t, p)
}

// unmet is the first condition that is not met, "" where it shows.
func unmet(t *testing.T, p *rod.Page) string {
	t.Helper()
	calm(t, p)
	return p.MustEval(`() => document.querySelector('#conditions li.unmet span')?.innerText ?? ''`).Str()
}

// A banner from a file to visitors: what it lacks is told, a publisher approves it, and at every
// step the answer to why it does not show is what visitors get.
func TestABannerFromAFileToLive(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/banners", 1280, 800, 1)
	write(t, p, "#title", "Hold the line")
	pick(t, p, `.begin [name=spot]`, "Beside the pages, 160 × 600")
	pick(t, p, `.begin [name=section]`, "Touring")
	hit(t, p, ".begin .primary")
	waitText(t, p, ".banner-side .finding.stop", "no picture yet")
	waitText(t, p, ".banner-side .finding.stop", "leads nowhere yet")
	drop(t, p, "#banner .no-picture", demoPicture(t, "IMG_2088.JPG"))
	waitFor(t, p, `document.querySelector('.at-size img')?.naturalWidth === 320`)
	waitText(t, p, ".banner-side .finding.stop", "A picture needs a name")
	write(t, p, "#banner-alt", "Paddles on hooks. To the page of all tours")
	write(t, p, "#banner-address", "brindlemere.example/tours")
	waitFor(t, p, `document.getElementById('banner-address').value === 'https://brindlemere.example/tours'`)
	waitText(t, p, ".finding.warn", "no occasion")
	assert.True(t, p.MustHas(".approve .primary:disabled"), "what stops keeps it from being approved")

	// Its picture is named on the bench, like any other.
	hit(t, p, ".picture-acts a", "Fit it on the bench")
	waitText(t, p, ".file", "IMG_2088.JPG")
	atHand(t, p) // before that nothing takes what is written
	write(t, p, "#name", "touring-paddles-on-hooks")
	require.Eventually(t, func() bool { return !strings.Contains(body(t, h.app+"/banners/5"), "A picture needs a name") }, patience, 100*time.Millisecond)
	p.MustNavigate(h.app + "/banners/5").MustWaitLoad()
	waitFor(t, p, `!document.querySelector('.banner-side .finding.stop')`)
	pick(t, p, "#why-page", "Across the lake in October")
	assert.Equal(t, "It is a draft: no publisher has approved it.", unmet(t, p))
	approve(t, p)
	assert.Equal(t, "It has no occasion, so it never shows.", unmet(t, p))
	assert.Equal(t, "/spots/follow/3", leadsFrom(t, h.site+tour, "notices"))

	pick(t, p, "#banner-occasion", "Winter season")
	waitText(t, p, ".banner-side .finding.warn", "Changed since it was approved")
	assert.Equal(t, "It has no occasion, so it never shows.", unmet(t, p), "what was approved counts")
	approve(t, p)
	assert.Regexp(t, "^“Pool nights” holds the spot until ", unmet(t, p))
	assert.Equal(t, "/spots/follow/3", leadsFrom(t, h.site+tour, "notices"))
	write(t, p, "#banner-place", "-1")
	approve(t, p)
	assert.Empty(t, unmet(t, p))
	waitText(t, p, "#why-title", "It shows on")
	assert.Equal(t, "/spots/follow/5", leadsFrom(t, h.site+tour, "notices"))

	// Its first day is moved by keys on the calendar.
	p.MustNavigate(h.app + "/banners").MustWaitLoad()
	end := "#end-5-last"
	focus(t, p, end)
	require.NoError(t, p.Keyboard.Type(input.PageUp))
	waitFor(t, p, `document.getElementById('end-5-last').getAttribute('aria-valuetext') !== 'open'`)
	waitFor(t, p, `/changed, not approved/.test(document.querySelector('[data-banner="5"] .why')?.textContent)`)
	waitFor(t, p, `document.activeElement?.id === 'end-5-last'`)
	last := p.MustElement(end).MustAttribute("aria-valuetext")
	require.NoError(t, p.Keyboard.Type(input.ArrowLeft))
	require.NoError(t, p.Keyboard.Type(input.ArrowLeft))
	waitFor(t, p, `document.getElementById('end-5-last').getAttribute('aria-valuetext') !== '`+*last+`'`)
	waitFor(t, p, `document.activeElement?.id === 'end-5-last'`)

	p.MustNavigate(h.app + "/banners/5").MustWaitLoad()
	waitFor(t, p, `document.getElementById('banner-until').value !== ''`)
	day := time.Now().In(time.UTC).AddDate(0, 0, 3).Format(time.DateOnly)
	choose(t, p, "#banner-from", day)
	approve(t, p)
	assert.Regexp(t, `^It starts on \w+day\.$`, unmet(t, p))
	assert.Equal(t, "/spots/follow/3", leadsFrom(t, h.site+tour, "notices"), "the other one has the spot until then")
	choose(t, p, "#banner-from", "")
	approve(t, p)
	assert.Equal(t, "/spots/follow/5", leadsFrom(t, h.site+tour, "notices"))
	hit(t, p, ".banner-side .wide", "Stop it now")
	waitText(t, p, "#approval", "Stopped")
	assert.Equal(t, "It was stopped.", unmet(t, p))
	assert.Equal(t, "/spots/follow/3", leadsFrom(t, h.site+tour, "notices"))

	// A wrong deletion is undone.
	hit(t, p, "#banner-more summary")
	hit(t, p, "#banner-more button", "Delete the banner")
	waitText(t, p, ".deleted", "Hold the line")
	hit(t, p, ".deleted button", "Bring")
	waitText(t, p, "#approval", "Stopped")
	hit(t, p, ".banner-side .wide", "Let it go on")
	waitText(t, p, "#approval", "Approved")
	assert.Equal(t, "/spots/follow/5", leadsFrom(t, h.site+tour, "notices"))
}

// What visitors see: exact sizes, turns, no hole, and motion that ends. No cookie and no script
// has a say in it.
func TestWhatVisitorsSeeOfBanners(t *testing.T) {
	h := start(t, "demo")
	b := browser(t)
	var turns []string
	for range 4 {
		turns = append(turns, leadsFrom(t, h.site+tour, "partners"))
	}
	assert.ElementsMatch(t, []string{"/spots/follow/1", "/spots/follow/1", "/spots/follow/2", "/spots/follow/2"}, turns)
	assert.NotEqual(t, turns[0], turns[1], "by turns")

	box := func(p *rod.Page, selector string) (w, h int) {
		t.Helper()
		size := p.Timeout(patience).MustElement(selector).MustEval(`() => { const r = this.getBoundingClientRect(); return [Math.round(r.width), Math.round(r.height)]; }`).Arr()
		return size[0].Int(), size[1].Int()
	}
	for _, screen := range []struct{ viewport, w, h int }{{1280, 728, 90}, {1000, 728, 90}, {700, 320, 50}, {390, 320, 50}, {300, 270, 42}} {
		p := open(t, b, h.site+tour, screen.viewport, 800, 2)
		w, high := box(p, ".spot-partners iframe")
		assert.InDelta(t, screen.w, w, 31, "at %d px", screen.viewport) // the narrowest has what the page leaves
		assert.InDelta(t, float64(w)*float64(screen.h)/float64(screen.w), high, 1.5, "at %d px", screen.viewport)
		if screen.viewport > 300 {
			assert.Equal(t, screen.w, w, "at %d px", screen.viewport)
		}
		p.MustEval(`() => document.querySelector('.spot-partners iframe').scrollIntoView()`)
		frame := frameWhere(t, p, ".spot-partners iframe", `document.images.length > 0 && document.images[0].complete && document.images[0].naturalWidth > 0`)
		file := frame.MustEval(`() => document.images[0].currentSrc.match(/-(\d+)-[0-9a-f]{16}\./)[1]`).Str()
		want := map[int]string{728: "1456", 320: "640"}[screen.w]
		if want != "" {
			assert.Equal(t, want, file, "twice as many pixels on a sharp screen, at %d px", screen.viewport)
		}
		// Beside the content where there is room, below it elsewhere.
		beside := p.MustEval(`() => { const c = document.querySelector('main').getBoundingClientRect(), s = document.querySelector('.spot-notices').getBoundingClientRect(); return s.left >= c.right; }`).Bool()
		assert.Equal(t, screen.viewport >= 1170, beside, "at %d px", screen.viewport)
		wide := p.MustEval(`() => document.documentElement.scrollWidth`).Int()
		assert.LessOrEqual(t, wide, screen.viewport, "nothing reaches out of the window")
		p.MustClose()
	}

	// A page of a section where one spot is empty: no frame, and no room for one.
	p := open(t, b, h.site+"/boatshed/paddles-and-vests", 1280, 800, 1)
	if p.MustHas(".spot-notices") {
		_, high := box(p, ".spot-notices")
		assert.Zero(t, high, "an empty spot leaves no hole")
	}
	p.MustClose()

	// A banner that moves: after five seconds it stands still; whoever asked for less motion
	// never sees it move (WCAG 2.2, 2.2.2).
	kettle := func(motion string) *rod.Page {
		t.Helper()
		at := h.site + frameIn(body(t, h.site+tour), "partners")
		p := b.MustPage().Timeout(lifetime)
		require.NoError(t, proto.EmulationSetEmulatedMedia{Features: []*proto.EmulationMediaFeature{{Name: "prefers-reduced-motion", Value: motion}}}.Call(p))
		for range 4 {
			p.MustNavigate(at).MustWaitLoad()
			if p.MustHas(".moving") {
				return p
			}
		}
		t.Fatal("the banner that moves does not come")
		return nil
	}
	p = kettle("no-preference")
	assert.Equal(t, "visible", p.MustEval(`() => getComputedStyle(document.querySelector('.moving')).visibility`).Str())
	waitFor(t, p, `getComputedStyle(document.querySelector('.moving')).visibility === 'hidden'`)
	lasted := p.MustEval(`() => document.querySelector('.moving').getAnimations({ subtree: true })[0]?.effect.getComputedTiming().delay ?? 5000`).Int()
	assert.Equal(t, 5000, lasted)
	p.MustClose()
	p = kettle("reduce")
	assert.Equal(t, "none", p.MustEval(`() => getComputedStyle(document.querySelector('.moving')).display`).Str())
	assert.True(t, p.MustEval(`() => document.images[0].naturalWidth > 0`).Bool(), "and sees it stand still")
	p.MustClose()

	// Followed with the keyboard, in the same window; counted, and nothing kept in the browser.
	p = open(t, b, h.site+tour, 1280, 800, 1)
	p.MustEval(`() => document.querySelector('.spot-partners iframe').scrollIntoView()`)
	frameWhere(t, p, ".spot-partners iframe", `document.images.length > 0`)
	accessible(t, p, "a live page with banners")
	frameWhere(t, p, ".spot-notices iframe", `!!document.querySelector('a')`).MustElement("a").MustFocus()
	require.NoError(t, p.Keyboard.Type(input.Enter))
	waitFor(t, p, `location.pathname === '/juniors'`)
	cookies, err := proto.NetworkGetCookies{Urls: []string{h.site}}.Call(p)
	require.NoError(t, err)
	assert.Empty(t, cookies.Cookies)
	app := open(t, b, h.app+"/banners/3", 1280, 800, 1)
	counted := func() bool {
		return app.MustEval(`() => /[1-9]\d* shown, 1 followed/.test(document.querySelector('.banner-side').innerText)`).Bool()
	}
	for end := time.Now().Add(patience); !counted() && time.Now().Before(end); { // what was counted last is written beside the visits
		app.MustReload().MustWaitLoad()
	}
	require.True(t, counted())
	csv := body(t, h.app+"/banners/3/counts.csv")
	assert.Regexp(t, `^day,banner,title,shown,followed\r\n\d{4}-\d\d-\d\d,3,Pool nights,\d+,1\r\n$`, csv)
}

// A spot is added by the house, stands on no page until that is published again, and is put on
// one as a block.
func TestAddingSpots(t *testing.T) {
	h := start(t, "demo")
	b := browser(t)
	p := open(t, b, h.app+"/rules?part=spots", 1280, 800, 1)
	write(t, p, `form[hx-post="/rules/add"] [name=title]`, "Head")
	hit(t, p, `form[hx-post="/rules/add"] .button`, "Add it")
	hit(t, p, "#t\\/spots\\/head summary")
	hit(t, p, `#t\/spots\/head .spot-size-choice`, "728 × 90")
	waitFor(t, p, `document.getElementById('r/spots/head/width').value === '728' && document.getElementById('r/spots/head/height').value === '90'`)
	calm(t, p)
	waitFor(t, p, `document.getElementById('t/spots/head').open`)
	choose(t, p, `#r\/spots\/head\/where`, "above")
	waitText(t, p, ".changes", "Spot Head")
	waitText(t, p, ".touches", "12 live pages to be published again before it is on them")
	write(t, p, "#rules-why", "a partner asked for it")
	hit(t, p, ".pending .primary", "Apply")
	waitText(t, p, ".pending h2", "Nothing is changed")

	p.MustNavigate(h.app + "/banners/1").MustWaitLoad()
	pick(t, p, "#banner-spot", "Head, 728")
	approve(t, p)
	pick(t, p, "#why-page", "Across the lake in October")
	assert.Equal(t, "The page was published before the spot was on it.", unmet(t, p))
	assert.Empty(t, frameIn(body(t, h.site+tour), "head"))
	hit(t, p, "#conditions .mend-it", "Publish the page again")
	waitText(t, p, "h1, .file", "Across the lake")

	// As a block: it is drawn on the draft with its size.
	p.MustElement(`.gap[data-gap="1"]`)
	hit(t, p, `.gap[data-gap="1"]`)
	hit(t, p, "#more-to-add summary")
	hit(t, p, `.more-pieces [hx-post$="/spot"]`, "Put it here")
	waitFor(t, p, `document.querySelector('.spot-drawn')?.getAttribute('width') === '300'`)
}

// An end is dragged by a week, and the step back puts it where it was.
func TestDraggingTheEndOfABanner(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/banners", 1280, 800, 1)
	last := func() string {
		t.Helper()
		calm(t, p)
		return p.Timeout(patience).MustElement(`[data-banner="1"]`).MustEval(`() => this.dataset.last`).Str()
	}
	was := last()
	at := p.MustEval(`() => { const r = document.querySelector('#end-1-last .tick').getBoundingClientRect(), week = document.querySelectorAll('.week-lines path');
		return [r.left + r.width / 2, r.top + r.height / 2, week[1].getBoundingClientRect().left - week[0].getBoundingClientRect().left]; }`).Arr()
	drag(p, at[0].Num(), at[1].Num(), at[0].Num()+at[2].Num(), at[1].Num())
	waitFor(t, p, `document.querySelector('[data-banner="1"] .why')?.textContent.includes('changed, not approved')`)
	before, err := time.Parse(time.DateOnly, was)
	require.NoError(t, err)
	assert.Equal(t, before.AddDate(0, 0, 7).Format(time.DateOnly), last())
	waitFor(t, p, `document.activeElement?.id === 'end-1-last'`)

	p.MustNavigate(h.app + "/banners/1").MustWaitLoad()
	waitFor(t, p, `document.getElementById('banner-until').value !== '`+was+`'`)
	require.NoError(t, p.Keyboard.Type('u'))
	waitFor(t, p, `document.getElementById('banner-until').value === '`+was+`'`)
}

// What is typed while an answer is on its way stays in its field, and is kept when it is left.
func TestTypingWhileABannerIsSaved(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/banners/2", 1280, 800, 1)
	p.MustEval(`() => {
		const title = document.getElementById('banner-title'), leads = document.getElementById('banner-address'), whom = document.getElementById('banner-for');
		title.value = 'The Tin Kettle, again'; title.dispatchEvent(new Event('change', { bubbles: true }));
		whom.value = 'Pell'; whom.dispatchEvent(new Event('change', { bubbles: true }));
		leads.focus(); leads.value = 'https://kettle.example/soup';
	}`)
	waitText(t, p, "h1", "The Tin Kettle, again")
	calm(t, p)
	waitFor(t, p, `document.activeElement.id === 'banner-address' && document.activeElement.value === 'https://kettle.example/soup'`)
	p.MustEval(`() => document.activeElement.blur()`)
	require.Eventually(t, func() bool {
		kept := body(t, h.app+"/banners/2")
		return strings.Contains(kept, `value="https://kettle.example/soup"`) && strings.Contains(kept, `value="Pell"`) && strings.Contains(kept, `value="The Tin Kettle, again"`)
	}, patience, 100*time.Millisecond)
}
