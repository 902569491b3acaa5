package bench

import (
	"bufio"
	"bytes"
	"context"
	"encoding/json"
	"io"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/launcher"
	"github.com/go-rod/rod/lib/proto"
)

// BenchmarkHand measures in a real browser, on a photo of 24 megapixels, how soon
// the Bench follows the hand. It runs once:
//
//	go test -run '^$' -bench Hand -benchtime 1x ./bench
func BenchmarkHand(b *testing.B) {
	p := benchOf(b, "17") // DSC_0417.JPG, 6000 × 4000
	for range b.N {
		times, own := frameTimes(p)
		b.ReportMetric(percentile(own, 0.95), "ms-own-p95")
		b.ReportMetric(percentile(times, 0.5), "ms-frame-median")
		b.ReportMetric(percentile(times, 0.95), "ms-frame-p95")
		work, bare := mainFrames(b, p)
		b.ReportMetric(percentile(work, 0.5), "ms-work-median")
		b.ReportMetric(percentile(work, 0.95), "ms-work-p95")
		b.ReportMetric(percentile(bare, 0.95), "ms-bare-p95")
		b.ReportMetric(percentile(veilTimes(b, p), 0.5), "ms-veil-median")
		b.ReportMetric(percentile(slotTimes(b, p), 0.5), "ms-slot-median")
	}
}

// frameTimes draws a frame and notes how long after each move of the pointer the
// frame is drawn, to the end of the script that draws it, in ms; and how much of
// that is the script's own, without the browser's waiting and painting before it.
func frameTimes(p *rod.Page) (all, own []float64) {
	box := p.MustElement("#stage-image").MustShape().Box()
	p.MustEval(`() => { window.times = []; window.own = []; const s = document.getElementById('stage');
		s.addEventListener('pointermove', (e) => { window.began = e.timeStamp; window.called = performance.now(); }, true);
		new MutationObserver(() => { if (window.began) { window.times.push(performance.now() - window.began); window.own.push(performance.now() - window.called); window.began = 0; } }).observe(document.querySelector('#frame .body'), { attributes: true }); }`)
	drawFrame(p, box)
	return numbers(p.MustEval(`() => window.times`).Arr()), numbers(p.MustEval(`() => window.own`).Arr())
}

// drawFrame draws a frame over part of a box, in 120 moves.
func drawFrame(p *rod.Page, box *proto.DOMRect) {
	stroke(p, box.X+box.Width*0.2, box.Y+box.Height*0.2, 2, 1.2, 120)
}

// stroke draws from x, y in so many moves of dx, dy each.
func stroke(p *rod.Page, x, y, dx, dy float64, moves int) {
	p.Mouse.MustMoveTo(x, y)
	p.Mouse.MustDown(proto.InputMouseButtonLeft)
	for i := range moves {
		p.Mouse.MustMoveTo(x+float64(i)*dx, y+float64(i)*dy)
	}
	p.Mouse.MustUp(proto.InputMouseButtonLeft)
}

// mainFrames draws a frame and has the browser's own trace tell how long it is at work
// for each display frame of it, in ms: scripts, styles, layout and the list of what to
// paint, from the move it begins with until it is handed over to be painted. bare is
// the same on a page that does nothing but size one box.
func mainFrames(b *testing.B, p *rod.Page) (work, bare []float64) {
	wait(b, p, `!document.querySelector('.htmx-request')`)
	work = traced(b, p, func() { drawFrame(p, p.MustElement("#stage-image").MustShape().Box()) })
	empty := p.Browser().MustPage("data:text/html,<body style='height:800px'><div id=d style='background:red'></div><script>addEventListener('pointermove',(e)=>{d.style.width=e.clientX+'px';d.style.height=e.clientY+'px'})</script>")
	empty.MustSetViewport(1280, 800, 1, false).MustWaitLoad()
	bare = traced(b, empty, func() { drawFrame(empty, &proto.DOMRect{X: 100, Y: 100, Width: 600, Height: 400}) })
	empty.MustClose()
	p.MustActivate()
	return work, bare
}

// traced returns how long each main frame took that was traced while act went on, in ms.
func traced(b *testing.B, p *rod.Page, act func()) []float64 {
	b.Helper()
	browser := p.Browser()
	var stream proto.IOStreamHandle
	complete := browser.EachEvent(func(e *proto.TracingTracingComplete) bool { stream = e.Stream; return true })
	check(b, proto.TracingStart{TransferMode: proto.TracingStartTransferModeReturnAsStream, TraceConfig: &proto.TracingTraceConfig{IncludedCategories: []string{"cc"}}}.Call(browser))
	act()
	check(b, proto.TracingEnd{}.Call(browser))
	complete()
	var trace struct {
		TraceEvents []struct {
			Name  string
			Phase string  `json:"ph"`
			Dur   float64 // µs
		}
	}
	check(b, json.NewDecoder(rod.NewStreamReader(browser, stream)).Decode(&trace))
	var times []float64
	for _, e := range trace.TraceEvents {
		if e.Name == "ProxyMain::BeginMainFrame" && e.Phase == "X" {
			times = append(times, e.Dur/1000)
		}
	}
	return times
}

