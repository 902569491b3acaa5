package e2e

import (
	"bufio"
	"context"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// district runs the program on many houses, of which the paddle club is one, until the test ends. It returns the port, and
// the code of the first keeper of the office.
func district(t *testing.T) (port, code string) {
	t.Helper()
	dir := t.TempDir()
	for _, host := range []string{"office.localhost", "paddle.localhost"} { // RFC 6761, 6.3: browsers find them here
		require.NoError(t, os.Mkdir(filepath.Join(dir, host), 0o700))
	}
	copySeed(t, filepath.Join(dir, "paddle.localhost"))
	require.NoError(t, os.WriteFile(filepath.Join(dir, "limits.toml"), []byte("pictures = 60\n"), 0o600))
	cmd := exec.CommandContext(context.Background(), program, "serve", "--houses", dir, "--office", "office.localhost", "--addr", "127.0.0.1:0", "--site-addr", "127.0.0.1:0")
	cmd.WaitDelay = 15 * time.Second
	cmd.Env = append(os.Environ(), "PATH=")
	out, err := cmd.StdoutPipe()
	require.NoError(t, err)
	log, err := cmd.StderrPipe()
	require.NoError(t, err)
	require.NoError(t, cmd.Start())
	t.Cleanup(func() {
		_ = cmd.Process.Signal(os.Interrupt)
		_ = cmd.Wait()
	})
	lines := bufio.NewScanner(out)
	for port == "" && lines.Scan() {
		if _, at, ok := strings.Cut(lines.Text(), "http://127.0.0.1:"); ok {
			port, _, _ = strings.Cut(at, ",")
		}
	}
	go func() {
		for lines.Scan() {
		}
	}()
	req, err := http.NewRequest(http.MethodGet, "http://127.0.0.1:"+port+"/", nil)
	require.NoError(t, err)
	req.Host = "office.localhost"
	res, err := http.DefaultClient.Do(req)
	require.NoError(t, err)
	res.Body.Close()
	logged := bufio.NewScanner(log)
	for code == "" && logged.Scan() {
		if m := regexp.MustCompile(`office\.localhost.*code=(\w+)`).FindStringSubmatch(logged.Text()); m != nil {
			code = m[1]
		}
	}
	go func() {
		for logged.Scan() {
		}
	}()
	return port, code
}

// firstKeeper makes the first account of a house.
func firstKeeper(t *testing.T, p *rod.Page, name, login, password string) {
	t.Helper()
	write(t, p, "[name=name]", name)
	write(t, p, "[name=login]", login)
	write(t, p, "[name=password]", password)
	hit(t, p, "form .primary")
	waitText(t, p, "h1", "Your house begins")
}

// The keepers of the office see all houses, add one whose first keeper begins with a link, say how much each may have, and
// which rules are the same in all; nobody else does.
func TestTheOfficeOfADistrict(t *testing.T) {
	t.Parallel()
	port, code := district(t)
	at := func(host, path string) string { return "http://" + host + ".localhost:" + port + path }
	p := open(t, browser(t), at("office", "/first?code="+code), 1280, 800, 1)
	firstKeeper(t, p, "Ines Varrow", "ines", "four words in a row")
	hit(t, p, ".who summary")
	hit(t, p, `.who a[href="/houses"]`)
	waitText(t, p, ".grid", "Brindlemere Paddle Club")
	waitText(t, p, ".sum", `^2 houses: \d+ pictures, .* \d+ live pages`)
	waitText(t, p, ".room", `\d+ %`)
	accessible(t, p, "houses")

	require.NoError(t, p.Keyboard.Type('/'))
	waitFor(t, p, `document.activeElement.name === 'q'`)
	p.MustElement("[name=q]").MustInput("nobody")
	hit(t, p, ".which button")
	waitText(t, p, ".empty", "No house is called so")
	hit(t, p, ".empty a")

	waitText(t, p, ".grid", "paddle.localhost")
	write(t, p, ".add [name=host]", "paddle.localhost")
	hit(t, p, ".add .primary")
	waitText(t, p, "#notice", "There is a house .paddle.localhost. already")
	write(t, p, ".add [name=host]", "north house")
	hit(t, p, ".add .primary")
	waitText(t, p, "#notice", "cannot be called")
	write(t, p, ".add [name=host]", "North.localhost")
	hit(t, p, ".add .primary")
	waitText(t, p, "h1", "north.localhost|house")
	waitText(t, p, ".invite", "It waits for its first keeper")
	accessible(t, p, "a new house")
	link := p.MustElement("#link").MustProperty("value").Str()
	require.True(t, strings.HasPrefix(link, at("north", "/first?code=")), link)

	// The rules of the office are the pattern; the new house begins with them.
	p.MustNavigate(at("office", "/houses/rules")).MustWaitLoad()
	p.MustElement("[name=part-naming]").MustSelect("as in this house")
	p.MustElement("[name=first]").MustSelect("a copy of the rules of this house")
	accessible(t, p, "rules of all houses")
	hit(t, p, ".giving .primary")
	waitFor(t, p, `document.querySelector('[name=part-naming]').value === 'alike'`)
	runa := open(t, browser(t), link, 1280, 800, 1)
	firstKeeper(t, runa, "Runa Oddersley", "runa", "four other words in it")
	runa.MustNavigate(at("north", "/rules?part=names")).MustWaitLoad()
	waitText(t, runa, "main", "set parts of these for all: Names")
	runa.MustNavigate(at("north", "/houses")).MustWaitLoad()
	waitText(t, runa, "main", "This house looks after no others")

	// How much it may have holds at once.
	p.MustNavigate(at("office", "/house/north.localhost")).MustWaitLoad()
	waitText(t, p, ".bounds", "1 account")
	hit(t, p, "[name=own][value=yes]")
	write(t, p, "[name=most-people]", "many")
	hit(t, p, ".limits .primary")
	waitText(t, p, "#notice", "number|many")
	write(t, p, "[name=most-people]", "1")
	write(t, p, "[name=most-gigabytes]", "2.5")
	hit(t, p, ".limits .primary")
	waitText(t, p, ".bounds", `0 bytes, at most 2500 MB[\s\S]*1 account, at most 1 account`)
	accessible(t, p, "limits of a house")
	runa.MustNavigate(at("north", "/people?person=new")).MustWaitLoad()
	write(t, runa, ".account [name=name]", "Odo Tamsin")
	write(t, runa, ".account [name=login]", "odo")
	write(t, runa, ".account [name=password]", "words for somebody else")
	hit(t, runa, ".account .primary")
	waitText(t, runa, "#notice, .account", "as many as it may have")

	p.MustSetViewport(390, 800, 1, true)
	for _, path := range []string{"/houses", "/house/north.localhost", "/houses/rules"} {
		p.MustNavigate(at("office", path)).MustWaitLoad()
		calm(t, p)
		assert.LessOrEqual(t, p.MustEval(`() => document.documentElement.scrollWidth`).Int(), 390, path)
	}
}
