package e2e

import (
	"bytes"
	"fmt"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/fit"
	"mivlet/core/layout"
	"mivlet/core/rules"
)

// Every column pattern, laid out by a real browser at four widths: each column
// and each slot measures what core/layout says, to one pixel.
func TestEveryPatternMeasuresWhatTheLayoutSays(t *testing.T) {
	h := start(t, "demo")
	b := browser(t)
	r := rules.Default()
	for _, pattern := range r.Page.Patterns {
		p := open(t, b, h.app+"/rules/proof?pattern="+pattern.ID, 1280, 800, 1)
		for _, viewport := range []int{390, 768, 1280, 1920} {
			p.MustSetViewport(viewport, 800, 1, false)
			waitFor(t, p, fmt.Sprintf("innerWidth === %d", viewport))
			widths := p.MustEval(`() => Object.fromEntries([...document.querySelectorAll('.proof')].map((e) => [e.dataset.slot ?? 'c' + e.dataset.fill, e.getBoundingClientRect().width]))`)
			for i := range pattern.Shares {
				want := layout.Place{Section: r.SectionOf(pattern), Column: i}.Width(viewport)
				assert.InDelta(t, want, widths.Get(fmt.Sprint("c", i)).Num(), 1, "column %d of %s at %d", i, pattern.ID, viewport)
			}
			for _, s := range r.Slots {
				if s.Pattern == pattern.ID {
					assert.InDelta(t, r.Place(s).Width(viewport), widths.Get(s.ID).Num(), 1, "%s at %d", s.ID, viewport)
				}
			}
		}
		p.MustClose()
	}
}

// Which file a browser takes from srcset and sizes is the one that Mivlet says,
// on screens of one, two and three pixels to each CSS pixel.
func TestTheBrowserChoosesWhatMivletSays(t *testing.T) {
	r := rules.Default()
	side, _ := r.Slot("side")
	half, _ := r.Slot("half")
	for _, slot := range []rules.Slot{side, half} {
		place := r.Place(slot)
		var cs []fit.Candidate
		for _, c := range fit.Plan(fit.Size{W: 4000, H: 3000}.Rect(), fit.Centre, slot.Want(), []float64{1, 1.5, 2}) {
			cs = append(cs, fit.Candidate{URL: fmt.Sprintf("/%d.gif", c.Size.W), Width: c.Size.W})
		}
		// A picture of one pixel for every address: only the choice counts.
		pixel := []byte("GIF89a\x01\x00\x01\x00\x80\x00\x00\xff\xff\xff\x00\x00\x00!\xf9\x04\x01\x00\x00\x00\x00,\x00\x00\x00\x00\x01\x00\x01\x00\x00\x02\x02D\x01\x00;")
		site := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, q *http.Request) {
			if strings.HasSuffix(q.URL.Path, ".gif") {
				w.Header().Set("Content-Type", "image/gif")
				_, _ = w.Write(pixel)
				return
			}
			w.Header().Set("Content-Type", "text/html")
			fmt.Fprintf(w, `<!doctype html><meta name="viewport" content="width=device-width"><img src="%s" srcset="%s" sizes="%s" alt="">`, cs[0].URL, fit.SrcSet(cs), place.Sizes())
		}))
		b := browser(t)
		for _, scale := range []float64{1, 2, 3} {
			for _, viewport := range []int{390, 768, 1280} {
				p := open(t, b, site.URL+"/", viewport, 700, scale)
				waitFor(t, p, `document.images[0].currentSrc !== ''`)
				want := fit.Choose(cs, place.Width(viewport), scale)
				assert.True(t, strings.HasSuffix(p.MustEval(`() => document.images[0].currentSrc`).Str(), want.URL),
					"%s at %d, scale %v: wanted %s of %v, got %s", slot.ID, viewport, scale, want.URL, cs, p.MustEval(`() => document.images[0].currentSrc`).Str())
				p.MustClose()
			}
		}
		site.Close()
	}
}

// columnPage is a page whose columns are known.
func columnPage(widths ...int) string {
	var b bytes.Buffer
	b.WriteString(`<!doctype html><style>body{margin:0;font:16px/1.5 serif;color:#222}section{margin:20px auto}.p{height:150px;background:linear-gradient(120deg,#4c7a6d,#c9a96a 60%,#344)}</style>`)
	for _, w := range widths {
		fmt.Fprintf(&b, `<section style="width:%dpx"><div class="p"></div><p>The juniors took the boats out for the first time after the summer. The water was still warm, the air was not, and nobody wanted to be the one to say so.</p><div class="p"></div></section>`, w)
	}
	return b.String()
}

