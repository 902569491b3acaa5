package e2e

import (
	"bufio"
	"context"
	"fmt"
	"io"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/launcher"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/require"
)

// patience is how long the browser waits for what it is told to wait for.
const patience = 40 * time.Second

var program string

func TestMain(m *testing.M) { os.Exit(runAll(m)) }

func runAll(m *testing.M) int {
	dir, err := os.MkdirTemp("", "mivlet-e2e-")
	if err != nil {
		panic(err)
	}
	defer os.RemoveAll(dir)
	program = filepath.Join(dir, "mivlet")
	if out, err := exec.Command("go", "build", "-o", program, "../cmd/mivlet").CombinedOutput(); err != nil {
		fmt.Fprintf(os.Stderr, "the program does not build: %v\n%s", err, out)
		return 1
	}
	return m.Run()
}

// house is a running Mivlet.
type house struct {
	app, site, data string
	client          *http.Client // signed in
	session         *http.Cookie
}

// start runs the program with free ports and a fresh folder and waits until it
// says where it is.
func start(t *testing.T, command string) house {
	t.Helper()
	h := house{data: t.TempDir()}
	ctx, stop := context.WithCancel(context.Background())
	cmd := exec.CommandContext(ctx, program, command, "--addr", "127.0.0.1:0", "--site-addr", "127.0.0.1:0", "--data", h.data)
	cmd.Cancel = func() error { return cmd.Process.Signal(os.Interrupt) }
	cmd.WaitDelay = 15 * time.Second
	cmd.Stderr = os.Stderr
	out, err := cmd.StdoutPipe()
	require.NoError(t, err)
	require.NoError(t, cmd.Start())
	lines := bufio.NewScanner(out)
	for lines.Scan() && (h.app == "" || h.site == "") {
		if at, ok := strings.CutPrefix(lines.Text(), "Mivlet "); ok {
			h.app = strings.TrimSpace(at)
		}
		if at, ok := strings.CutPrefix(lines.Text(), "Practice site "); ok {
			h.site = strings.TrimSpace(at)
		}
	}
	require.NotEmpty(t, h.site, "the program did not say where it is")
	go func() {
		for lines.Scan() {
		}
	}()
	t.Cleanup(func() {
		stop()
		_ = cmd.Wait()
	})
	if command == "demo" {
		h.signIn(t, "/sign-in/demo", url.Values{"person": {"1"}}) // the keeper
	} else {
		h.signIn(t, "/first", url.Values{"name": {"Ines Varrow"}, "login": {"ines"}, "password": {"four words in a row"}})
	}
	here = h
	return h
}

// here is the house that browsers sign in to when they open one of its pages.
var here house

