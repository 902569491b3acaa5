package e2e

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"image/jpeg"
	"image/png"
	"math"
	"os"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/layout"
	"mivlet/core/page"
	"mivlet/core/rules"
)

// bandBox is where the first band of a live page lies in the window, and the file that the
// browser took for what stands behind it.
func bandBox(t *testing.T, p *rod.Page) (image.Rectangle, string) {
	t.Helper()
	waitFor(t, p, `(document.querySelector('.background img') || {}).complete && document.querySelector('.background img').naturalWidth > 0`)
	v := p.MustEval(`() => { const b = document.querySelector('.background').getBoundingClientRect();
		return [b.left, b.top, b.right, b.bottom, document.querySelector('.background img').currentSrc]; }`).Arr()
	n := func(i int) int { return int(math.Round(v[i].Num())) }
	return image.Rect(n(0), n(1), n(2), n(3)), v[4].Str()
}

var cutWidth = regexp.MustCompile(`-(\d+)(?:-[0-9a-f]{16})?\.jpg`)

// A browser takes for each window and density a file that is about as wide as shown: never
// one of more pixels than it shows (HTML Living Standard, 4.8.4: it chooses by media and
// sizes; which of srcset it takes is its own affair, so Chromium is asked).
func TestTheBrowserTakesTheBackgroundForItsScreen(t *testing.T) {
	h := start(t, "demo")
	waitLive(t, h)
	b := browser(t)
	for _, width := range []int{390, 768, 1280} {
		for _, density := range []float64{1, 2} {
			p := open(t, b, h.site+"/", width, 800, density)
			box, file := bandBox(t, p)
			found := cutWidth.FindStringSubmatch(file)
			require.NotNil(t, found, file)
			pixels, err := strconv.Atoi(found[1])
			require.NoError(t, err)
			shown := float64(box.Dx()) * density
			assert.InDelta(t, shown, pixels, 1, "%d at %g: %s", width, density, file)
			p.MustClose()
		}
	}
}

func waitLive(t *testing.T, h house) {
	t.Helper()
	require.Eventually(t, func() bool { return bytes.Count([]byte(body(t, h.app+"/live")), []byte("all is well")) >= 12 }, patience, 200*time.Millisecond)
}

// screenOf is what the window shows, as pixels.
func screenOf(t *testing.T, p *rod.Page) *image.RGBA {
	t.Helper()
	data, err := p.Screenshot(false, &proto.PageCaptureScreenshot{Format: proto.PageCaptureScreenshotFormatPng})
	require.NoError(t, err)
	m, err := png.Decode(bytes.NewReader(data))
	require.NoError(t, err)
	out := image.NewRGBA(m.Bounds())
	draw.Draw(out, out.Rect, m, m.Bounds().Min, draw.Src)
	return out
}

// worst is the least contrast of white text with any square of 16 px of an area: WCAG 2.2,
// definitions of relative luminance and contrast ratio, written down here once more.
func worst(m *image.RGBA, area image.Rectangle) float64 {
	linear := func(v uint8) float64 {
		c := float64(v) / 255
		if c <= 0.04045 {
			return c / 12.92
		}
		return math.Pow((c+0.055)/1.055, 2.4)
	}
	least := 21.0
	for at := area.Min.Y; at < area.Max.Y; at += 16 {
		for from := area.Min.X; from < area.Max.X; from += 16 {
			x, y, sum := min(from, area.Max.X-16), min(at, area.Max.Y-16), 0.0
			for dy := range 16 {
				for dx := range 16 {
					c := m.RGBAAt(x+dx, y+dy)
					sum += 0.2126*linear(c.R) + 0.7152*linear(c.G) + 0.0722*linear(c.B)
				}
			}
			least = min(least, 1.05/(sum/256+0.05))
		}
	}
	return least
}

// What is computed of the contrast is what a screenshot shows under the text, within 3 in
// 100; and the text stands where it was reckoned to.
func TestContrastOnTheScreen(t *testing.T) {
	h := start(t, "demo")
	waitLive(t, h)
	b := browser(t)
	panel := open(t, b, h.app+"/pages/17/background?block=fh1", 1280, 800, 1)
	waitText(t, panel, ".behind-says", "contrast")
	doc := demoDocs(t)[17]
	r := rules.Default()
	for _, d := range layout.Devices {
		said, err := strconv.ParseFloat(panel.MustEval(fmt.Sprintf(`() => document.querySelector('.on-%s [data-ratio]').dataset.ratio`, d)).Str(), 64)
		require.NoError(t, err)
		p := open(t, b, h.site+"/", d.Viewport(), 800, 1)
		box, _ := bandBox(t, p)
		require.Equal(t, page.BandRoom(r, doc.Blocks[0].Band).At(d).H, box.Dy(), "the text is not higher than the band")
		areas := doc.TextAreas(r, "fh1", d)
		require.Len(t, areas, 1)
		area := areas[0].Add(box.Min)
		texts := p.MustEval(`() => [...document.querySelectorAll('.backed h1, .backed p')].flatMap((e) => { const r = document.createRange(); r.selectNodeContents(e);
			return [...r.getClientRects()].map((b) => [b.left, b.top, b.right, b.bottom]); })`).Arr()
		require.NotEmpty(t, texts)
		for _, one := range texts {
			v := one.Arr()
			text := image.Rect(int(v[0].Num()), int(v[1].Num()), int(v[2].Num()), int(v[3].Num()))
			assert.True(t, text.In(area), "%v: %v does not lie in %v", d, text, area)
		}
		p.MustEval(`() => document.querySelectorAll('.backed h1, .backed p').forEach((e) => { e.style.visibility = 'hidden'; })`)
		measured := worst(screenOf(t, p), area)
		assert.InEpsilon(t, measured, said, 0.03, "%v", d)
		t.Logf("%v: computed %.3f, on the screen %.3f", d, said, measured)
		p.MustClose()
	}
}

