package e2e

import (
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var secretInQR = regexp.MustCompile(`secret=([A-Z2-7]+)`)

// codeFor is the code of now, as oathtool makes it.
func codeFor(t *testing.T, secret string) string {
	t.Helper()
	out, err := exec.Command("oathtool", "--totp", "--base32", secret).CombinedOutput()
	require.NoError(t, err, string(out))
	return strings.TrimSpace(string(out))
}

// Somebody sets up a second step from what the screen shows, gets in with a spare code, sees where they are
// signed in, and ends the session that they left open elsewhere.
func TestASecondStepAndOwnSessions(t *testing.T) {
	h := start(t, "demo")
	const password = "four words in a row"
	keeper := open(t, browser(t), h.app+"/people?person=new", 1280, 800, 1)
	write(t, keeper, ".account [name=name]", "Runa Falk")
	write(t, keeper, ".account [name=login]", "runa")
	write(t, keeper, ".account [name=password]", password)
	hit(t, keeper, ".account .primary", "Let in")
	waitText(t, keeper, ".grid", "Runa Falk")

	signIn := func() *rod.Page {
		p := browser(t).MustPage(h.app + "/sign-in").Timeout(lifetime).MustWaitLoad()
		p.MustElement(".door-more summary").MustClick()
		p.MustElement("[name=login]").MustInput("runa")
		p.MustElement("[name=password]").MustInput(password)
		p.MustElement(".door-more button").MustClick()
		waitFor(t, p, `!!document.querySelector('header, [name=ticket]')`)
		return p
	}
	left := signIn() // at a machine in the library
	p := signIn()
	p.MustNavigate(h.app + "/account").MustWaitLoad()
	calm(t, p)
	hit(t, p, "#second a", "Set it up")
	waitFor(t, p, `document.querySelector('#second-setup img')?.complete`)
	accessible(t, p, "setting up a second step")

	// What a camera sees on the screen is what is needed.
	shot, err := p.MustElement("#second-setup img").Screenshot(proto.PageCaptureScreenshotFormatPng, 0)
	require.NoError(t, err)
	file := filepath.Join(t.TempDir(), "qr.png")
	require.NoError(t, os.WriteFile(file, shot, 0o600))
	out, err := exec.Command("zbarimg", "--quiet", "--raw", file).CombinedOutput()
	require.NoError(t, err, string(out))
	secret := secretInQR.FindStringSubmatch(string(out))
	require.Len(t, secret, 2, string(out))
	assert.Equal(t, p.MustElement("output.secret").MustText(), secret[1])
	write(t, p, "[name=code]", "000000")
	hit(t, p, "#second-setup .primary", "Switch it on")
	waitText(t, p, "#notice", "code is wrong")
	write(t, p, "[name=code]", codeFor(t, secret[1]))
	hit(t, p, "#second-setup .primary", "Switch it on")
	waitText(t, p, "#second-setup", "second step is on")
	accessible(t, p, "spare codes")
	spare := p.MustElement(".spare li").MustText()

	again := signIn()
	waitText(t, again, ".door-screen", "enter the code that your device shows")
	accessible(t, again, "a door that asks for a code")
	again.MustElement("[name=code]").MustInput("123456")
	again.MustElement("button").MustClick()
	waitText(t, again, ".door-screen", "code is wrong")
	again.MustElement("[name=code]").MustInput(spare)
	again.MustElement("button").MustClick()
	waitText(t, again, "header", "Runa Falk")

	again.MustNavigate(h.app + "/account").MustWaitLoad()
	waitText(t, again, "#second", "7 spare codes left")
	assert.Equal(t, 3, again.MustEval(`() => document.querySelectorAll('.sessions li').length`).Int())
	accessible(t, again, "one's own account")
	calm(t, again)
	again.MustElements(".sessions button")[1].MustClick() // the one that was used longest ago
	waitFor(t, again, `document.querySelectorAll('.sessions li').length === 2`)
	left.MustNavigate(h.app + "/pages").MustWaitLoad()
	assert.Contains(t, left.MustInfo().URL, "/sign-in", "what was left open is closed")
	p.MustNavigate(h.app + "/pages").MustWaitLoad()
	assert.NotContains(t, p.MustInfo().URL, "/sign-in")

	keeper.MustNavigate(h.app + "/trail").MustWaitLoad()
	waitText(t, keeper, ".trail", `with a spare code \(7 are left\)`)
	waitText(t, keeper, ".trail", "A second step failed")
}
