package e2e

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// leaflet is the smallest PDF of one empty page (ISO 32000-1, 7.5), from memory.
const leaflet = "%PDF-1.4\n1 0 obj<</Type/Catalog/Pages 2 0 R>>endobj\n2 0 obj<</Type/Pages/Kids[3 0 R]/Count 1>>endobj\n3 0 obj<</Type/Page/Parent 2 0 R/MediaBox[0 0 72 72]>>endobj\ntrailer<</Root 1 0 R>>\n%%EOF\n"

// A document comes in like a picture does, is kept on the shelves, named, offered on a page, and
// downloaded by visitors; a browser never opens it.
func TestADocumentFromArrivalToVisitor(t *testing.T) {
	h := start(t, "demo")
	b := browser(t)
	file := filepath.Join(t.TempDir(), "Rota Autumn.pdf")
	require.NoError(t, os.WriteFile(file, []byte(leaflet), 0o600))
	p := open(t, b, h.app+"/arrivals", 1280, 800, 1)
	calm(t, p)
	before := len(p.MustElements("#waiting .row"))
	drop(t, p, "#strip", file)
	waitText(t, p, ".kept-file", "Rota Autumn.pdf is kept with the files to")
	assert.Len(t, p.MustElements("#waiting .row"), before, "it is no picture that waits")
	hit(t, p, ".kept-file a")
	waitText(t, p, "h1", "Files to download")
	waitText(t, p, ".file-list", "rota-autumn.pdf")

	titled := p.MustElement(".file-list input").MustProperty("id").Str()
	write(t, p, "#"+titled, "Rota of the autumn")
	waitText(t, p, ".file-list", "rota-of-the-autumn.pdf")

	p.MustNavigate(h.app + "/pages/2")
	calm(t, p)
	hit(t, p, `.gap[data-gap="1"]`)
	hit(t, p, "#more-to-add summary")
	p.MustElement("#file-kept").MustSelect("Rota of the autumn")
	hit(t, p, "#more-to-add button", "Offer it here")
	waitText(t, p, ".sheet", "Rota of the autumn")
	calm(t, p)
	press(t, p, 'p')
	waitFor(t, p, `document.body.innerText.includes('already see it like this')`)
	waitText(t, p, ".report", "all is well")

	live := open(t, b, h.site+p.MustEval(`() => new URL(document.querySelector('.report a[target]').href).pathname`).Str(), 1280, 800, 1)
	got := live.MustEval(`async () => {
		const a = document.querySelector('a[download][href*="rota-of"]'), res = await fetch(a.href);
		return [res.headers.get('content-type'), res.headers.get('content-disposition'), res.headers.get('x-content-type-options'), await res.text()];
	}`).Arr()
	assert.Equal(t, []string{"application/pdf", "attachment", "nosniff", leaflet}, []string{got[0].Str(), got[1].Str(), got[2].Str(), got[3].Str()})

	// Thrown away and brought back; visitors keep what the page offers.
	p.MustNavigate(h.app + "/files")
	calm(t, p)
	hit(t, p, `[aria-label="Throw away Rota of the autumn"]`)
	hit(t, p, `[aria-label="Bring back Rota of the autumn"]`)
	waitText(t, p, ".file-list", "rota-of-the-autumn.pdf")
}

// A document that is dropped into a gap is offered there at once.
func TestADocumentLandsInAGap(t *testing.T) {
	h := start(t, "demo")
	file := filepath.Join(t.TempDir(), "Float plan.pdf")
	require.NoError(t, os.WriteFile(file, []byte(leaflet), 0o600))
	p := open(t, browser(t), h.app+"/pages/2", 1280, 800, 1)
	calm(t, p)
	drop(t, p, `.gap[data-gap="1"]`, file)
	waitFor(t, p, `!!document.querySelector('.sheet a[download="float-plan.pdf"]')`)
	calm(t, p)
	press(t, p, 'u')
	waitFor(t, p, `!document.querySelector('.sheet a[download="float-plan.pdf"]')`)
}
