package e2e

import (
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// fingers makes a page one of a screen that is touched.
func fingers(t *testing.T, p *rod.Page) {
	t.Helper()
	two := 2
	require.NoError(t, proto.EmulationSetTouchEmulationEnabled{Enabled: true, MaxTouchPoints: &two}.Call(p))
}

// swipe leads as many fingers as there are paths over the glass, in eight steps each.
// A path is where it begins and where it ends: x, y, x, y.
func swipe(t *testing.T, p *rod.Page, paths ...[4]float64) {
	t.Helper()
	at := func(f float64) (points []*proto.InputTouchPoint) {
		for i, way := range paths {
			id := float64(i)
			points = append(points, &proto.InputTouchPoint{X: way[0] + (way[2]-way[0])*f, Y: way[1] + (way[3]-way[1])*f, ID: &id})
		}
		return points
	}
	for i := range paths { // one finger comes after the other
		require.NoError(t, p.Touch.Start(at(0)[:i+1]...))
	}
	for i := 1; i <= 8; i++ {
		require.NoError(t, p.Touch.Move(at(float64(i)/8)...))
	}
	// The hand rests before it lets go: else the glass is thrown, and the next tap only stops it.
	rested := proto.TimeSinceEpoch(float64(time.Now().Add(300*time.Millisecond).UnixMicro()) / 1e6)
	require.NoError(t, proto.InputDispatchTouchEvent{Type: proto.InputDispatchTouchEventTypeTouchEnd, TouchPoints: []*proto.InputTouchPoint{}, Timestamp: rested}.Call(p))
}

// One finger draws a frame; two zoom and move about, and draw nothing.
func TestFingersOnTheStage(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/bench/9", 1280, 800, 1) // 3600 × 2400
	fingers(t, p)
	at := atHand(t, p)
	x, y := at(1000, 600)
	toX, toY := at(3000, 2000)
	swipe(t, p, [4]float64{x, y, toX, toY})
	waitFor(t, p, `document.getElementById("tools").dataset.step === "1"`)
	calm(t, p)
	drawn := frameOf(p)
	for i, want := range []float64{1000, 600, 2000, 1400} {
		assert.InDelta(t, want, drawn[i], 20)
	}

	x, y = at(1800, 1200)
	swipe(t, p, [4]float64{x - 20, y, x - 120, y}, [4]float64{x + 20, y, x + 120, y})
	waitFor(t, p, `!document.getElementById('zoom-told').textContent.includes('all of it')`)
	calm(t, p)
	assert.Equal(t, drawn, frameOf(p), "two fingers draw nothing")
	assert.False(t, p.MustEval(`() => document.getElementById('frame').classList.contains('held')`).Bool(), "and hold nothing")

	// A further finger draws again, where one sees.
	hit(t, p, "[data-view=whole]")
	at = atHand(t, p)
	x, y = at(600, 300)
	toX, toY = at(1500, 1200)
	swipe(t, p, [4]float64{x, y, toX, toY})
	waitFor(t, p, `document.getElementById("tools").dataset.step === "2"`)
}

// A finger takes a picture from the tray to the page.
func TestAFingerBringsAPictureToThePage(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/pages/3", 1280, 1100, 1)
	hit(t, p, `.gap[data-gap="0"]`)
	waitText(t, p, ".panel h2", "Place a picture")
	fingers(t, p)
	calm(t, p)
	before := p.MustEval(`() => document.querySelectorAll('.sheet .placed').length`).Int()
	x, y := centre(t, p.MustElement(`.in-tray:has(img[alt="touring-jetty-at-dusk"])`))
	gap := p.MustElement(`.gap[data-gap="4"]`).MustShape().Box()
	swipe(t, p, [4]float64{x, y, gap.X + gap.Width/2, gap.Y + gap.Height/2})
	waitFor(t, p, `document.querySelectorAll('.sheet .placed').length === `+jsonOf(float64(before+1)))
}

// What lies below the window comes to the hand that waits at its edge.
func TestAPageScrollsUnderTheHandThatDrags(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/pages/1", 1280, 620, 1)
	hit(t, p, `.gap[data-gap="0"]`)
	waitText(t, p, ".panel h2", "Place a picture")
	calm(t, p)
	before := p.MustEval(`() => document.querySelectorAll('.sheet .placed').length`).Int()
	sheet := p.MustElement(".sheet").MustShape().Box()
	middle := sheet.X + sheet.Width/2
	x, y := centre(t, p.MustElement(`.in-tray img`))
	p.Mouse.MustMoveTo(x, y)
	p.Mouse.MustDown(proto.InputMouseButtonLeft)
	p.Mouse.MustMoveTo(middle, 300)
	p.Mouse.MustMoveTo(middle, 610) // and rests there
	waitFor(t, p, `scrollY > 0 && scrollY + innerHeight >= document.documentElement.scrollHeight - 2`)
	last := p.MustEval(`() => { const b = [...document.querySelectorAll('.sheet .gap')].at(-1).getBoundingClientRect(); return b.top + b.height / 2 }`).Num()
	require.Less(t, last, 620.0)
	p.Mouse.MustMoveTo(middle, last)
	waitFor(t, p, `[...document.querySelectorAll('.sheet .gap')].at(-1).classList.contains('aimed')`)
	p.Mouse.MustUp(proto.InputMouseButtonLeft)
	waitFor(t, p, `document.querySelectorAll('.sheet .placed').length === `+jsonOf(float64(before+1)))
	assert.True(t, p.MustEval(`() => [...document.querySelectorAll('.sheet [data-block]')].at(-1).matches('.placed, :has(.placed)')`).Bool(), "it stands at the end")
}

// A pen draws as a mouse does.
func TestAPenOnTheStage(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/bench/9", 1280, 800, 1)
	at := atHand(t, p)
	p.MustEval(`() => addEventListener('pointermove', (e) => { window.by = e.pointerType; }, true)`)
	pen := func(kind proto.InputDispatchMouseEventType, x, y float64) {
		down := 1
		require.NoError(t, proto.InputDispatchMouseEvent{Type: kind, X: x, Y: y, Button: proto.InputMouseButtonLeft, Buttons: &down, ClickCount: 1, Force: 0.5, PointerType: proto.InputDispatchMouseEventPointerTypePen}.Call(p))
	}
	x, y := at(1000, 600)
	toX, toY := at(2500, 1800)
	pen(proto.InputDispatchMouseEventTypeMousePressed, x, y)
	for i := 1; i <= 8; i++ {
		f := float64(i) / 8
		pen(proto.InputDispatchMouseEventTypeMouseMoved, x+(toX-x)*f, y+(toY-y)*f)
	}
	pen(proto.InputDispatchMouseEventTypeMouseReleased, toX, toY)
	waitFor(t, p, `document.getElementById("tools").dataset.step === "1"`)
	calm(t, p)
	assert.Equal(t, "pen", p.MustEval(`() => window.by`).Str())
	drawn := frameOf(p)
	for i, want := range []float64{1000, 600, 1500, 1200} {
		assert.InDelta(t, want, drawn[i], 20)
	}
}

// tap touches an element with one finger, where it can be seen without another hand.
func tap(t *testing.T, p *rod.Page, selector string, pattern ...string) {
	t.Helper()
	calm(t, p)
	el := waitText(t, p, selector, append(pattern, ".?")[0])
	require.NoError(t, el.ScrollIntoView())
	require.NoError(t, el.WaitStableRAF())
	x, y := centre(t, el)
	hit := p.MustEval(`(x, y, s) => { const on = document.elementFromPoint(x, y); const el = on?.closest(s) ?? on?.closest('label')?.control?.closest(s); return Boolean(el); }`, x, y, selector).Bool()
	require.True(t, hit, "%s lies under something else at %v, %v", selector, x, y)
	require.NoError(t, p.Touch.Tap(x, y))
}

// The whole job on a phone, with one finger and without enlarging: a photo is taken, fitted,
// hidden in part, named, described, placed and published. What is touched is 44 CSS pixels wide
// and high (WCAG 2.2, SC 2.5.5 Target Size, level AAA).
func TestTheWholeJobByTouch(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/arrivals", 390, 844, 2)
	fingers(t, p)
	large := func(selector string) {
		t.Helper()
		calm(t, p)
		box := p.MustElement(selector).MustEval(`() => { const b = this.getBoundingClientRect(); return [b.width, b.height]; }`).Arr()
		assert.GreaterOrEqual(t, box[0].Num(), 44.0, selector)
		assert.GreaterOrEqual(t, box[1].Num(), 44.0, selector)
	}
	camera := p.MustElement("#camera")
	assert.Equal(t, "environment", *camera.MustAttribute("capture"), "the camera behind (HTML Media Capture, 4)")
	large("label[for=camera]")
	camera.MustSetFiles(freshPhoto(t, "IMG_2140.JPG", "IMG_9601"))
	waitText(t, p, "#waiting .row", "IMG_9601.jpg")
	large("#send")
	tap(t, p, "#send")
	waitText(t, p, ".file", "IMG_9601.jpg")
	at := atHand(t, p)
	wide := p.MustEval(`() => document.getElementById('stage-image').getBoundingClientRect().width`).Num()
	assert.Greater(t, wide, 0.85*390, "the picture fills the width")

	// One finger draws the frame, another a box over what is private.
	x, y := at(300, 300)
	toX, toY := at(2700, 1900)
	swipe(t, p, [4]float64{x, y, toX, toY})
	waitFor(t, p, `document.getElementById("tools").dataset.step === "1"`)
	large("#thumb [data-show=hide]")
	tap(t, p, "#thumb [data-show=hide]")
	large("[data-draw=rect]")
	tap(t, p, "[data-draw=rect]")
	calm(t, p)
	at = atHand(t, p)
	x, y = at(1000, 800)
	toX, toY = at(1500, 1200)
	swipe(t, p, [4]float64{x, y, toX, toY})
	waitFor(t, p, `JSON.parse(document.getElementById('step-hide').dataset.veils).length === 1`)

	tap(t, p, "#thumb [data-show=describe]")
	large("#alt")
	tap(t, p, "#alt")
	require.NoError(t, p.InsertText(alt))
	tap(t, p, "#thumb [data-show=name]")
	tap(t, p, "#name")
	require.NoError(t, p.InsertText("juniors-off-the-jetty"))
	tap(t, p, "#thumb [data-show=place]")
	waitText(t, p, "#step-place a", "Autumn on the water")
	large("#step-place a")
	tap(t, p, "#step-place a", "Autumn on the water")

	waitText(t, p, ".picked", "juniors-off-the-jetty")
	tap(t, p, `.gap[data-gap="2"]`)
	waitText(t, p, ".panel h2", "Place a picture")
	large(".placing .primary")
	tap(t, p, ".placing .primary", "Place it")
	waitFor(t, p, `Boolean(document.querySelector('figure.placed'))`)
	calm(t, p)
	large(".panel .primary")
	tap(t, p, ".panel .primary", "Publish")
	waitText(t, p, ".report", "all is well")
	assert.Contains(t, body(t, h.site+"/juniors/autumn-on-the-water"), alt)
}
