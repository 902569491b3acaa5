package e2e

import (
	"bytes"
	"encoding/base64"
	"image"
	_ "image/jpeg" // read by DecodeConfig
	"io"
	"net/http"
	"net/url"
	"os"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// heldBy is the picture that the previewer shows of a link.
func heldBy(t *testing.T, h house, page string) []byte {
	t.Helper()
	res, err := http.Get(h.previewer + "/picture?manner=large&address=" + url.QueryEscape(h.site+page))
	require.NoError(t, err)
	defer res.Body.Close()
	data, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	return data
}

// A link picture is chosen and published, and seen in the previewer; it is changed and
// published again, and there it is still the old one, until it is fetched again.
func TestASharedLinkGrowsOldAndIsFetchedAgain(t *testing.T) {
	h := start(t, "demo")
	waitLive(t, h)
	b := browser(t)
	p := open(t, b, h.app+"/pages/2/link", 1280, 800, 1)
	choose := func(name string) {
		t.Helper()
		p.MustNavigate(h.app + "/pages/2/link").MustWaitLoad()
		hit(t, p, `.tray-found button[title="`+name+`"]`)
		waitText(t, p, ".cover-why", name+": chosen for it")
		hit(t, p, ".panel button", "Done")
		hit(t, p, ".panel .primary", "Publish again")
		waitText(t, p, ".panel", "Visitors already see it like this.")
	}
	choose("touring-jetty-at-dusk")
	hit(t, p, ".cover-line a", "See how it looks")
	waitText(t, p, ".preview-steps [aria-current]", "Look|Fetch again")
	if p.MustHas("#fetch-again.primary") { // it was shared before, from another address
		hit(t, p, "#fetch-again")
	}
	waitText(t, p, ".preview-steps [aria-current]", "Look")
	first := heldBy(t, h, "/boatshed/where-things-hang")
	c, _, err := image.DecodeConfig(bytes.NewReader(first))
	require.NoError(t, err)
	assert.Equal(t, []int{1040, 544}, []int{c.Width, c.Height})

	choose("river-bucket-and-net")
	p.MustNavigate(h.app + "/pages/2/shared").MustWaitLoad()
	waitText(t, p, ".preview-steps [aria-current]", "The previewer still shows another picture")
	assert.Equal(t, first, heldBy(t, h, "/boatshed/where-things-hang"), "published, and still the old one there")
	waitFor(t, p, `[...document.images].every((i) => i.complete && i.naturalWidth > 0)`)
	assert.Equal(t, 4, len(p.MustElements(".link-card img")), "now, live, and two manners of what is held")
	require.NoError(t, p.Keyboard.Type('f'))
	waitText(t, p, ".preview-steps [aria-current]", "Look")
	assert.NotEqual(t, first, heldBy(t, h, "/boatshed/where-things-hang"))
}

// A page without a fitting picture gets a card with its title, which readers of links take.
func TestATitleCard(t *testing.T) {
	h := start(t, "demo")
	waitLive(t, h)
	p := open(t, browser(t), h.app+"/pages/5/link", 1280, 800, 1)
	hit(t, p, ".title-card.on-deep")
	waitFor(t, p, `(document.querySelector('.card-shown img') || {}).naturalWidth === 1200`)
	waitText(t, p, ".title-cards", "Take the card off")
	hit(t, p, ".panel button", "Done")
	waitText(t, p, ".cover-line", "a title card")
	hit(t, p, ".panel .primary", "Publish again")
	waitText(t, p, ".panel", "Visitors already see it like this.")
	html := body(t, h.site+"/socials/soup-night")
	assert.Contains(t, html, `<meta property="og:image:width" content="1200">`)
	p.MustNavigate(h.app + "/pages/5/shared").MustWaitLoad()
	if p.MustHas("#fetch-again.primary") {
		hit(t, p, "#fetch-again")
	}
	waitText(t, p, ".preview-steps [aria-current]", "Look")
	assert.False(t, p.MustHas("#refused"), "the previewer takes it")
	waitFor(t, p, `[...document.images].every((i) => i.complete)`)
	assert.Equal(t, 0, p.MustEval(`() => [...document.images].filter((i) => i.naturalWidth === 0).length`).Int(), "all pictures are to be seen")
}

// A screenshot is pasted and becomes the link picture; a file that is dropped on a blank
// cover stands for the page.
func TestFilesComeToStandForAPage(t *testing.T) {
	h := start(t, "demo")
	waitLive(t, h)
	b := browser(t)
	file := marked(t)
	data, err := os.ReadFile(file)
	require.NoError(t, err)
	give := `(kind, selector, data) => {
		const bytes = Uint8Array.from(atob(data), (c) => c.charCodeAt(0));
		const from = new DataTransfer();
		from.items.add(new File([bytes], 'pasted.jpg', { type: 'image/jpeg' }));
		const to = document.querySelector(selector), r = to.getBoundingClientRect();
		const at = { bubbles: true, cancelable: true, clientX: r.left + r.width / 2, clientY: r.top + 30 };
		to.dispatchEvent(kind === 'paste' ? new ClipboardEvent('paste', { ...at, clipboardData: from }) : new DragEvent('drop', { ...at, dataTransfer: from }));
	}`
	p := open(t, b, h.app+"/pages/2/link", 1280, 800, 1)
	waitText(t, p, ".panel h2", "Shared link")
	p.MustEval(give, "paste", ".panel", base64.StdEncoding.EncodeToString(data))
	waitText(t, p, ".cover-why", "pasted.jpg: chosen for it")

	p.MustNavigate(h.app + "/covers").MustWaitLoad()
	p.MustElement(".cover-tile.blank[data-page]").MustScrollIntoView()
	before := len(p.MustElements(".cover-tile.blank"))
	p.MustEval(give, "drop", ".cover-tile.blank[data-page]", base64.StdEncoding.EncodeToString(data))
	require.Eventually(t, func() bool {
		return p.MustEval(`() => document.querySelectorAll('.cover-tile.blank').length`).Int() == before-1
	}, patience, 100*time.Millisecond)
}

// The previewer's own page works without Mivlet, and says what it is.
func TestThePreviewerIsHonest(t *testing.T) {
	h := start(t, "demo")
	waitLive(t, h)
	p := open(t, browser(t), h.previewer+"/", 390, 800, 1)
	assert.Contains(t, p.MustElement("main").MustText(), "A stand-in")
	p.MustElement("input[name=address]").MustInput(h.site + "/touring/across-the-lake")
	hit(t, p, "form button", "Fetch it")
	waitText(t, p, "h2", "across-the-lake")
	assert.LessOrEqual(t, p.MustEval(`() => document.documentElement.scrollWidth`).Int(), 390)
	assert.True(t, strings.HasPrefix(p.MustInfo().URL, h.previewer))
}