// marked is a photo of quiet water with one thing that must stay in view.
func marked(t *testing.T) string {
	t.Helper()
	m := image.NewRGBA(image.Rect(0, 0, 2400, 1600))
	for y := range 1600 {
		for x := range 2400 {
			m.SetRGBA(x, y, color.RGBA{uint8(40 + (x*7+y*3)%23), uint8(70 + y/40), 90, 255})
		}
	}
	draw.Draw(m, image.Rect(2100, 260, 2220, 380), image.NewUniform(color.RGBA{230, 20, 200, 255}), image.Point{}, draw.Src)
	var b bytes.Buffer
	require.NoError(t, jpeg.Encode(&b, m, &jpeg.Options{Quality: 92}))
	file := filepath.Join(t.TempDir(), "buoy.jpg")
	require.NoError(t, os.WriteFile(file, b.Bytes(), 0o600))
	return file
}

// An editor drags the focal point to what matters; it stays in view on a phone, a tablet and
// a desktop. Darkening that the text needs is one click, and the drawing says when it is enough.
func TestAFocalPointStaysInView(t *testing.T) {
	h := start(t, "demo")
	waitLive(t, h)
	b := browser(t)
	p := open(t, b, h.app+"/arrivals", 1280, 800, 1)
	drop(t, p, "#strip", marked(t))
	waitText(t, p, "#waiting .row", "buoy")
	hit(t, p, "#send")
	waitText(t, p, ".file", "buoy.jpg")

	p.MustNavigate(h.app + "/pages/12").MustWaitLoad()
	hit(t, p, ".band-bar button", "Band: wide")
	waitText(t, p, ".behind-line", "yes")
	hit(t, p, ".behind-line button")
	waitText(t, p, ".panel h2", "Picture behind this band")
	hit(t, p, `.tray-found button[title="buoy.jpg"]`)
	waitText(t, p, ".behind-says", "contrast")
	waitFor(t, p, `document.querySelector('[data-focus-drawing]').viewBox.baseVal.width === 2400`)
	drawing := p.MustElement("[data-focus-drawing]")
	drawing.MustScrollIntoView()
	box := drawing.MustShape().Box()
	before := p.MustEval(`() => document.querySelector('.behind-part.on-phone').getAttribute('x')`).Str()
	drag(p, box.X+box.Width/2, box.Y+box.Height/2, box.X+0.9*box.Width, box.Y+0.2*box.Height)
	waitFor(t, p, `Math.abs(document.getElementById('background-across').value - 90) <= 1 && Math.abs(document.getElementById('background-down').value - 20) <= 1`)
	waitFor(t, p, `document.querySelector('.behind-part.on-phone').getAttribute('x') !== "`+before+`"`)
	calm(t, p)

	p.MustEval(`() => { const s = document.getElementById('background-shade'); s.value = 0; s.dispatchEvent(new Event('input', { bubbles: true })); s.dispatchEvent(new Event('change', { bubbles: true })); }`)
	waitText(t, p, ".lacks", "hard to read")
	hit(t, p, ".lacks .mend", "Darken to")
	waitFor(t, p, `!document.querySelector('.background-form .lacks') && document.querySelectorAll('.behind-says .reads').length === 3`)

	hit(t, p, ".panel button", "Back to the band")
	waitText(t, p, ".panel h2", "This band")
	hit(t, p, ".panel button", "Done")
	waitText(t, p, ".panel h2", "Sign-off")
	hit(t, p, "#page-sign summary")
	write(t, p, "#reason", "it is only for a test")
	hit(t, p, "#page-sign button", "Sign and publish")
	require.Eventually(t, func() bool { return strings.Contains(body(t, h.site+"/touring"), "buoy-390") }, patience, 100*time.Millisecond)

	for _, width := range []int{390, 768, 1280} {
		live := open(t, b, h.site+"/touring", width, 800, 1)
		box, file := bandBox(t, live)
		assert.Contains(t, file, "buoy")
		m, seen := screenOf(t, live), 0
		for y := box.Min.Y; y < box.Max.Y; y++ {
			for x := box.Min.X; x < box.Max.X; x++ {
				if c := m.RGBAAt(x, y); int(c.R) > 2*int(c.G)+20 && int(c.B) > 2*int(c.G) {
					seen++
				}
			}
		}
		whole := 120 * 120 * box.Dx() * box.Dx() / (2400 * 2400) // of its pixels, where the width rules
		assert.Greater(t, seen, whole/2, "it is in view at %d", width)
		live.MustClose()
	}
}

