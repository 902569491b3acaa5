package e2e

import (
	"net/http"
	"net/url"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The first start asks for the keeper's account, once; then one signs in with
// it, and nothing is shown to those who do not.
func TestTheFirstKeeperAndTheDoor(t *testing.T) {
	h := start(t, "serve") // makes the first keeper
	b := browser(t)
	p := b.MustPage(h.app + "/arrivals").MustWaitLoad()
	waitText(t, p, "h1", "Our house")
	assert.Contains(t, p.MustInfo().URL, "/sign-in?next=")
	p.MustElement("[name=login]").MustInput("ines")
	p.MustElement("[name=password]").MustInput("not the password")
	hit(t, p, ".door-form .primary")
	waitText(t, p, ".finding.stop", "password is wrong")
	p.MustElement("[name=password]").MustSelectAllText().MustInput("four words in a row")
	hit(t, p, ".door-form .primary")
	waitFor(t, p, `location.pathname === '/arrivals'`)
	p.MustNavigate(h.app + "/first").MustWaitLoad()
	waitFor(t, p, `location.pathname !== '/first'`)
}

// A new house begins in four steps, each of which can be skipped and taken up again; what they ask
// are its rules and its people.
func TestANewHouseBegins(t *testing.T) {
	h := start(t, "serve")
	p := open(t, browser(t), h.app+"/welcome", 1280, 800, 1)
	waitFor(t, p, `document.activeElement?.id === 'welcome-house'`)
	require.NoError(t, p.InsertText("Fennel Primary"))
	p.MustElement("#kind-school").MustClick()
	write(t, p, "#welcome-zone", "Nowhere/At all")
	hit(t, p, ".welcome .primary", "Go on")
	waitText(t, p, "#notice", "time zone")
	write(t, p, "#welcome-zone", "Europe/Dublin")
	hit(t, p, ".welcome .primary", "Go on")

	waitText(t, p, ".welcome-steps .here", "Its column")
	waitText(t, p, "header", "Fennel Primary")
	hit(t, p, ".welcome a", "Skip")
	waitText(t, p, ".welcome-steps .here", "Sections and people")
	waitFor(t, p, `document.activeElement?.id === 'section-more'`)
	require.NoError(t, p.InsertText("Choir of the parents"))
	require.NoError(t, p.Keyboard.Type(input.Enter))
	waitFor(t, p, `[...document.querySelectorAll('.welcome-sections input')].some((i) => i.defaultValue === 'Choir of the parents') && document.readyState === 'complete'`)
	p.MustEval(`() => { for (const i of document.querySelectorAll('.welcome-sections input')) i.value = ''; }`)
	hit(t, p, "#welcome-sections .button")
	waitText(t, p, "#notice", "needs a section")
	p.MustNavigate(h.app + "/arrivals").MustWaitLoad()
	open4 := waitText(t, p, ".begin-on", "Its column").MustText()
	assert.NotContains(t, open4, "Sections and people", "the sections have been looked at")
	assert.NotContains(t, open4, "What it is", "which is done")
	hit(t, p, ".begin-on a", "Its column")
	write(t, p, "#welcome-width", "12")
	hit(t, p, ".welcome .primary", "Go on")
	waitText(t, p, "#notice", "wide|width|column")
	write(t, p, "#welcome-width", "702")
	hit(t, p, ".welcome .primary", "Go on")

	waitText(t, p, ".welcome-steps .here", "Sections and people")
	write(t, p, "#invite-name", "Odo Tern")
	write(t, p, "#invite-login", "odo")
	hit(t, p, "#welcome-invite .button", "Invite by link")
	waitText(t, p, "#invitation", "not shown again")
	accessible(t, p, "the last step")
	hit(t, p, ".welcome .acts a", "Only bring pictures in")
	waitText(t, p, ".slots", "702 px")
	assert.False(t, p.MustHas(".begin-on"), "nothing is left open")
	assert.Contains(t, body(t, h.app+"/rules?part=history"), "The house begins: its column")

	// Leaving everything as it is goes on all the same.
	again := start(t, "serve")
	p = open(t, browser(t), again.app+"/welcome", 390, 800, 1)
	hit(t, p, ".welcome .primary", "Go on")
	waitText(t, p, ".welcome-steps .here", "Its column")
	hit(t, p, ".welcome .primary", "Go on")
	waitText(t, p, ".welcome-steps .here", "Sections and people")
	fits(t, p, "the last step on a phone")
	hit(t, p, ".welcome .acts a", "Only bring pictures in")
	left := waitText(t, p, ".begin-on", "Sections and people").MustText()
	assert.NotContains(t, left, "Its column", "it was looked at")
}

// What somebody may not do is not offered, and says why when tried all the same.
func TestWhatIsNotTheirsIsNotOffered(t *testing.T) {
	h := start(t, "demo")
	b := browser(t)
	pell := h.as(t, person(t, h, "Pell Ashgrove")) // contributor of Juniors
	pell.hosts(t)
	p := open(t, b, h.app+"/pages/1", 1280, 800, 1)
	assert.False(t, p.MustHas(".panel .primary"), "a contributor is not offered to publish")
	assert.Contains(t, p.MustElement(".panel").MustText(), "publishers")
	res, err := pell.client.PostForm(h.app+"/pages/1/publish", url.Values{"version": {"1"}})
	require.NoError(t, err)
	res.Body.Close()
	assert.Equal(t, http.StatusForbidden, res.StatusCode)
	assert.Contains(t, body(t, h.app+"/bench/9"), "juniors")

	p.MustNavigate(h.app + "/pages/2").MustWaitLoad() // of the boatshed
	assert.False(t, p.MustHas(".gap"), "no gap lights up on a page of others")
	p.MustNavigate(h.app + "/rules").MustWaitLoad()
	assert.True(t, p.MustHas(".leaf[disabled]"), "the rules can be read, not changed")
	assert.False(t, p.MustHas(`a[href="/people"]`))
	p.MustNavigate(h.app + "/people").MustWaitLoad()
	waitText(t, p, "h1", "Only keepers")
}

// person finds one of the demo's people by name.
func person(t *testing.T, h house, name string) int {
	t.Helper()
	p := browser(t).MustPage(h.app + "/sign-in").MustWaitLoad()
	return p.MustEval(`(n) => Number([...document.querySelectorAll('.door-people form')].find((f) => f.textContent.includes(n)).querySelector('[name=person]').value)`, name).Int()
}

// A session that ends under somebody's hands: the sign-in comes to them, and
// what they typed goes on.
func TestAnExpiredSessionLosesNothing(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/bench/9", 1280, 800, 1)
	waitFor(t, p, `document.readyState === 'complete' && document.querySelector('#frame .body')?.getAttribute('width') > 0`)
	calm(t, p)
	focus(t, p, "#alt")
	p.MustEval(`() => document.activeElement.select()`)
	require.NoError(t, p.InsertText("A junior in a yellow vest paddles past the firs"))
	res, err := h.client.PostForm(h.app+"/account/sign-out-everywhere", nil)
	require.NoError(t, err)
	res.Body.Close()
	require.NoError(t, p.Keyboard.Type(input.Tab))
	waitFor(t, p, `document.getElementById('sign-in-again').open`)
	waitFor(t, p, `!document.getElementById('again-people').hidden`)
	hit(t, p, "#again-demo")
	waitFor(t, p, `document.querySelector("#history").textContent.includes("Described: “A junior in a yellow vest")`)
	assert.Equal(t, "A junior in a yellow vest paddles past the firs", p.MustElement("#alt").MustProperty("value").Str())
	p.MustReload().MustWaitLoad()
	assert.Equal(t, "A junior in a yellow vest paddles past the firs", p.MustElement("#alt").MustProperty("value").Str(), "it was kept")
}

// Rules are changed on the screen: told before, applied with a reason, in the
// trail after.
func TestRulesAreChangedWithADryRun(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/rules?part=page&pattern=two", 1280, 800, 1)
	write(t, p, `[id="d/page/gutter/desktop"]`, "60")
	waitText(t, p, ".sums", "÷ 2 = 450")
	waitText(t, p, ".changes", "Page, gutter on desktops: 30 → 60")
	write(t, p, "#rules-why", "more air between columns")
	hit(t, p, ".pending .primary", "Apply")
	waitText(t, p, ".pending", "Nothing is changed")
	p.MustNavigate(h.app + "/rules?part=history").MustWaitLoad()
	waitText(t, p, ".grid", "more air between columns")
	waitText(t, p, ".changes", "gutter on desktops: 30 → 60")
	p.MustNavigate(h.app + "/trail").MustWaitLoad()
	waitText(t, p, ".trail", "Changed the house rules: more air between columns")
	assert.Contains(t, body(t, h.app+"/trail.csv"), "more air between columns")

	// A figure that cannot be: the place and the reason, and no way to apply it.
	p.MustNavigate(h.app + "/rules?part=page").MustWaitLoad()
	write(t, p, `[id="r/page/breaks/tablet"]`, "2000")
	waitText(t, p, ".pending", "before desktops")
	assert.False(t, p.MustHas("#rules-why"))
}

// A person is invited by a link that is shown once; whoever follows it chooses a password and is in.
func TestInvitingByLink(t *testing.T) {
	h := start(t, "demo")
	b := browser(t)
	p := open(t, b, h.app+"/people?person=new", 1280, 800, 1)
	write(t, p, ".account [name=name]", "Runa Falk")
	write(t, p, ".account [name=login]", "runa")
	hit(t, p, ".account .primary", "Let in")
	waitText(t, p, ".invite", "no password yet")
	hit(t, p, ".invite button", "Invite by link")
	waitText(t, p, "#invitation", "not shown again")
	accessible(t, p, "an invitation")
	address := p.MustElement("#invitation-address").MustProperty("value").Str()
	assert.Contains(t, address, h.app+"/join?code=")
	assert.NotContains(t, body(t, h.app+"/people?person=5"), address[len(address)-26:], "it is shown once")
	p.MustClose()

	guest := browser(t).MustPage(address).MustWaitLoad().Timeout(patience)
	waitText(t, guest, "h1", "Runa Falk")
	accessible(t, guest, "where an invitation leads")
	focus(t, guest, "[name=password]")
	require.NoError(t, guest.InsertText("four words in a row"))
	hit(t, guest, ".door-form .primary", "Come in")
	waitText(t, guest, ".who summary", "Runa Falk")
	again := browser(t).MustPage(address).MustWaitLoad().Timeout(patience)
	waitText(t, again, ".finding", "used, or has ended")
}
