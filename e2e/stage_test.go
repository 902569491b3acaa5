package e2e

import (
	"bytes"
	"image"
	"image/png"
	"net/url"
	"strconv"
	"strings"
	"testing"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/facts"
	"mivlet/core/raster"
)

// frameOf reads the frame that the server holds: left, top, width, height.
func frameOf(p *rod.Page) (f [4]float64) {
	for i, v := range strings.Fields(*p.MustElement("#figures").MustAttribute("data-frame")) {
		f[i], _ = strconv.ParseFloat(v, 64)
	}
	return f
}

// press types a key where no field has the hand.
func press(t *testing.T, p *rod.Page, key input.Key) {
	t.Helper()
	calm(t, p)
	p.MustEval(`() => document.activeElement?.blur()`)
	require.NoError(t, p.Keyboard.Type(key))
}

// The eye: all of it, the pixels of the original in tiles, moved about with Space
// held and with the wheel, nearer and farther about the pointer, and back.
func TestTheEyeOnTheStage(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/bench/8", 1280, 800, 1) // 3000 × 2000
	at := atHand(t, p)
	waitText(t, p, "#zoom-told", "all of it")
	press(t, p, '2')
	waitText(t, p, "#zoom-told", "^100 % of the original, ")
	waitFor(t, p, `document.querySelectorAll('#tiles image').length > 2 && document.getElementById('tiles').dataset.waiting === '0'`)
	before := p.MustElement("#zoom-told").MustText()

	x, y := at(1500, 1000)
	require.NoError(t, p.Keyboard.Press(input.Space))
	drag(p, x, y, x+150, y+60)
	require.NoError(t, p.Keyboard.Release(input.Space))
	waitFor(t, p, `document.getElementById('zoom-told').textContent !== `+strconv.Quote(before))
	assert.Equal(t, [4]float64{0, 0, 3000, 2000}, frameOf(p), "moving about frames nothing")
	moved := p.MustElement("#zoom-told").MustText()
	require.NoError(t, proto.InputDispatchMouseEvent{Type: proto.InputDispatchMouseEventTypeMouseWheel, X: x, Y: y, DeltaY: 120}.Call(p))
	waitFor(t, p, `document.getElementById('zoom-told').textContent !== `+strconv.Quote(moved))

	// What lies under the pointer stays there while the zoom changes.
	under := func() (float64, float64) {
		v := p.MustElement("#plane").MustEval(`(x, y) => { const p = new DOMPoint(x, y).matrixTransform(this.getScreenCTM().inverse()); return [p.x, p.y] }`, x, y)
		return v.Get("0").Num(), v.Get("1").Num()
	}
	ux, uy := under()
	require.NoError(t, proto.InputDispatchMouseEvent{Type: proto.InputDispatchMouseEventTypeMouseWheel, X: x, Y: y, DeltaY: -200, Modifiers: 2}.Call(p))
	waitFor(t, p, `parseInt(document.getElementById('zoom-told').textContent) > 120`)
	nx, ny := under()
	assert.InDelta(t, ux, nx, 2)
	assert.InDelta(t, uy, ny, 2)
	hit(t, p, `[name=slot][value=wide]`)
	waitText(t, p, "#zoom-told", "all of it") // a change of size brings all of it back
	waitFor(t, p, `document.querySelectorAll('#tiles image').length === 0`)
	press(t, p, '1')
	waitText(t, p, "#zoom-told", "^32 % of the original") // 960 of 3000
}