// The picture of a section's front page stands at the top of its pages: low, with the name
// over it.
func TestTheTopOfASectionsPages(t *testing.T) {
	h := start(t, "demo")
	waitLive(t, h)
	b := browser(t)
	for d, want := range map[int]int{390: page.UsualElsewhere.Phone, 768: page.UsualElsewhere.Tablet, 1280: page.UsualElsewhere.Desktop} {
		p := open(t, b, h.site+"/touring/across-the-lake", d, 800, 1)
		box, file := bandBox(t, p)
		assert.Equal(t, []int{0, 0, d}, []int{box.Min.X, box.Min.Y, box.Dx()}, "it crosses the window")
		assert.GreaterOrEqual(t, box.Dy(), want)
		assert.Contains(t, file, fmt.Sprintf("-%d", d))
		assert.Contains(t, p.MustElement("header.site").MustText(), "Brindlemere Paddle Club")
		p.MustClose()
	}
	assert.NotContains(t, body(t, h.site+"/boatshed/where-things-hang"), "<picture", "another section has none")
}

// At a destination with a layout of its own the picture stands where the layout has a place for it, as
// low as on the built-in site, and pages without one have nothing there.
func TestTheTopInALayoutOfTheHousesOwn(t *testing.T) {
	h := start(t, "demo")
	waitLive(t, h)
	folder := t.TempDir()
	base, _ := nginx(t, folder)
	b := browser(t)
	p := open(t, b, h.app+"/destinations/new", 1280, 800, 1)
	p.MustElement("[name=folder]").MustInput(folder)
	p.MustElement("[name=base]").MustInput(base)
	hit(t, p, "details.layout > summary")
	p.MustElement("[name=layout]").MustInput(`<!DOCTYPE html><html lang="{{language}}"><head><title>{{title}}</title>{{head}}</head>
<body style="margin: 0"><header style="background: #dcc; height: 70px">{{house}}</header>{{top}}<main>{{content}}</main></body></html>`)
	hit(t, p, ".destination-form .primary")
	waitText(t, p, "#plan", `\d+ files, \d`)
	hit(t, p, "#now .primary")
	waitText(t, p, "#now .state", "Everything is there")
	for d, want := range map[int]int{390: page.UsualElsewhere.Phone, 768: page.UsualElsewhere.Tablet, 1280: page.UsualElsewhere.Desktop} {
		p := open(t, b, base+"/touring/across-the-lake/", d, 800, 1)
		box, file := bandBox(t, p)
		assert.Equal(t, image.Rect(0, 70, d, 70+want), box)
		assert.Contains(t, file, fmt.Sprintf("-%d", d))
		tree, err := proto.AccessibilityGetFullAXTree{}.Call(p)
		require.NoError(t, err)
		banners := 0
		for _, n := range tree.Nodes {
			if n.Role != nil && n.Role.Value.Str() == "banner" {
				banners++
			}
		}
		assert.Equal(t, 1, banners, "the layout's own header is the only one")
		p.MustClose()
	}
	assert.NotContains(t, body(t, base+"/boatshed/where-things-hang/"), "topped", "another section has none")
}

// A page that lists all pages of a section begins like them, though nobody made it.
func TestThePageThatListsAllBeginsLikeItsSection(t *testing.T) {
	h := start(t, "demo")
	waitLive(t, h)
	b := browser(t)
	p := open(t, b, h.app+"/pages/12", 1280, 800, 1)
	list := p.MustElementR(".words", "Change the")
	list.MustScrollIntoView().MustHover()
	hit(t, p, ".words .block-acts button", "Change the")
	waitText(t, p, ".panel h2", "This list")
	write(t, p, "#list-most", "1")
	calm(t, p)
	hit(t, p, ".panel button", "Done")
	waitText(t, p, ".panel h2", "Sign-off")
	hit(t, p, ".panel .primary", "Publish")
	waitText(t, p, ".panel", "Visitors already see it like this.")
	live := open(t, b, h.site+"/touring", 1280, 800, 1)
	hit(t, live, ".list-all a")
	require.Equal(t, "/touring/all", live.MustEval(`() => location.pathname`).Str())
	tops := map[string]image.Rectangle{}
	for _, width := range []int{390, 768, 1280} {
		for _, at := range []string{"/touring/all", "/touring/across-the-lake"} {
			p := open(t, b, h.site+at, width, 800, 1)
			box, file := bandBox(t, p)
			assert.Contains(t, file, fmt.Sprintf("-%d", width))
			tops[at] = box
			p.MustClose()
		}
		assert.Equal(t, tops["/touring/across-the-lake"], tops["/touring/all"], "at %d", width)
	}
}