// veilTimes sizes a veil and notes how long each look at it takes to come.
func veilTimes(b *testing.B, p *rod.Page) []float64 {
	wait(b, p, `!document.querySelector('.htmx-request')`)
	box := p.MustElement("#stage-image").MustShape().Box()
	p.MustElement("[data-draw=ellipse]").MustClick()
	stroke(p, box.X+box.Width*0.4, box.Y+box.Height*0.4, 2, 2, 40)
	return numbers(p.MustEval(`() => performance.getEntriesByType('resource').filter((r) => r.name.includes('/veil/look')).map((r) => r.responseEnd - r.startTime)`).Arr())
}

// slotTimes chooses one slot after the other and notes when the new figures are
// in their place.
func slotTimes(b *testing.B, p *rod.Page) []float64 {
	var times []float64
	for _, slot := range []string{"side", "half", "wide", "column", "half", "side"} {
		wait(b, p, `!document.querySelector('.htmx-request')`)
		ms := p.MustEval(`(slot) => new Promise((done) => { const began = performance.now();
			document.addEventListener('htmx:oobAfterSwap', function seen(e) { if (e.detail.target.id !== 'figures') return; document.removeEventListener('htmx:oobAfterSwap', seen); done(performance.now() - began); });
			document.querySelector('[name=slot][value=' + slot + ']').click(); })`, slot).Num()
		times = append(times, ms)
	}
	return times
}

// benchOf starts the demo, sends an arrival to the bench and opens it there.
func benchOf(b *testing.B, picture string) *rod.Page {
	b.Helper()
	program := filepath.Join(b.TempDir(), "mivlet")
	if out, err := exec.Command("go", "build", "-o", program, "../cmd/mivlet").CombinedOutput(); err != nil {
		b.Fatalf("%v\n%s", err, out)
	}
	ctx, stop := context.WithCancel(context.Background())
	cmd := exec.CommandContext(ctx, program, "demo", "--addr", "127.0.0.1:0", "--site-addr", "127.0.0.1:0", "--previewer-addr", "127.0.0.1:0", "--data", b.TempDir())
	cmd.Cancel = func() error { return cmd.Process.Signal(os.Interrupt) }
	out, err := cmd.StdoutPipe()
	check(b, err)
	check(b, cmd.Start())
	b.Cleanup(func() { stop(); _ = cmd.Wait() })
	lines := bufio.NewScanner(out)
	app := ""
	for app == "" && lines.Scan() {
		if at, ok := strings.CutPrefix(lines.Text(), "Mivlet "); ok {
			app = strings.TrimSpace(at)
		}
	}
	go func() {
		for lines.Scan() {
		}
	}()
	jar, _ := cookiejar.New(nil)
	client := &http.Client{Jar: jar, CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
	res, err := client.PostForm(app+"/sign-in/demo", url.Values{"person": {"1"}})
	check(b, err)
	res.Body.Close()
	session := res.Cookies()[0]
	res, err = client.PostForm(app+"/arrivals/send", url.Values{"slot": {"column"}, "section": {"juniors"}, "picture": {picture}})
	check(b, err)
	res.Body.Close()
	client.Jar.SetCookies(res.Request.URL, []*http.Cookie{session})
	for quiet := time.Now().Add(3 * time.Minute); ; time.Sleep(time.Second) { // the demo still makes its pages and previews
		res, err := client.Get(app + "/live")
		check(b, err)
		text, err := io.ReadAll(res.Body)
		check(b, err)
		res.Body.Close()
		if bytes.Count(text, []byte("all is well")) == 2 {
			break
		}
		if time.Now().After(quiet) {
			b.Fatal("the demo does not come to rest")
		}
	}

	l := launcher.New().Bin("/usr/bin/chromium-headless-shell").Leakless(false).NoSandbox(true).Headless(true)
	at, err := l.Launch()
	check(b, err)
	browser := rod.New().ControlURL(at).MustConnect()
	b.Cleanup(func() { _ = browser.Close(); l.Cleanup() })
	p := browser.MustPage().MustSetViewport(1280, 800, 1, false)
	check(b, p.SetCookies([]*proto.NetworkCookieParam{{Name: session.Name, Value: session.Value, URL: app}}))
	began := time.Now()
	p.MustNavigate(app + "/bench/" + picture).MustWaitLoad()
	b.Logf("opened in %v", time.Since(began))
	wait(b, p, `document.querySelector('#frame .body')?.getAttribute('width') > 0`)
	return p
}

func wait(b *testing.B, p *rod.Page, condition string) {
	b.Helper()
	check(b, p.Timeout(40*time.Second).Wait(rod.Eval(`() => `+condition)))
}

func check(b *testing.B, err error) {
	b.Helper()
	if err != nil {
		b.Fatal(err)
	}
}

func numbers[T interface{ Num() float64 }](all []T) []float64 {
	out := make([]float64, len(all))
	for i, v := range all {
		out[i] = v.Num()
	}
	return out
}

func percentile(all []float64, p float64) float64 {
	if len(all) == 0 {
		return -1
	}
	slices.Sort(all)
	return all[min(len(all)-1, int(p*float64(len(all))))]
}
