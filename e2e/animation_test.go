package e2e

import (
	"fmt"
	"net/http"
	"net/http/httptest"
	"net/url"
	"os/exec"
	"path/filepath"
	"regexp"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/internal/reference"
)

// A resized animation as a real browser decodes it: its frames, their times,
// how often it plays, and its size (WebCodecs, ImageDecoder).
func TestABrowserSeesTheAnimationMove(t *testing.T) {
	dir := t.TempDir()
	out, err := exec.Command(program, "cut", demoPicture(t, "paddle-stroke.gif"), "--width", "300", "-o", dir, "--name", "a").CombinedOutput()
	require.NoError(t, err, "%s", out)
	out, err = exec.Command(program, "cut", demoPicture(t, "paddle-stroke.gif"), "--width", "240", "--format", "gif", "-o", dir, "--name", "a").CombinedOutput()
	require.NoError(t, err, "%s", out)
	files := httptest.NewServer(http.FileServer(http.Dir(dir)))
	defer files.Close()
	p := open(t, browser(t), files.URL+"/", 800, 600, 1)
	for name, width := range map[string]int{"a-300.webp": 300, "a-240.gif": 240} {
		kind := "image/" + filepath.Ext(name)[1:]
		seen := p.MustEval(`async (name, type) => {
			const d = new ImageDecoder({ data: (await fetch(name)).body, type });
			await d.completed; await d.tracks.ready;
			const track = d.tracks.selectedTrack;
			const times = [];
			let size;
			for (let i = 0; i < track.frameCount; i++) {
				const { image } = await d.decode({ frameIndex: i });
				times.push(image.duration / 1000); size = [image.displayWidth, image.displayHeight];
			}
			return { frames: track.frameCount, repeats: track.repetitionCount === Infinity, times, size };
		}`, "/"+name, kind)
		assert.Equal(t, 24, seen.Get("frames").Int(), name)
		assert.True(t, seen.Get("repeats").Bool(), "%s plays for ever", name)
		assert.Equal(t, width, seen.Get("size.0").Int(), name)
		first := seen.Get("times.0").Num()
		assert.Positive(t, first)
		for _, ms := range seen.Get("times").Arr() {
			assert.Equal(t, first, ms.Num(), "%s: every frame as long as before", name)
		}
	}

	// A box that wanders over nothing leaves nothing behind, in both formats.
	box := filepath.Join(dir, "box.gif")
	reference.Run(t, "convert", "-dispose", "previous", "-delay", "10", "-size", "80x40", "xc:none", "-fill", "red", "-draw", "rectangle 0,0 19,39",
		"(", "-size", "80x40", "xc:none", "-fill", "red", "-draw", "rectangle 40,0 59,39", ")", "-loop", "0", box)
	for _, format := range []string{"gif", "webp"} {
		out, err := exec.Command(program, "cut", box, "--width", "40", "--format", format, "-o", dir, "--name", "box").CombinedOutput()
		require.NoError(t, err, "%s", out)
		seen := p.MustEval(`async (name, type) => {
			const d = new ImageDecoder({ data: (await fetch(name)).body, type });
			await d.completed; await d.tracks.ready;
			const at = [];
			for (let i = 0; i < 2; i++) {
				const { image } = await d.decode({ frameIndex: i });
				const c = new OffscreenCanvas(40, 20).getContext('2d');
				c.drawImage(image, 0, 0);
				at.push(c.getImageData(5, 10, 1, 1).data[3], c.getImageData(25, 10, 1, 1).data[3]);
			}
			return at.join(' ');
		}`, "/box-40."+format, "image/"+format).Str()
		assert.Equal(t, "255 0 0 255", seen, format)
	}
}

