package e2e

import (
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A new house tries its hand on a sample page, with pictures that wait, and removes all of it in
// one act; what was removed can be brought back.
func TestSamplesAreTriedAndRemoved(t *testing.T) {
	h := start(t, "serve")
	p := open(t, browser(t), h.app+"/welcome?step=4", 1280, 800, 1)
	hit(t, p, ".welcome .acts .button", "sample page")
	waitText(t, p, ".sample-line", "to try on")
	calm(t, p)
	hit(t, p, `.gap[data-gap="2"]`)
	waitText(t, p, ".panel", "From the tray[\\s\\S]*not ready")
	accessible(t, p, "choosing a sample")
	p.MustNavigate(h.app + "/pages").MustWaitLoad()
	accessible(t, p, "the pages with a sample")
	hit(t, p, ".sample-line button", "Remove the samples")
	waitText(t, p, ".all-well", "3 pictures went to the bin")
	accessible(t, p, "the pages without it")
	assert.Contains(t, body(t, h.app+"/shelves"), "The shelves are empty")
	hit(t, p, "#deleted button", "Bring back")
	waitText(t, p, ".content", "This page is here to try on")
	assert.False(t, p.MustHas(".sample-line"), "it is the house's own from then on")
	assert.False(t, p.MustHas(".picture img"), "its picture was thrown away")
}

// A page that is not live is deleted where it is worked on; one that is, when it was taken off the
// site.
func TestAPageIsDeletedAndBroughtBack(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/pages/2", 1280, 800, 1)
	title := p.MustElement(".stage-bar strong").MustText()
	hit(t, p, "#page-about summary")
	if p.MustHas(`[hx-post="/pages/2/offline"]`) {
		assert.False(t, p.MustHas(`[hx-post="/pages/2/delete"]`), "visitors see it")
		hit(t, p, `[hx-post="/pages/2/offline"]`)
		waitText(t, p, ".stage-bar .file", "not live")
		calm(t, p)
	}
	hit(t, p, `[hx-post="/pages/2/delete"]`)
	waitText(t, p, "#deleted", title)
	assert.False(t, p.MustHas(`.card[href="/pages/2"]`))
	res, err := h.client.Get(h.app + "/pages/2")
	require.NoError(t, err)
	res.Body.Close()
	assert.Equal(t, http.StatusNotFound, res.StatusCode)
	hit(t, p, "#deleted button", "Bring back")
	waitText(t, p, ".stage-bar strong", title)
	waitFor(t, p, `document.querySelectorAll('.sheet img').length > 0`) // with its pictures
}

// What the ruler reads becomes the width of the column that a new house is asked for.
func TestTheRulerAnswersTheColumnStep(t *testing.T) {
	h := start(t, "serve")
	b := browser(t)
	site := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		w.Header().Set("Content-Type", "text/html")
		_, _ = w.Write([]byte(columnPage(720)))
	}))
	defer site.Close()
	shot := open(t, b, site.URL+"/", 1100, 700, 1)
	data, err := shot.Screenshot(false, nil)
	require.NoError(t, err)
	shot.MustClose()
	file := filepath.Join(t.TempDir(), "page.png")
	require.NoError(t, os.WriteFile(file, data, 0o600))

	p := open(t, b, h.app+"/welcome?step=3", 1280, 800, 1)
	hit(t, p, ".welcome a", "^ruler$")
	waitFor(t, p, `location.pathname === '/ruler' && document.readyState === 'complete'`)
	p.MustElement("#sheet-file").MustSetFiles(file)
	waitFor(t, p, `location.pathname !== '/ruler' && document.getElementById('ruler')?.dataset.ready === 'yes'`)
	hit(t, p, "button", "Find columns")
	waitText(t, p, "#found-list", "720 px")
	hit(t, p, "#found-list button", "720")
	hit(t, p, ".keep-reading .primary")
	hit(t, p, ".kept-list .primary", "This is our column")
	waitText(t, p, ".welcome-steps .here", "Sections and people")
	p.MustNavigate(h.app + "/welcome?step=3").MustWaitLoad()
	assert.Equal(t, "720", *p.MustElement("#welcome-width").MustAttribute("value"))
	p.MustNavigate(h.app + "/ruler/1").MustWaitLoad()
	assert.NotContains(t, p.MustElement(".readings").MustText(), "This is our column", "it is answered")
}