// Each gesture on the frame: the picture pulled beneath it, a ratio that shapes
// and holds, sizes that follow each other as they are typed, a line drawn along
// the horizon, and the line that a frame may not be smaller than.
func TestGesturesOnTheFrame(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/bench/9", 1280, 800, 1) // 3600 × 2400
	at := atHand(t, p)
	x0, y0 := at(1000, 600)
	x1, y1 := at(2200, 1400)
	drag(p, x0, y0, x1, y1)
	waitFor(t, p, `!document.getElementById('figures').dataset.frame.endsWith('3600 2400')`)
	calm(t, p)
	was := frameOf(p)

	// Alt: the frame stands on the screen, the picture moves to the right under it.
	before := p.MustElement("#frame .body").MustShape().Box()
	mx, my := at(1600, 1000)
	require.NoError(t, p.Keyboard.Press(input.AltLeft))
	p.Mouse.MustMoveTo(mx, my)
	p.Mouse.MustDown(proto.InputMouseButtonLeft)
	for i := 1; i <= 4; i++ {
		p.Mouse.MustMoveTo(mx+float64(10*i), my)
	}
	held := p.MustElement("#frame .body").MustShape().Box()
	assert.InDelta(t, before.X, held.X, 1.5, "it stands still")
	p.Mouse.MustUp(proto.InputMouseButtonLeft)
	require.NoError(t, p.Keyboard.Release(input.AltLeft))
	waitFor(t, p, `Number(document.getElementById('figures').dataset.frame.split(' ')[0]) < `+strconv.FormatFloat(was[0]-20, 'f', 0, 64))
	assert.InDelta(t, was[2], frameOf(p)[2], 1, "as large as before")

	calm(t, p)
	p.MustElement("#ratio").MustSelect("1:1")
	waitFor(t, p, `(() => { const f = document.getElementById('figures').dataset.frame.split(' '); return Math.abs(f[2] - f[3]) <= 1 })()`)
	calm(t, p)
	focus(t, p, "#frame-w")
	p.MustEval(`() => document.activeElement.select()`)
	require.NoError(t, p.InsertText("700"))
	assert.Equal(t, "700", p.MustElement("#frame-h").MustProperty("value").Str(), "the height follows while the width is typed")
	require.NoError(t, p.Keyboard.Type(input.Tab))
	waitFor(t, p, `document.getElementById('figures').dataset.frame.endsWith('700 700')`)

	// A frame below the slot's 640 pixels is soft, and its least line shows.
	calm(t, p)
	p.MustElement("#ratio").MustSelect("free")
	write(t, p, "#frame-w", "500")
	waitFor(t, p, `document.querySelector("#frame.soft.bounded") !== null`)
	assert.Equal(t, "640", *p.MustElement("#frame .least").MustAttribute("width"))

	press(t, p, 'e')
	waitFor(t, p, `document.querySelector("#bench.hiding") !== null`)
	x0, y0 = at(600, 1200)
	x1, y1 = at(2600, 1130) // two degrees up to the right
	drag(p, x0, y0, x1, y1)
	waitFor(t, p, `document.getElementById('stage').dataset.slant === '2'`) // in place: nothing is loaded anew
	waitText(t, p, "#degrees", "^2.0°$")
}

// A free outline, a copy by key, a veil that no pointer drew, and lines of text
// that are hidden in one act.
func TestVeilsOfEveryKind(t *testing.T) {
	h := startReading(t, "demo")
	p := open(t, browser(t), h.app+"/bench/8", 1280, 800, 1)
	at := atHand(t, p)
	press(t, p, 'y')
	p.Mouse.MustMoveTo(at(1000, 600))
	p.Mouse.MustDown(proto.InputMouseButtonLeft)
	for _, c := range [][2]float64{{1400, 500}, {1600, 800}, {1300, 1100}, {1000, 950}} {
		x, y := at(c[0], c[1])
		require.NoError(t, p.Mouse.MoveLinear(proto.NewPoint(x, y), 6))
	}
	waitFor(t, p, `document.getElementById('veil-look').dataset.shown > 0`) // it shows while it is drawn
	p.Mouse.MustUp(proto.InputMouseButtonLeft)
	waitFor(t, p, `document.querySelectorAll('.veil-list li').length === 1`)
	first := veilsOf(t, p)[0]
	assert.Equal(t, "polygon", first.Shape)
	assert.InDelta(t, 1000, first.X, 25)
	assert.InDelta(t, 600, first.W, 40)

	calm(t, p)
	focus(t, p, ".veil")
	require.NoError(t, p.Keyboard.Type('v'))
	waitFor(t, p, `document.querySelectorAll('.veil-list li').length === 2`)
	assert.InDelta(t, first.W, veilsOf(t, p)[1].W, 2, "a copy is as large")

	press(t, p, 'o')
	require.NoError(t, p.Keyboard.Type(input.Enter))
	waitFor(t, p, `document.querySelectorAll('.veil-list li').length === 3`)
	middle := veilsOf(t, p)[2]
	assert.InDelta(t, 1500, middle.X+middle.W/2, 2, "in the middle of the frame")

	for n := 3; n > 0; n-- {
		press(t, p, 'u')
		waitFor(t, p, `document.querySelectorAll('.veil-list li').length === `+strconv.Itoa(n-1))
	}
	calm(t, p)
	hit(t, p, "#find-lines")
	waitText(t, p, "#proposals", "lines that can be read")
	all := p.MustEval(`() => document.querySelectorAll('#proposals li').length`).Int()
	assert.Equal(t, all, p.MustEval(`() => document.querySelectorAll('#lines rect').length`).Int(), "each is outlined")
	hit(t, p, "#proposals li button")
	waitFor(t, p, `document.querySelectorAll('#proposals li').length === `+strconv.Itoa(all-1))
	hit(t, p, "#proposals button", "Hide all")
	waitText(t, p, "#proposals", "All of them are hidden")
	assert.Len(t, veilsOf(t, p), all)
	hit(t, p, "#proposals button", "Leave them")
	waitFor(t, p, `document.activeElement?.id === 'find-lines' && !document.querySelector('#proposals li')`)
}