// A picture that moves on a live page is held still by a box, also with keys, and stands still at
// first for who asked for less motion (WCAG 2.2, SC 2.2.2 Pause, Stop, Hide; Media Queries 5,
// prefers-reduced-motion).
func TestWhatMovesCanBeHeldStill(t *testing.T) {
	h := start(t, "demo")
	res, err := h.client.PostForm(h.app+"/pages/8/mend", url.Values{"block": {"k3"}, "do": {"set-level"}, "value": {"2"}})
	require.NoError(t, err)
	res.Body.Close()
	res, err = h.client.PostForm(h.app+"/pages/8/publish", url.Values{"seen": {h.seen(t, 8)}, "reason": {"It is looked at here."}})
	require.NoError(t, err)
	res.Body.Close()
	p := open(t, browser(t), h.site+"/juniors/learn-the-stroke", 1280, 800, 1)
	shown := func() string {
		return p.MustEval(`() => [...document.querySelectorAll('.picture .moves, .picture .still')].filter((img) => img.checkVisibility()).map((img) => img.className).join()`).Str()
	}
	p.MustElement(".motion").MustScrollIntoView()
	assert.Equal(t, "moves", shown())
	said := p.MustElement(".motion").MustText()
	assert.Equal(t, "Pause", said)
	focus(t, p, ".motion input")
	require.NoError(t, p.Keyboard.Type(input.Space))
	assert.Equal(t, "still", shown())
	waitFor(t, p, `document.querySelector('.picture .still').naturalWidth > 0`)
	kind := p.MustEval(`async () => (await fetch(document.querySelector('.picture .still').currentSrc)).headers.get('Content-Type')`).Str()
	assert.Contains(t, []string{"image/jpeg", "image/png"}, kind, "in which nothing moves")
	same := p.MustEval(`() => { const [a, b] = ['moves', 'still'].map((c) => document.querySelector('.picture .' + c)); return a.alt === b.alt && a.alt !== ''; }`).Bool()
	assert.True(t, same, "both are described")

	medium(t, p, "prefers-reduced-motion", "reduce")
	p.MustReload().MustWaitLoad()
	assert.Equal(t, "still", shown())
	assert.Equal(t, "Play", p.MustElement(".motion").MustText())
	p.MustElement(".motion").MustClick()
	assert.Equal(t, "moves", shown())
	accessible(t, p, "a page with what moves")
	p.MustClose()
	p = open(t, browser(t), h.app+"/pages/8", 1280, 800, 1)
	waitFor(t, p, `document.querySelector('.held-still img')?.currentSrc.includes('/cuts/')`)
	medium(t, p, "prefers-reduced-motion", "reduce")
	waitFor(t, p, `document.querySelector('.held-still img')?.currentSrc.includes('/looks/')`) // still where it is worked on, too
	p.MustClose()
	heldStillInAnAlbum(t, h)
}

// heldStillInAnAlbum asserts that in an album the thumbnail of what moves stands still, and that
// what opens over the page can be held still, and is at first for who asks for less motion.
func heldStillInAnAlbum(t *testing.T, h house) {
	t.Helper()
	post := func(at string, form url.Values) {
		t.Helper()
		res, err := h.client.PostForm(h.app+at, form)
		require.NoError(t, err)
		res.Body.Close()
		require.Less(t, res.StatusCode, 400, at)
	}
	moving := numbered(t, h, "juniors-paddle-stroke")
	post("/albums/1/add", url.Values{"picture": {moving}})
	first := regexp.MustCompile(`data-picture="(\d+)"`).FindStringSubmatch(body(t, h.app+"/albums/1"))
	require.NotNil(t, first)
	post("/albums/1/move", url.Values{"picture": {moving}, "before": {first[1]}})
	post("/pages/6/publish", url.Values{"seen": {h.seen(t, 6)}, "reason": {"It is looked at here."}})

	p := open(t, browser(t), h.site+"/touring/the-season-in-pictures", 1280, 800, 1)
	kind := func(selector string) string {
		t.Helper()
		waitFor(t, p, fmt.Sprintf(`document.querySelector(%q)?.complete`, selector))
		return p.MustEval(fmt.Sprintf(`async () => (await fetch(document.querySelector(%q).currentSrc)).headers.get('Content-Type')`, selector)).Str()
	}
	thumb := `.album-thumb img[alt^="A paddler in a red kayak dips"]`
	p.MustElement(thumb).MustScrollIntoView()
	moves := "^image/(webp|gif)$" // at its own size it is as it came
	assert.NotRegexp(t, moves, kind(thumb), "a thumbnail stands still")
	opened := func() {
		t.Helper()
		hit(t, p, `.album-thumb a:has(img[alt^="A paddler in a red kayak dips"])`)
		waitFor(t, p, `document.querySelector('.album-over[open]:not(.changing) img')?.alt.startsWith('A paddler in a red kayak dips')`)
	}
	opened()
	assert.Regexp(t, moves, kind(".album-over img"), "it moves")
	accessible(t, p, "what moves, over its page")
	hit(t, p, ".album-motion", "Pause")
	assert.NotRegexp(t, moves, kind(".album-over img"), "it is held still")
	hit(t, p, ".album-motion", "Play")
	assert.Regexp(t, moves, kind(".album-over img"))
	medium(t, p, "prefers-reduced-motion", "reduce")
	p.MustReload().MustWaitLoad() // the page of the picture, as its address is there now
	shown := p.MustEval(`() => [...document.querySelectorAll('.album-large .moves, .album-large .still')].filter((img) => img.checkVisibility()).map((img) => img.className).join()`).Str()
	assert.Equal(t, "still", shown, "also on a page of its own")
	hit(t, p, ".album-large .motion, .album-page .motion")
	accessible(t, p, "what moves, on a page of its own")
	p.MustNavigate(h.site + "/touring/the-season-in-pictures").MustWaitLoad()
	opened()
	assert.NotRegexp(t, moves, kind(".album-over img"), "still at first for who asks for less motion")
}