// The ruler on screenshots of pages with known columns, at scale 1 and 2: exact
// to one pixel with snapping, and Find columns names the widths.
func TestTheRulerReadsKnownColumns(t *testing.T) {
	h := start(t, "demo")
	b := browser(t)
	widths := []int{450, 500, 640, 720, 809}
	site := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, q *http.Request) {
		w.Header().Set("Content-Type", "text/html")
		fmt.Fprint(w, columnPage(widths...))
	}))
	defer site.Close()
	for _, scale := range []int{1, 2} {
		shot := open(t, b, site.URL+"/", 1100, 2300, float64(scale))
		second := shot.MustEval(`() => { const r = document.querySelectorAll('section')[1].getBoundingClientRect(); return { left: r.left, top: r.top } }`)
		data, err := shot.Screenshot(false, nil)
		require.NoError(t, err)
		shot.MustClose()
		file := filepath.Join(t.TempDir(), fmt.Sprintf("page-%dx.png", scale))
		require.NoError(t, os.WriteFile(file, data, 0o600))

		p := open(t, b, h.app+"/ruler", 1280, 800, 1)
		p.MustElement("#sheet-file").MustSetFiles(file)
		waitFor(t, p, `location.pathname !== '/ruler' && document.getElementById('ruler')?.dataset.ready === 'yes'`)
		if scale == 2 {
			hit(t, p, `.scale input[value="2"]`)
			waitFor(t, p, `document.querySelector('.keep-reading').dataset.scale === '2'`)
		}
		calm(t, p)
		hit(t, p, "button", "Find columns")
		waitText(t, p, "#found-list", "809")
		found := p.MustElement("#found-list").MustText()
		for _, w := range widths {
			assert.Contains(t, found, fmt.Sprintf("%d px", w), "at scale %d", scale)
		}

		// By hand, a few pixels off both edges of the second column.
		at := p.MustElement("#sheet").MustEval(`() => { const m = this.getScreenCTM(); return { x: m.e, y: m.f, k: m.a } }`)
		x0, y0, k := at.Get("x").Num(), at.Get("y").Num(), at.Get("k").Num()*float64(scale)
		left, y := second.Get("left").Num(), second.Get("top").Num()+80
		drag(p, x0+(left-3)*k, y0+y*k, x0+(left+500+3)*k, y0+y*k)
		waitText(t, p, "#reading", "^500")
		assert.Contains(t, p.MustElement("#reading").MustText(), fmt.Sprintf("%d device px", 500*scale))

		// The keyboard moves the edge in hand by one, and with Shift by ten.
		require.NoError(t, p.Keyboard.Type(input.ArrowRight))
		waitText(t, p, "#reading", map[int]string{1: "^501", 2: "^500.5"}[scale])
		require.NoError(t, p.KeyActions().Press(input.ShiftLeft).Type(input.ArrowLeft).Release(input.ShiftLeft).Do())
		waitText(t, p, "#reading", map[int]string{1: "^491", 2: "^495.5"}[scale])
		p.MustClose()
	}
}

// A reading is kept with its screenshot, and becomes a slot in one step.
func TestAReadingBecomesASlot(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/ruler", 1280, 800, 1)
	p.MustElement("#sheet-file").MustSetFiles("../docs/screenshots/live-page.png")
	waitFor(t, p, `document.getElementById('ruler')?.dataset.ready === 'yes'`)
	write(t, p, "#edge-from", "320")
	write(t, p, "#edge-to", "960")
	write(t, p, "#reading-title", "Middle column")
	hit(t, p, ".keep-reading .primary", "Keep")
	kept := waitText(t, p, ".kept-list", "Middle column: 640 CSS px").MustText()
	assert.Contains(t, kept, "1280 at 2x")
	assert.Contains(t, kept, "1480 with a buffer of 100")
	hit(t, p, ".kept-list button", "Make a slot")
	// It says so by going to where the slot stands now, opened.
	waitFor(t, p, `location.pathname === '/rules' && location.hash === '#t/slots/middle-column'`)
	waitText(t, p, ".pending", "Slot Middle column: new")
	waitText(t, p, ".thing[open]", "Middle column")
}
