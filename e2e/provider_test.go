package e2e

import (
	"encoding/json"
	"fmt"
	"net"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// accountsServer is a provider of accounts from the Go proxy (Apache-2.0), which is certified for OpenID
// Connect: its server for trying out, with people of our own.
const accountsServer = "github.com/zitadel/oidc/v3/example/server@v3.52.0"

// startProvider runs it for a house at an address, and returns the address of the issuer.
func startProvider(t *testing.T, house string) string {
	t.Helper()
	dir := t.TempDir()
	install := exec.Command("go", "install", accountsServer)
	install.Dir = dir
	install.Env = append(os.Environ(), "GOBIN="+dir, "GOFLAGS=-trimpath")
	out, err := install.CombinedOutput()
	require.NoError(t, err, string(out))

	people := map[string]map[string]any{}
	for id, name := range map[string][2]string{"one": {"Runa", "Falk"}, "two": {"Noa", "Berg"}} {
		login := name[0] + "@brindlemere.example"
		people[id] = map[string]any{"ID": id, "Username": login, "Password": "four words in a row", "FirstName": name[0], "LastName": name[1], "Email": login, "EmailVerified": id == "one"}
	}
	data, err := json.Marshal(people)
	require.NoError(t, err)
	file := filepath.Join(dir, "people.json")
	require.NoError(t, os.WriteFile(file, data, 0o600))

	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	_, port, err := net.SplitHostPort(l.Addr().String())
	require.NoError(t, err)
	require.NoError(t, l.Close())
	server := exec.Command(filepath.Join(dir, "server"))
	server.Env = append(os.Environ(), "PORT="+port, "USERS_FILE="+file, "REDIRECT_URI="+house+"/sign-in/provider/back")
	require.NoError(t, server.Start())
	t.Cleanup(func() {
		_ = server.Process.Kill()
		_ = server.Wait()
	})
	issuer := "http://localhost:" + port + "/"
	require.Eventually(t, func() bool {
		res, err := http.Get(issuer + ".well-known/openid-configuration")
		if err == nil {
			res.Body.Close()
		}
		return err == nil && res.StatusCode == http.StatusOK
	}, patience, 50*time.Millisecond)
	return issuer
}

// comeIn signs somebody in with their account of the provider, in a browser of their own.
func comeIn(t *testing.T, app, who string) *rod.Page {
	t.Helper()
	p := browser(t).MustPage(app + "/pages").Timeout(lifetime).MustWaitLoad()
	accessible(t, p, "a door with accounts from elsewhere")
	hit(t, p, ".door-via a", "Sign in with Brindlemere School")
	waitFor(t, p, `!!document.querySelector('#username')`)
	p.MustElement("#username").MustInput(who + "@brindlemere.example")
	p.MustElement("#password").MustInput("four words in a row")
	p.MustElement("button").MustClick()
	waitFor(t, p, `!!document.querySelector('header, .door-screen')`)
	return p
}

// A keeper enters whose accounts are taken, and people sign in with them: who comes for the first time can
// only look, who is in a group has its role, and who is not confirmed stays outside.
func TestSigningInWithTheSchoolsAccount(t *testing.T) {
	h := start(t, "demo")
	issuer := startProvider(t, h.app)
	b := browser(t)
	keeper := open(t, b, h.app+"/people/provider", 1280, 800, 1)
	accessible(t, keeper, "accounts from elsewhere")
	write(t, keeper, "[name=title]", "Brindlemere School")
	write(t, keeper, "[name=issuer]", "http://localhost:1/")
	write(t, keeper, "[name=client]", "web")
	write(t, keeper, "[name=secret]", "secret")
	hit(t, keeper, ".account .primary", "Keep")
	waitText(t, keeper, "#notice", "does not answer as a provider")
	write(t, keeper, "[name=issuer]", issuer)
	write(t, keeper, "[name=claim]", "preferred_username") // it tells no groups: a name stands for one
	write(t, keeper, ".group-line [name=group]", "Runa@brindlemere.example")
	keeper.MustElement("[name=newcomer]").MustClick()
	hit(t, keeper, ".account .primary", "Keep")
	waitText(t, keeper, "h2", "Brindlemere School")
	assert.Equal(t, "", keeper.MustElement("[name=secret]").MustProperty("value").Str(), "the secret is not shown again")

	for range 2 {
		runa := comeIn(t, h.app, "Runa")
		waitText(t, runa, "header", "Runa Falk")
		assert.Equal(t, "/pages", runa.MustEval(`() => location.pathname`).Str(), "what she wanted to see")
		runa.MustNavigate(h.app + "/account").MustWaitLoad()
		waitText(t, runa, ".lists", "contributor of Juniors")
	}
	noa := comeIn(t, h.app, "Noa") // whose address the provider has not verified
	waitText(t, noa, ".door-screen", "no address of yours that it has verified")
	accessible(t, noa, "a sign-in that was refused")

	keeper.MustNavigate(h.app + "/trail").MustWaitLoad()
	waitText(t, keeper, ".trail", "Came in for the first time with an account of Brindlemere School: contributor of juniors")
	keeper.MustNavigate(h.app + "/people").MustWaitLoad()
	assert.Equal(t, 1, keeper.MustEval(`() => [...document.querySelectorAll('th[scope=row]')].filter(e => e.textContent.includes('Runa Falk')).length`).Int(), "one account, however often she comes")

	// Nobody gets in with an answer that was not asked for, or that somebody else asked for.
	for _, at := range []string{"?state=x&code=y", "?error=access_denied", ""} {
		res, err := http.Get(h.app + "/sign-in/provider/back" + at)
		require.NoError(t, err)
		res.Body.Close()
		assert.Equal(t, http.StatusUnprocessableEntity, res.StatusCode, fmt.Sprintf("%q", at))
	}
}