// signIn begins a session.
func (h *house) signIn(t *testing.T, at string, form url.Values) {
	t.Helper()
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	h.client = &http.Client{Jar: jar, CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
	res, err := h.client.PostForm(h.app+at, form)
	require.NoError(t, err)
	res.Body.Close()
	require.Equal(t, http.StatusSeeOther, res.StatusCode)
	for _, c := range res.Cookies() {
		h.session = c
	}
	require.NotNil(t, h.session)
}

// as returns the house as another of the demo's people sees it.
func (h house) as(t *testing.T, person int) house {
	t.Helper()
	h.signIn(t, "/sign-in/demo", url.Values{"person": {fmt.Sprint(person)}})
	return h
}

// enter gives a browser's page the session of the house.
func (h house) enter(t *testing.T, p *rod.Page) {
	t.Helper()
	require.NoError(t, p.SetCookies([]*proto.NetworkCookieParam{{Name: h.session.Name, Value: h.session.Value, URL: h.app}}))
}

// browser starts headless Chromium at a device scale factor.
func browser(t *testing.T) *rod.Browser {
	t.Helper()
	bin := os.Getenv("CHROMIUM")
	if bin == "" {
		bin = "/usr/bin/chromium"
	}
	if _, err := os.Stat(bin); err != nil {
		t.Fatalf("no browser at %s: run scripts/test, which installs it", bin)
	}
	l := launcher.New().Bin(bin).Leakless(false).NoSandbox(true).Headless(true).
		Set("disable-background-networking").Set("disable-component-update").Set("disable-sync").Set("no-first-run").Set("hide-scrollbars")
	url, err := l.Launch()
	require.NoError(t, err)
	b := rod.New().ControlURL(url)
	require.NoError(t, b.Connect())
	t.Cleanup(func() {
		_ = b.Close()
		l.Kill()
		l.Cleanup()
	})
	return b
}

// open opens an address at a viewport and a device scale factor. A script
// error on the page fails the test.
func open(t *testing.T, b *rod.Browser, address string, width, height int, scale float64) *rod.Page {
	t.Helper()
	p := b.MustPage()
	go p.EachEvent(func(e *proto.RuntimeExceptionThrown) {
		t.Errorf("script error on %s: %s", address, e.ExceptionDetails.Exception.Description)
	})()
	p.MustSetViewport(width, height, scale, false)
	if strings.HasPrefix(address, here.app+"/") {
		here.enter(t, p)
	}
	p.MustNavigate(address).MustWaitLoad()
	return p
}

// waitFor waits until a condition written in JavaScript holds.
func waitFor(t *testing.T, p *rod.Page, condition string) {
	t.Helper()
	if err := p.Timeout(patience).Wait(rod.Eval(`() => ` + condition)); err != nil {
		t.Fatalf("waited in vain for %s: %v", condition, err)
	}
}

// calm waits until nothing is under way: what was answered is in its place and
// can be used.
func calm(t *testing.T, p *rod.Page) {
	t.Helper()
	waitFor(t, p, `!document.querySelector('.htmx-request, .htmx-swapping, .htmx-settling, .htmx-added')`)
}

// write puts words into a field as hands do, and leaves it with Tab.
func write(t *testing.T, p *rod.Page, field, text string) {
	t.Helper()
	calm(t, p)
	el := p.MustElement(field)
	el.MustFocus()
	el.MustSelectAllText()
	require.NoError(t, p.InsertText(text))
	require.NoError(t, p.Keyboard.Type(input.Tab))
}

// demoPicture returns the path of one of the demo pictures.
func demoPicture(t *testing.T, name string) string {
	t.Helper()
	path, err := filepath.Abs(filepath.Join("../demo/pictures", name))
	require.NoError(t, err)
	return path
}

// drop lets go of files over an element, as a hand that drags them from the
// desktop does.
func drop(t *testing.T, p *rod.Page, selector string, files ...string) {
	t.Helper()
	box := p.MustElement(selector).MustShape().Box()
	data := &proto.InputDragData{Items: []*proto.InputDragDataItem{}, Files: files, DragOperationsMask: 1}
	for _, kind := range []proto.InputDispatchDragEventType{proto.InputDispatchDragEventTypeDragEnter, proto.InputDispatchDragEventTypeDragOver, proto.InputDispatchDragEventTypeDrop} {
		require.NoError(t, proto.InputDispatchDragEvent{Type: kind, X: box.X + box.Width/2, Y: box.Y + box.Height/2, Data: data}.Call(p))
	}
}

// drag moves the pointer from one point of the screen to another with the
// button down.
func drag(p *rod.Page, fromX, fromY, toX, toY float64) {
	p.Mouse.MustMoveTo(fromX, fromY)
	p.Mouse.MustDown(proto.InputMouseButtonLeft)
	for i := 1; i <= 8; i++ {
		f := float64(i) / 8
		p.Mouse.MustMoveTo(fromX+(toX-fromX)*f, fromY+(toY-fromY)*f)
	}
	p.Mouse.MustUp(proto.InputMouseButtonLeft)
}

// body is what an address answers.
func body(t *testing.T, address string) string {
	t.Helper()
	res, err := here.client.Get(address)
	require.NoError(t, err)
	defer res.Body.Close()
	data, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	return string(data)
}

// waitText waits until an element shows a text that matches a pattern.
func waitText(t *testing.T, p *rod.Page, selector, pattern string) *rod.Element {
	t.Helper()
	el, err := p.Timeout(patience).ElementR(selector, pattern)
	if err != nil {
		body, _ := p.Timeout(5 * time.Second).Eval(`() => document.body.innerText`)
		if body != nil {
			t.Fatalf("no %s with %q: %v\non the screen:\n%s", selector, pattern, err, body.Value.Str())
		}
		t.Fatalf("no %s with %q: %v", selector, pattern, err)
	}
	return el.CancelTimeout()
}
