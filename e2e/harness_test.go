package e2e

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"math"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/PuerkitoBio/goquery"
	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/launcher"
	"github.com/go-rod/rod/lib/launcher/flags"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/require"
)

// patience is how long the browser waits for what it is told to wait for.
const patience = 90 * time.Second

// program is the built program; seed is a folder with the demo laid out, all of its
// previews made and its live pages published, that every test begins with a copy of.
var program, seed string

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
	if err := laidOut(filepath.Join(dir, "seed")); err != nil {
		fmt.Fprintf(os.Stderr, "the demo could not be laid out: %v\n", err)
		return 1
	}
	defer func() {
		for _, end := range endings {
			end()
		}
	}()
	return m.Run()
}

// inHand finds the pictures on the screens of Arrivals and the bench.
var inHand = regexp.MustCompile(`(?:name="picture" value="|href="/bench/)(\d+)"`)

// laidOut lays the demo out, once for all tests. Whoever runs one test again and again can have
// it kept between the runs, in the folder that MIVLET_SEED names.
func laidOut(dir string) error {
	kept := os.Getenv("MIVLET_SEED")
	if kept == "" {
		seed = dir
		return sow(dir, usualScreens)
	}
	if _, err := os.Stat(kept); err == nil {
		seed = kept
		return nil
	}
	if err := sow(dir, usualScreens); err != nil {
		return err
	}
	seed = kept
	return os.CopyFS(kept, os.DirFS(dir))
}

// usualScreens are those that tests have files for, in pixels for each CSS pixel: making files for
// finer ones takes as long as for all others. Screenshots show the demo as it is.
var usualScreens = map[bool]string{true: "2", false: "3"}[os.Getenv("MIVLET_SCREENSHOTS") == ""]

// sow lays the demo out, with files for screens of up to so many pixels for each CSS pixel.
func sow(dir, upTo string) error {
	cmd, h, err := run("demo", dir, false, "--up-to", upTo)
	if err != nil {
		return err
	}
	jar, err := cookiejar.New(nil)
	if err != nil {
		return err
	}
	client := &http.Client{Jar: jar, Timeout: patience}
	get := func(at string) (string, error) {
		res, err := client.Get(h.app + at)
		if err != nil {
			return "", err
		}
		defer res.Body.Close()
		data, err := io.ReadAll(res.Body)
		return string(data), err
	}
	res, err := client.PostForm(h.app+"/sign-in/demo", url.Values{"person": {"1"}})
	if err != nil {
		return err
	}
	res.Body.Close()
	for n := 1; n <= 24; n++ {
		for _, at := range []string{"/thumbs/%d", "/looks/%d"} {
			if _, err := get(fmt.Sprintf(at, n)); err != nil {
				return err
			}
		}
	}
	// Faces are looked for by the program itself, where somebody is at work: until that is
	// done each test's own program would go on with it.
	for _, at := range []string{"/arrivals", "/bench"} {
		text, err := get(at)
		if err != nil {
			return err
		}
		for _, n := range inHand.FindAllStringSubmatch(text, -1) {
			if _, err := get("/bench/" + n[1] + "/faces"); err != nil {
				return err
			}
		}
	}
	for end := time.Now().Add(2 * time.Minute); ; {
		text, err := get("/live")
		if err != nil {
			return err
		}
		last, err := get("/pages/4") // it is published once more, with a picture of its own for its link
		if err != nil {
			return err
		}
		looked, err := get("/findings") // the round of the day is gone
		if err != nil {
			return err
		}
		if wasToday(looked) && strings.Count(text, "all is well") == 12 && strings.Contains(last, "Shared link</b> <span>river-bucket-and-net") && strings.Contains(last, "already see it like this") {
			break
		}
		if time.Now().After(end) {
			return fmt.Errorf("its pages do not go live")
		}
		time.Sleep(100 * time.Millisecond)
	}
	if err := cmd.Process.Signal(os.Interrupt); err != nil {
		return err
	}
	_ = cmd.Wait()
	return nil
}

// wasToday reports whether the site was looked through since the demo was laid out, whose last round was a week ago.
func wasToday(findings string) bool {
	old := time.Now().AddDate(0, 0, -6)
	said := regexp.MustCompile(`Looked through (\d+ \w+ \d{4})`).FindStringSubmatch(findings)
	if said == nil {
		return false
	}
	at, err := time.Parse("2 Jan 2006", said[1])
	return err == nil && at.After(old)
}

