package e2e

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A house that begins to take drawings changes one rule. What came as a drawing then waits as a
// picture that was drawn, and says what is not as its author meant it.
func TestADrawingIsTaken(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/rules?part=types", 1280, 800, 1)
	do := `select[id="r/types/image/svg+xml/do"]`
	assert.Equal(t, "convert refuse", p.MustElement(do).MustEval(`() => [...this.options].map((o) => o.value).join(' ')`).Str(), "it is never kept as it is")
	p.MustElement(do).MustSelect("convert")
	waitFor(t, p, `document.querySelector('select[id="r/types/image/svg+xml/to"]')?.value === 'image/png'`)
	write(t, p, "#rules-why", "a map of the course")
	hit(t, p, ".pending button.primary")
	waitFor(t, p, `!document.querySelector('#rules-why')`)

	file := filepath.Join(t.TempDir(), "course.svg")
	require.NoError(t, os.WriteFile(file, []byte(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 60 40" onload="document.title='acted'"><title>Course around the buoys</title><script>document.title='acted'</script>
		<rect width="60" height="40" fill="#d7ecf4"/><text x="26" y="20" font-size="4">North</text><image href="photo.jpg" width="9" height="9"/></svg>`), 0o600))
	p.MustNavigate(h.app + "/arrivals").MustWaitLoad()
	calm(t, p)
	p.MustElement(`#files`).MustSetFiles(file)
	row := waitText(t, p, ".row", "course.svg")
	assert.Contains(t, row.MustText(), "Words drawn in another typeface")
	assert.Contains(t, row.MustText(), "Not drawn: 1 picture in other files")
	assert.Contains(t, row.MustText(), "Converted from SVG to PNG")
	assert.Contains(t, row.MustText(), "3000 × 2000")
	waitFor(t, p, `[...document.querySelectorAll('.row')].find((r) => r.innerText.includes('course.svg')).querySelector('img').naturalWidth > 50`)
	assert.NotEqual(t, "acted", p.MustInfo().Title)
}