// Two people at one picture: each sees that the other is there and what they do,
// and nobody's steps are lost.
func TestTwoBrowsersOnOnePicture(t *testing.T) {
	h := start(t, "demo")
	ines := open(t, browser(t), h.app+"/bench/9", 1280, 800, 1)
	atHand(t, ines)
	h.as(t, 3).hosts(t) // Marta, who publishes for the juniors
	marta := open(t, browser(t), h.app+"/bench/9", 1280, 800, 1)
	atHand(t, marta)
	waitText(t, marta, "#here", "Ines Varrow is here, too")
	waitText(t, ines, "#here", "is here, too")
	write(t, marta, "#frame-w", "2000")
	waitFor(t, ines, `document.getElementById('figures').dataset.frame.endsWith(' 2000 2400')`)
	calm(t, ines)
	press(t, ines, 'u')
	waitFor(t, marta, `document.getElementById('figures').dataset.frame.endsWith(' 3600 2400')`)
	write(t, ines, "#frame-h", "1200")
	waitFor(t, marta, `document.getElementById('figures').dataset.frame.endsWith(' 3600 1200')`)
	calm(t, marta)
	hit(t, marta, "#history summary")
	hit(t, marta, "#history .left-aside button", "2000 × 2400")
	waitFor(t, marta, `document.getElementById('figures').dataset.frame.endsWith(' 2000 2400')`)
	ines.MustClose()
	waitFor(t, marta, `document.getElementById('here').textContent === ''`)
}

// Six pictures are named, described and fitted without a pointer.
func TestABatchByKeyboardOnly(t *testing.T) {
	h := start(t, "demo")
	form := url.Values{"slot": {"column"}, "section": {"juniors"}, "picture": {"10", "11", "13"}}
	res, err := h.client.PostForm(h.app+"/arrivals/send", form)
	require.NoError(t, err)
	res.Body.Close()
	require.Equal(t, 303, res.StatusCode)
	p := open(t, browser(t), h.app+"/bench", 1280, 800, 1)
	words := []string{"A lake at dusk", "Boats wait on their racks", "Paddles lean at the wall", "Two volunteers dip a net", "A van stands at the shore", "Soup steams in a pot", "Skippers talk on the jetty", "A map hangs in the shed", "Ropes lie in rings", "A child waves a paddle", "Red boats race by", "The board of the club"}
	type field struct{ key, text string }
	for n := 0; ; n++ {
		require.Less(t, n, len(words), "it comes to an end")
		waitFor(t, p, `document.readyState === 'complete' && document.querySelector('#frame .body')?.getAttribute('width') > 0`)
		calm(t, p)
		if p.MustEval(`() => Boolean(document.querySelector('.done'))`).Bool() {
			assert.GreaterOrEqual(t, n, 6)
			break
		}
		where := p.MustInfo().URL
		name := strings.ToLower(strings.ReplaceAll(words[n], " ", "-"))
		section := p.MustEval(`() => document.querySelector('#name').placeholder.split('-')[0]`).Str()
		fields := []field{{"d", words[n]}, {"n", section + "-" + name}}
		// A frame, with the keys of the frame alone.
		require.NoError(t, p.Keyboard.Type('f'))
		p.MustEval(`() => { window.sized = document.getElementById('tools').dataset.step }`)
		require.NoError(t, p.KeyActions().Press(input.AltLeft).Type(input.ArrowUp).Release(input.AltLeft).Do())
		waitFor(t, p, `document.getElementById('tools').dataset.step !== window.sized`)
		for i, f := range fields {
			press(t, p, input.Key(f.key[0]))
			require.NoError(t, p.KeyActions().Press(input.ControlLeft).Type('a').Release(input.ControlLeft).Do())
			require.NoError(t, p.InsertText(f.text))
			if i == 0 {
				require.NoError(t, p.Keyboard.Type(input.Tab))
				calm(t, p)
				continue
			}
			wait := p.MustWaitNavigation()
			require.NoError(t, p.KeyActions().Press(input.ControlLeft).Type(input.Enter).Release(input.ControlLeft).Do())
			wait()
		}
		waitFor(t, p, `location.href !== `+strconv.Quote(where))
	}
	assert.NotContains(t, p.MustElement("#batch").MustHTML(), "mark-stop")
}