// copySeed gives a test its own copy. What is kept by its content never changes, so
// it is shared.
func copySeed(t *testing.T, to string) {
	t.Helper()
	require.NoError(t, filepath.WalkDir(seed, func(at string, d fs.DirEntry, err error) error {
		if err != nil {
			return err
		}
		name, err := filepath.Rel(seed, at)
		if err != nil {
			return err
		}
		switch into := filepath.Join(to, name); {
		case d.IsDir():
			return os.MkdirAll(into, 0o750)
		case strings.HasPrefix(name, "files"+string(filepath.Separator)):
			return os.Link(at, into)
		default:
			data, err := os.ReadFile(at)
			if err != nil {
				return err
			}
			return os.WriteFile(into, data, 0o600)
		}
	}))
}

// seen is the state of a page that its screen shows, to be signed.
func (h house) seen(t *testing.T, page int) string {
	t.Helper()
	res, err := h.client.Get(fmt.Sprintf("%s/pages/%d", h.app, page))
	require.NoError(t, err)
	defer res.Body.Close()
	doc, err := goquery.NewDocumentFromReader(res.Body)
	require.NoError(t, err)
	return doc.Find("#page-screen").AttrOr("data-seen", "")
}

// house is a running Mivlet.
type house struct {
	app, site, data string
	previewer       string
	code            string       // that the first keeper is asked for
	client          *http.Client // signed in
	session         *http.Cookie
}

// run starts the program on a folder, with free ports, and waits until it says where
// it is. Whether it reads the text in pictures depends on what the machine has: it is told to find
// nothing where that is not what a test is about, as reading takes long.
func run(command, data string, reads bool, more ...string) (*exec.Cmd, house, error) {
	return runFile(program, command, data, reads, more...)
}

// runFile is run with another version of the program.
func runFile(file, command, data string, reads bool, more ...string) (*exec.Cmd, house, error) {
	h := house{data: data}
	args := append([]string{command, "--addr", "127.0.0.1:0", "--site-addr", "127.0.0.1:0", "--previewer-addr", "127.0.0.1:0", "--data", data}, more...)
	if below := os.Getenv("MIVLET_PATH"); below != "" && !slices.Contains(args, "--path") {
		args = append(args, "--path", below) // every test can be tried below a path of the host
	}
	cmd := exec.CommandContext(context.Background(), file, args...)
	cmd.WaitDelay = 15 * time.Second
	cmd.Stderr = os.Stderr
	if !reads {
		cmd.Env = append(os.Environ(), "PATH=")
	}
	out, err := cmd.StdoutPipe()
	if err != nil {
		return nil, h, err
	}
	if err := cmd.Start(); err != nil {
		return nil, h, err
	}
	lines := bufio.NewScanner(out)
	for (h.app == "" || h.site == "" || h.previewer == "") && lines.Scan() {
		if at, ok := strings.CutPrefix(lines.Text(), "Mivlet "); ok {
			h.app = strings.TrimSpace(at)
		}
		if at, ok := strings.CutPrefix(lines.Text(), "Practice site "); ok {
			h.site = strings.TrimSpace(at)
		}
		if at, ok := strings.CutPrefix(lines.Text(), "Previewer "); ok {
			h.previewer = strings.TrimSpace(at)
		}
	}
	for command == "serve" && h.code == "" && lines.Scan() && !strings.HasPrefix(lines.Text(), "Ctrl-C") {
		if _, code, ok := strings.Cut(lines.Text(), "/first?code="); ok {
			h.code = code
		}
	}
	if h.site == "" {
		return nil, h, fmt.Errorf("the program did not say where it is")
	}
	go func() {
		for lines.Scan() {
		}
	}()
	return cmd, h, nil
}

// start runs the program on a folder of its own: with the demo as it was sown, or
// with nothing in it. Tests that have one run beside each other.
func start(t *testing.T, command string) house {
	t.Helper()
	return startIn(t, command, false)
}

// startReading is start with a program that reads the text in pictures.
func startReading(t *testing.T, command string) house {
	t.Helper()
	return startIn(t, command, true)
}

