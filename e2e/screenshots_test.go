package e2e

import (
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/stretchr/testify/require"
)

// TestScreenshots remakes docs/screenshots from the demo. It runs only when it
// is asked for, as it writes into the repository.
func TestScreenshots(t *testing.T) {
	if os.Getenv("MIVLET_SCREENSHOTS") == "" {
		t.Skip("set MIVLET_SCREENSHOTS=1 to remake docs/screenshots")
	}
	h := start(t, "demo")
	b := browser(t)
	shoot := func(p *rod.Page, name string) {
		t.Helper()
		calm(t, p)
		waitFor(t, p, `document.fonts.status === 'loaded' && [...document.images].every((i) => i.complete)`)
		p.MustEval(`() => document.activeElement?.blur()`)
		data, err := p.Screenshot(false, nil)
		require.NoError(t, err)
		require.NoError(t, os.WriteFile(filepath.Join("../docs/screenshots", name+".png"), data, 0o644))
	}

	p := open(t, b, h.app+"/arrivals", 1280, 800, 1)
	letter := filepath.Join(t.TempDir(), "letter.jpg")
	require.NoError(t, os.WriteFile(letter, []byte("Dear club"), 0o600))
	require.Eventually(t, func() bool { return strings.Contains(body(t, h.app+"/live"), "all well") }, patience, 200*time.Millisecond)
	p.MustReload().MustWaitLoad()
	drop(t, p, "#strip", letter)
	waitText(t, p, "#coming .refused", "not a picture")
	p.MustElement("#waiting .row input").MustClick()
	shoot(p, "arrivals")
	p.MustElement("#send").MustClick()
	waitText(t, p, ".file", "DSC_0417.JPG")
	waitFor(t, p, `document.readyState === 'complete' && document.querySelector('#frame .body')?.getAttribute('width') > 0`)
	for _, field := range [][2]string{{"#frame-w", "3780"}, {"#frame-h", "2300"}, {"#frame-x", "1980"}, {"#frame-y", "1560"}} {
		write(t, p, field[0], field[1])
	}
	write(t, p, "#alt", alt)
	calm(t, p)
	waitText(t, p, "#name-findings .mend", "^juniors-three").MustClick()
	waitFor(t, p, `/1280/.test(document.getElementById('figures').innerText) && !/about/.test(document.getElementById('figures').innerText)`)
	shoot(p, "bench")

	waitText(t, p, "#step-place a", "Autumn on the water").MustClick()
	waitText(t, p, ".picked", "juniors-three")
	p.MustElement(`.gap[data-gap="2"]`).MustClick()
	waitText(t, p, ".panel h2", "Place a picture")
	write(t, p, "#caption", caption)
	shoot(p, "page")
	waitText(t, p, ".placing .primary", "Place it").MustClick()
	p.MustElement("figure.placed")
	waitText(t, p, ".panel .primary", "Publish").MustClick()
	waitText(t, p, ".report", "all well")
	p.MustEval(`() => document.querySelector('figure.placed').scrollIntoView({ block: 'center' })`)
	shoot(p, "sign-off")
	shoot(open(t, b, h.site+"/juniors/autumn-on-the-water", 1280, 800, 1), "live-page")

	visitStation := func(at string) {
		p.MustNavigate(h.app + at).MustWaitLoad()
		calm(t, p)
	}
	p.MustActivate() // the live page stood before it
	visitStation("/shelves")
	for range 2 {
		p.MustElement("#acts input[name=picture]:not(:checked)").MustClick()
	}
	shoot(p, "shelves")
	visitStation("/pictures/1")
	shoot(p, "picture-card")
	visitStation("/rules?part=page&pattern=main-side")
	write(t, p, `[id="d/page/gutter/desktop"]`, "40")
	waitText(t, p, ".changes", "gutter")
	shoot(p, "house-rules")
	visitStation("/rules?part=names")
	shoot(p, "naming-builder")
	visitStation("/ruler")
	p.MustElement("#sheet-file").MustSetFiles("../docs/screenshots/live-page.png")
	waitFor(t, p, `document.getElementById('ruler')?.dataset.ready === 'yes'`)
	waitText(t, p, "button", "Find columns").MustClick()
	waitText(t, p, "#found-list button", "640").MustClick()
	write(t, p, "#reading-title", "Middle column")
	waitText(t, p, ".keep-reading .primary", "Keep").MustClick()
	waitText(t, p, ".kept-list", "Middle column")
	shoot(p, "ruler")
}