// What comparing shows at its own size is the cut that is made, pixel for pixel:
// structural similarity of at least 0.98.
func TestTheTrueSizeIsTheCut(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/bench/9", 1500, 1100, 1)
	atHand(t, p)
	hit(t, p, `[name=slot][value=half]`)
	waitFor(t, p, `/sharp desktop/.test(document.getElementById('figures').innerText) && !/about/.test(document.getElementById('figures').innerText)`)
	calm(t, p)
	press(t, p, 'k')
	waitFor(t, p, `document.getElementById('pair')?.dataset.ready > 0`)
	p.MustEval(`() => { const w = document.getElementById('wipe'); w.value = 0; w.dispatchEvent(new Event('input', { bubbles: true })); document.getElementById('wipe-line').remove(); for (const b of document.querySelectorAll('.pair b')) b.remove(); }`)
	box := p.MustElement("#pair-cut").MustShape().Box()
	shot, err := p.Screenshot(false, &proto.PageCaptureScreenshot{Format: proto.PageCaptureScreenshotFormatPng, Clip: &proto.PageViewport{X: box.X, Y: box.Y, Width: box.Width, Height: box.Height, Scale: 1}})
	require.NoError(t, err)
	shown, err := png.Decode(bytes.NewReader(shot))
	require.NoError(t, err)
	assert.Equal(t, image.Pt(930, 620), shown.Bounds().Size(), "465 CSS px at two pixels each")

	// The cut that was made: what the card lists.
	card := body(t, h.app+"/pictures/9")
	i := strings.Index(card, "/cuts/")
	require.Positive(t, i)
	var best image.Image
	for _, rest := range strings.Split(card, "/cuts/")[1:] {
		data := []byte(body(t, h.app+"/cuts/"+rest[:strings.IndexAny(rest, `"?`)]))
		known, err := facts.Read(bytes.NewReader(data))
		require.NoError(t, err)
		if known.Upright().W != 930 {
			continue
		}
		s, err := raster.Decode(bytes.NewReader(data), known, raster.Limits{Side: 1 << 15, Pixels: 1 << 28, Bytes: 1 << 30})
		require.NoError(t, err)
		best = s.Image()
	}
	require.NotNil(t, best, "the card lists the cut")
	assert.GreaterOrEqual(t, raster.SSIM(best, shown), 0.98)
}

// An animation plays on the stage with its veils, has its frames in a strip, and
// says where it would stand still.
func TestAnAnimationPlaysOnTheStage(t *testing.T) {
	h := start(t, "demo")
	form := url.Values{"slot": {"column"}, "section": {"juniors"}, "picture": {"12"}}
	res, err := h.client.PostForm(h.app+"/arrivals/send", form)
	require.NoError(t, err)
	res.Body.Close()
	p := open(t, browser(t), h.app+"/bench/12", 1280, 800, 1)
	drawVeil(t, p, "Box", 40, 30, 200, 90)
	calm(t, p)
	frames := p.MustEval(`async () => {
		const res = await fetch(document.getElementById('stage-image').getAttribute('href'));
		const d = new ImageDecoder({ data: res.body, type: res.headers.get('Content-Type') });
		await d.completed; await d.tracks.ready;
		return d.tracks.selectedTrack.frameCount;
	}`).Int()
	assert.Equal(t, 24, frames)
	waitFor(t, p, `[...document.querySelectorAll('#frames img')].length === 16 && [...document.querySelectorAll('#frames img')].every((i) => i.complete && i.naturalWidth > 0)`)
	hit(t, p, "#frames li:nth-child(9) button")
	waitText(t, p, "#frames .aside", "visitors see frame 13")

	// For who asks for less motion it stands still.
	assert.False(t, p.MustElement(".when-still").MustVisible())
	medium(t, p, "prefers-reduced-motion", "reduce")
	waitFor(t, p, `document.cookie.includes('mivlet-still=1')`)
	p.MustNavigate(h.app + "/bench/12").MustWaitLoad()
	kind := p.MustEval(`async () => (await fetch(document.getElementById('stage-image').getAttribute('href'), { cache: 'reload' })).headers.get('Content-Type')`).Str()
	assert.Contains(t, []string{"image/jpeg", "image/png"}, kind)
	assert.True(t, p.MustElement(".when-still").MustVisible(), "and it can be seen to move")
}