func startIn(t *testing.T, command string, reads bool) house {
	t.Helper()
	if _, again := houses.Load(whole(t)); !again {
		t.Parallel()
	}
	data := t.TempDir()
	if command == "demo" {
		copySeed(t, data)
	}
	h := running(t, command, data, reads)
	if command == "demo" {
		h.signIn(t, "/sign-in/demo", url.Values{"person": {"1"}}) // the keeper
	} else {
		h.signIn(t, "/first", url.Values{"name": {"Ines Varrow"}, "login": {"ines"}, "password": {"four words in a row"}, "code": {h.code}})
	}
	h.hosts(t)
	return h
}

// empty runs the program on a new folder, before anybody has an account.
func empty(t *testing.T) house {
	t.Helper()
	t.Parallel()
	return running(t, "serve", t.TempDir(), false)
}

// running runs the program until the test ends.
func running(t *testing.T, command, data string, reads bool, more ...string) house {
	t.Helper()
	cmd, h, err := run(command, data, reads, more...)
	require.NoError(t, err)
	t.Cleanup(func() {
		_ = cmd.Process.Signal(os.Interrupt)
		_ = cmd.Wait()
	})
	return h
}

// houses are those that the browsers of a test sign in to when they open one of their
// pages, by the name of the test.
var houses sync.Map

// hosts makes this the house of the test's browsers from now on.
func (h house) hosts(t *testing.T) { houses.Store(whole(t), h) }

// here is the house of the test's browsers.
func here(t *testing.T) house {
	h, _ := houses.Load(whole(t))
	known, _ := h.(house)
	return known
}

// whole is the name of a test without that of its part.
func whole(t *testing.T) string {
	name, _, _ := strings.Cut(t.Name(), "/")
	return name
}

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

// browser is a profile of its own in headless Chromium.
func browser(t *testing.T) *rod.Browser {
	t.Helper()
	b, err := chromium()
	require.NoError(t, err)
	own, err := b.Incognito()
	require.NoError(t, err)
	t.Cleanup(func() { _ = own.Close() })
	own.MustPage("about:blank") // stays, and its process with it, when a test closes the only page it has
	return own
}

// chromium starts the browser that all tests share, once; each has a profile of its own in
// it. It ends with the tests.
var chromium = sync.OnceValues(func() (*rod.Browser, error) {
	bin := os.Getenv("CHROMIUM")
	if bin == "" {
		bin = "/usr/bin/chromium-headless-shell" // Chromium without windows: half the work for the same pages
	}
	if _, err := os.Stat(bin); err != nil {
		return nil, fmt.Errorf("no browser at %s: run scripts/test, which installs it", bin)
	}
	l := launcher.New().Bin(bin).Leakless(false).NoSandbox(true).Headless(true)
	for _, f := range []flags.Flag{"disable-background-networking", "disable-component-update", "disable-sync", "no-first-run", "hide-scrollbars", "disable-gpu",
		"disable-renderer-backgrounding", "disable-background-timer-throttling", "disable-backgrounding-occluded-windows"} {
		l.Set(f)
	}
	// A profile's pages share one process: starting others is a fifth of what opening a page costs.
	l.Set("renderer-process-limit", "1").Set("disable-site-isolation-trials")
	address, err := l.Launch()
	if err != nil {
		return nil, err
	}
	b := rod.New().ControlURL(address)
	if err := b.Connect(); err != nil {
		return nil, err
	}
	endings = append(endings, func() {
		_ = b.Close()
		l.Kill()
		l.Cleanup()
	})
	return b, nil
})

// endings are done when all tests have ended.
var endings []func()

// lifetime is how long a page of a test may be open: longer than any takes.
const lifetime = 8 * time.Minute

// open opens an address at a viewport and a device scale factor. A script
// error on the page fails the test.
func open(t *testing.T, b *rod.Browser, address string, width, height int, scale float64) *rod.Page {
	t.Helper()
	p := b.MustPage().Timeout(lifetime) // nothing waits for ever
	go p.EachEvent(func(e *proto.RuntimeExceptionThrown) {
		t.Errorf("script error on %s (opened at %s): %s", e.ExceptionDetails.URL, address, e.ExceptionDetails.Exception.Description)
	})()
	p.MustSetViewport(width, height, scale, false)
	if h := here(t); strings.HasPrefix(address, h.app+"/") {
		h.enter(t, p)
	}
	p.MustNavigate(address).MustWaitLoad()
	return p
}

