package e2e

import (
	"fmt"
	"strings"
	"testing"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// device has a browser keep passkeys as a phone or a laptop does that has made sure who holds it: Chromium's
// own authenticator (Web Authentication Level 3, 11: automation).
func device(t *testing.T, p *rod.Page) proto.WebAuthnAuthenticatorID {
	t.Helper()
	require.NoError(t, proto.WebAuthnEnable{}.Call(p))
	made, err := proto.WebAuthnAddVirtualAuthenticator{Options: &proto.WebAuthnVirtualAuthenticatorOptions{
		Protocol: proto.WebAuthnAuthenticatorProtocolCtap2, Transport: proto.WebAuthnAuthenticatorTransportInternal,
		HasResidentKey: true, HasUserVerification: true, IsUserVerified: true, AutomaticPresenceSimulation: true,
	}}.Call(p)
	require.NoError(t, err)
	return made.AuthenticatorID
}

// Somebody adds a passkey, signs in with it at the door and where a session has ended under their hands,
// and does not any more when a keeper has taken it away.
func TestPasskeysInABrowser(t *testing.T) {
	h := start(t, "demo")
	at := strings.Replace(h.app, "127.0.0.1", "localhost", 1) // a passkey needs a name
	const password = "four words in a row"
	keeper := open(t, browser(t), h.app+"/people?person=new", 1280, 800, 1)
	write(t, keeper, ".account [name=name]", "Runa Falk")
	write(t, keeper, ".account [name=login]", "runa")
	write(t, keeper, ".account [name=password]", password)
	keeper.MustElement(".account [name=keeper]").MustClick()
	hit(t, keeper, ".account .primary", "Let in")
	waitText(t, keeper, ".grid", "Runa Falk")

	p := browser(t).MustPage(at + "/sign-in").Timeout(lifetime).MustWaitLoad()
	assert.False(t, p.MustHas("#door-passkey"), "nobody has one")
	p.MustElement(".door-more summary").MustClick()
	p.MustElement("[name=login]").MustInput("runa")
	p.MustElement("[name=password]").MustInput(password)
	p.MustElement(".door-more button").MustClick()
	waitText(t, p, "header", "Runa Falk")
	device(t, p)
	p.MustNavigate(at + "/account").MustWaitLoad()
	calm(t, p)
	write(t, p, "#add-passkey [name=password]", "five words in a row")
	hit(t, p, "#add-passkey button", "Add a passkey")
	waitText(t, p, "#notice", "The password is wrong")
	write(t, p, "#add-passkey [name=password]", password)
	hit(t, p, "#add-passkey button", "Add a passkey")
	waitText(t, p, "#passkeys", "never used")
	accessible(t, p, "an account with a passkey")
	write(t, p, "#add-passkey [name=password]", password)
	hit(t, p, "#add-passkey button", "Add a passkey")
	waitText(t, p, "#notice", "This device has a passkey for you already")

	// At the door.
	p.MustEval(`() => fetch('/sign-out', { method: 'POST' })`)
	p.MustNavigate(at + "/sign-in?next=/account").MustWaitLoad()
	waitFor(t, p, `!document.getElementById('door-passkey').hidden`)
	accessible(t, p, "a door for passkeys")
	hit(t, p, "#door-passkey button", "Sign in with a passkey")
	waitText(t, p, "#passkeys", "last used")

	// A second step asks for a code; a passkey needs none.
	p.MustNavigate(at + "/account/second").MustWaitLoad()
	calm(t, p)
	secret := p.MustElement("output.secret").MustText()
	write(t, p, "[name=code]", codeFor(t, secret))
	hit(t, p, "#second-setup .primary", "Switch it on")
	waitText(t, p, "#second-setup", "second step is on")
	spare := p.MustElement(".spare li").MustText()

	// Where a session ends under somebody's hands, with what they typed.
	ends := func(says string) {
		t.Helper()
		p.MustNavigate(at + "/bench/9").MustWaitLoad()
		waitFor(t, p, `document.readyState === 'complete' && document.querySelector('#frame .body')?.getAttribute('width') > 0`)
		calm(t, p)
		focus(t, p, "#alt")
		p.MustEval(`() => document.activeElement.select()`)
		require.NoError(t, p.InsertText(says))
		p.MustEval(`() => fetch('/sign-out', { method: 'POST' })`)
		require.NoError(t, p.Keyboard.Type(input.Tab))
		waitFor(t, p, `document.getElementById('sign-in-again').open && !document.getElementById('again-passkey').hidden`)
	}
	goesOn := func(says string) {
		t.Helper()
		waitFor(t, p, `!document.getElementById('sign-in-again').open`)
		waitFor(t, p, fmt.Sprintf("document.querySelector('#history').textContent.includes(%q)", says))
	}
	ends("A junior in a yellow vest paddles past the firs")
	accessible(t, p, "signing in again")
	hit(t, p, "#again-passkey")
	goesOn("Described: “A junior in a yellow vest")

	ends("A junior paddles a red boat along the shore")
	write(t, p, "#again-form [name=password]", "five words in a row")
	hit(t, p, "#again-form .primary")
	waitText(t, p, "#again-wrong", "the password is wrong")
	write(t, p, "#again-form [name=password]", password)
	hit(t, p, "#again-form .primary")
	waitFor(t, p, `!document.getElementById('again-code').hidden && document.getElementById('again-password').hidden`)
	accessible(t, p, "signing in again with a code")
	write(t, p, "#again-form [name=code]", "12345")
	hit(t, p, "#again-form .primary")
	waitText(t, p, "#again-wrong", "code is wrong")
	write(t, p, "#again-form [name=code]", spare)
	hit(t, p, "#again-form .primary")
	goesOn("Described: “A junior paddles a red")

	// A keeper takes it away.
	keeper.MustNavigate(h.app + "/people").MustWaitLoad()
	keeper.MustElementR(".grid tr", "Runa Falk").MustElement("a").MustClick()
	waitText(t, keeper, "main", "can sign in with 1 passkey")
	res, err := h.client.PostForm(h.app+keeper.MustElement("form[action$='/passkeys/remove']").MustProperty("action").Str()[len(h.app):], nil)
	require.NoError(t, err)
	res.Body.Close()
	p.MustNavigate(at + "/account").MustWaitLoad()
	assert.NotContains(t, p.MustElement("#passkeys").MustText(), "Made with")
}