// leafing opens one address after the other in the same tab, which costs half as much as a tab for
// each of them.
func leafing(t *testing.T, b *rod.Browser, width, height int) func(address string) *rod.Page {
	var p *rod.Page
	return func(address string) *rod.Page {
		t.Helper()
		if p == nil {
			p = open(t, b, address, width, height, 1)
		} else {
			p.MustNavigate(address).MustWaitLoad()
		}
		return p
	}
}

// leaving reports whether a page could not be asked because it was being replaced by the next
// one at that moment, which is to be asked instead.
func leaving(err error) bool {
	return strings.Contains(err.Error(), "navigated or closed") || strings.Contains(err.Error(), "context was destroyed") || strings.Contains(err.Error(), "Cannot find context")
}

// waitFor waits until a condition written in JavaScript holds.
func waitFor(t *testing.T, p *rod.Page, condition string) {
	t.Helper()
	var err error
	for end := time.Now().Add(patience); time.Now().Before(end); {
		if err = p.Timeout(patience).Wait(rod.Eval(`() => ` + condition)); err == nil {
			return
		}
		if !leaving(err) {
			break
		}
	}
	t.Fatalf("waited in vain for %s: %v\n%s", condition, err, inSight(p))
}

// inSight tells where a page is, for whoever asks why something did not come.
func inSight(p *rod.Page) string {
	seen, err := p.Timeout(patience / 9).Eval(`() => [
		'at ' + location.href + ', ' + document.visibilityState,
		'the hand on ' + (document.activeElement?.outerHTML ?? '').slice(0, 200),
		'told: ' + (document.getElementById('notice')?.innerText ?? ''),
		'steps: ' + (document.getElementById('history')?.innerText ?? '').replace(/\s+/g, ' ').slice(0, 300),
		'under way: ' + [...document.querySelectorAll('.htmx-request')].map((el) => el.outerHTML.slice(0, 120)).join(' | '),
		'keys: ' + [...document.querySelectorAll('[data-key]')].map((b) => b.dataset.key + (b.disabled ? ' off' : '') + (b.value ? ' ' + b.value : '')).join(', '),
	].join('\n')`)
	if err != nil {
		return err.Error()
	}
	return seen.Value.Str()
}

// frameWhere returns the document in a frame once a condition holds in it. A frame that is still
// being loaded is looked at anew.
func frameWhere(t *testing.T, p *rod.Page, selector, condition string) *rod.Page {
	t.Helper()
	var err error
	for end := time.Now().Add(patience); time.Now().Before(end); {
		var el *rod.Element
		if el, err = p.Timeout(patience).Element(selector); err != nil {
			break
		}
		var frame *rod.Page
		if frame, err = el.Frame(); err != nil {
			continue
		}
		frame = frame.Context(p.GetContext()) // no longer bound to the time that looking for it had
		if err = frame.Timeout(patience / 9).Wait(rod.Eval(`() => ` + condition)); err == nil {
			return frame
		}
	}
	t.Fatalf("waited in vain for %s in the frame %s: %v", condition, selector, err)
	return nil
}

// calm waits until nothing is under way: what was answered is in its place and
// can be used.
func calm(t *testing.T, p *rod.Page) {
	t.Helper()
	waitFor(t, p, `!document.querySelector('.htmx-request, .htmx-swapping, .htmx-settling, .htmx-added')`)
}

// hit clicks an element as a hand does: the one of a selector and, where it is given,
// a pattern that its text matches. Where an answer redrew or moved it in the moment of
// the click, it is clicked where it is now.
func hit(t *testing.T, p *rod.Page, selector string, pattern ...string) {
	t.Helper()
	var err error
	at := p.MustInfo().URL
	for range 8 {
		waitFor(t, p, `document.readyState === 'complete'`) // before that its scripts may not listen
		find := p.Timeout(patience)
		var el *rod.Element
		if len(pattern) > 0 {
			el = waitText(t, p, selector, pattern[0])
		} else if el, err = find.Element(selector); err != nil {
			break
		} else {
			el = el.CancelTimeout()
		}
		if err = strike(el); err == nil || led(p, at) {
			return
		}
	}
	t.Fatalf("%s %v cannot be clicked: %v", selector, pattern, err)
}

// led reports whether a click led away from an address all the same: what was redrawn under the
// pointer took it, and is another element than the one that was asked.
func led(p *rod.Page, from string) bool {
	err := p.Timeout(patience / 40).Wait(rod.Eval(`(from) => location.href !== from`, from))
	return err == nil || leaving(err)
}

// strike clicks an element, and tells where the click did not reach it. That is noted as a property: when the
// element is redrawn at that moment, an attribute would go, and a second click would close what the first opened.
func strike(el *rod.Element) error {
	if _, err := el.Eval(`() => { this.struck = false; this.addEventListener('click', () => { this.struck = true }, { once: true, capture: true }); }`); err != nil {
		return err
	}
	if err := el.Timeout(patience / 9).WaitStableRAF(); err != nil { // it may have been redrawn, and is gone
		return err
	}
	if err := el.Timeout(patience/4).Click(proto.InputMouseButtonLeft, 1); err != nil {
		return err
	}
	struck, err := el.Timeout(patience / 18).Eval(`() => this.struck === true`) // a page that is leaving does not answer
	if err != nil || struck.Value.Bool() {
		return nil // where it led away, nothing is left to ask
	}
	return errors.New("it moved away from the pointer")
}

// focus leads the hand to an element, as soon as it is there.
func focus(t *testing.T, p *rod.Page, selector string) {
	t.Helper()
	waitFor(t, p, `(() => { const el = document.querySelector(`+strconv.Quote(selector)+`); el?.focus(); return el !== null && document.activeElement === el; })()`)
}

// write puts words into a field as hands do, and leaves it with Tab.
func write(t *testing.T, p *rod.Page, field, text string) {
	t.Helper()
	calm(t, p)
	focus(t, p, field)
	p.MustEval(`() => document.activeElement.select?.()`)
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
	waitFor(t, p, `document.readyState === 'complete'`) // before that its scripts may not listen
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

// dragInto moves what is grasped to an element of the page as a hand does that follows it with the
// eyes: near an edge the page scrolls, and where it comes to is looked at again. It lets go when
// the page shows that it is what is aimed at.
func dragInto(t *testing.T, p *rod.Page, x, y float64, selector string) {
	t.Helper()
	p.Mouse.MustMoveTo(x, y)
	p.Mouse.MustDown(proto.InputMouseButtonLeft)
	for end := time.Now().Add(patience); time.Now().Before(end); {
		at := p.MustEval(`(s) => {
			const el = document.querySelector(s), r = el.getBoundingClientRect();
			return [r.left + r.width / 2, Math.min(innerHeight - 8, Math.max(8, r.top + r.height / 2)), el.classList.contains('aimed') ? 1 : 0];
		}`, selector).Arr()
		if toX, toY := at[0].Num(), at[1].Num(); x != toX || y != toY {
			x, y = x+(toX-x)/2, y+(toY-y)/2
			if max(math.Abs(x-toX), math.Abs(y-toY)) < 2 {
				x, y = toX, toY
			}
		} else if at[2].Int() == 1 {
			p.Mouse.MustUp(proto.InputMouseButtonLeft)
			return
		}
		p.Mouse.MustMoveTo(x, y)
	}
	t.Fatalf("%s is never aimed at", selector)
}

// body is what an address answers.
func body(t *testing.T, address string) string {
	t.Helper()
	res, err := here(t).client.Get(address)
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
	for end := time.Now().Add(patience); err != nil && leaving(err) && time.Now().Before(end); {
		el, err = p.Timeout(patience).ElementR(selector, pattern)
	}
	if err != nil {
		body, _ := p.Timeout(5 * time.Second).Eval(`() => document.body.innerText`)
		if body != nil {
			t.Fatalf("no %s with %q: %v\non the screen:\n%s", selector, pattern, err, body.Value.Str())
		}
		t.Fatalf("no %s with %q: %v", selector, pattern, err)
	}
	return el.CancelTimeout()
}
