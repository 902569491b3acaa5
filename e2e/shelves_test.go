package e2e

import (
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/internal/reference"
)

// snap writes a small photo that no other is like.
func snap(t *testing.T, dir string, n int) string {
	t.Helper()
	m := image.NewRGBA(image.Rect(0, 0, 900, 600))
	for y := range 600 {
		for x := range 900 {
			v := ((x/(20+7*(n%9)) + n) * (y/(15+5*(n%7)) + 3*n)) % 7
			m.SetRGBA(x, y, color.RGBA{uint8(40 + 28*v), uint8((n*37 + x/5) % 256), uint8((n*91 + y/4) % 256), 255})
		}
	}
	path := filepath.Join(dir, fmt.Sprintf("DSC_%04d.JPG", 2000+n))
	f, err := os.Create(path)
	require.NoError(t, err)
	require.NoError(t, jpeg.Encode(f, m, nil))
	require.NoError(t, f.Close())
	return path
}

// Forty mixed files in one drop: refused ones, a twin, a near-twin, an animation;
// each has its verdict, and the rest goes on to the end.
func TestFortyFilesInOneDrop(t *testing.T) {
	h := start(t, "serve")
	p := open(t, browser(t), h.app+"/arrivals", 1280, 800, 1)
	dir := t.TempDir()
	var files []string
	for i := range 34 {
		files = append(files, snap(t, dir, i))
	}
	write := func(name string, data []byte) string {
		path := filepath.Join(dir, name)
		require.NoError(t, os.WriteFile(path, data, 0o600))
		return path
	}
	photo, err := os.ReadFile(demoPicture(t, "IMG_2101.JPG"))
	require.NoError(t, err)
	files = append(files,
		write("letter.jpg", []byte("Dear club\n")), write("empty.png", nil), write("drawing.svg", []byte(`<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"/>`)),
		write("junior.jpg", photo), write("junior again.jpg", photo), demoPicture(t, "paddle-stroke.gif"))
	require.Len(t, files, 40)
	drop(t, p, "#strip", files...)
	for _, n := range []int{10, 20, 30} { // so many in their own time: others use the machine, too
		waitFor(t, p, fmt.Sprintf(`/are in/.test(document.getElementById('total-figure').textContent) || parseInt(document.getElementById('total-figure').textContent) >= %d`, n))
	}
	total := waitText(t, p, "#total-figure", "37 of 40 are in, 3 refused")
	assert.NotEmpty(t, total.MustText())
	assert.Len(t, p.MustElements("#waiting .row"), 37)
	assert.Len(t, p.MustElements("#coming li"), 3, "what is refused stays until it is closed, and nothing else")
	waitText(t, p, "#coming .refused", "drawing.svg.*Save it as PNG")
	waitText(t, p, "#waiting .row", "Moves, 24 frames")
	waitText(t, p, "#waiting .row", "Here already: junior")

	// The same photo in another file is shown beside it.
	small := filepath.Join(dir, "small.jpg")
	f, err := os.Open(files[3])
	require.NoError(t, err)
	m, err := jpeg.Decode(f)
	require.NoError(t, err)
	f.Close()
	out, err := os.Create(small)
	require.NoError(t, err)
	require.NoError(t, jpeg.Encode(out, m, &jpeg.Options{Quality: 40}))
	require.NoError(t, out.Close())
	drop(t, p, "#strip", small)
	waitText(t, p, "#waiting .row", `small\.jpg[\s\S]*Looks like \d`) // others look like one another, too

	// All of them get a subject, a folder and a credit in one act.
	calm(t, p)
	p.MustEval(`() => { const all = document.getElementById('all'); if (!all.checked) all.click(); document.getElementById('more-words').open = true }`)
	p.MustElement("#batch-subject").MustInput("Autumn camp")
	p.MustElement("#batch-folder").MustInput("2026/camp")
	hit(t, p, "#send")
	waitFor(t, p, `location.pathname.startsWith('/bench/')`)
	p.MustNavigate(h.app + "/shelves?folder=2026/camp&section=house").MustWaitLoad()
	waitText(t, p, "#found", "38 pictures")
	waitText(t, p, ".wall", "house-autumn-camp-38")
}

func TestTheCameraCardStandIn(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/arrivals", 1280, 800, 1)
	hit(t, p, "#memory-card button", "Insert it")
	waitText(t, p, "#memory-card summary", "5 pictures, 5 other files not taken")
	assert.Contains(t, p.MustElement(".card-files").MustText(), "DSC_0417.JPG\n2.2 MB, taken before")
	hit(t, p, "#memory-card .primary", "Take")
	waitText(t, p, "#card-job", "all 2 done")
	waitText(t, p, "#waiting .row", "DSC_0612.JPG")
	hit(t, p, "#memory-card button", "Eject")
	waitText(t, p, "#memory-card button", "Insert it")

	// A scan of several pages is more than its first one, and a picture for bright screens says so.
	dir := t.TempDir()
	scan, bright := filepath.Join(dir, "minutes.tif"), filepath.Join(dir, "lamp.avif")
	reference.Run(t, "convert", "-size", "500x700", "gradient:white-navy", "-size", "500x710", "gradient:white-red", "-size", "500x720", "gradient:white-green", scan)
	reference.Run(t, "convert", "-size", "64x64", "gradient:", filepath.Join(dir, "lamp.png"))
	reference.Run(t, "avifenc", "--depth", "10", "--cicp", "9/16/9", "-s", "9", filepath.Join(dir, "lamp.png"), bright)
	drop(t, p, "#strip", scan, bright)
	waitText(t, p, "#waiting .row", "HDR, adjusted for usual screens")
	waitText(t, p, "#waiting .row", "The first of 3 pages")
	calm(t, p)
	hit(t, p, ".other-pages button")
	waitText(t, p, "#waiting .row", `minutes-page-3\.png[\s\S]*500 × 720`)
	waitText(t, p, "#waiting .row", `minutes-page-2\.png[\s\S]*500 × 710`)
	waitFor(t, p, `!document.querySelector('.other-pages')`)
	waitText(t, p, "#chosen", "4") // what was dropped and what came of it
}

// Rename with the plan shown first; placements follow; the old name still finds.
func TestRenamingOnTheShelves(t *testing.T) {
	h := start(t, "demo")
	require.Eventually(t, func() bool { return strings.Contains(body(t, h.app+"/live"), "all is well") }, patience, 200*time.Millisecond)
	p := open(t, browser(t), h.app+"/shelves?section=boatshed", 1280, 800, 1)
	waitText(t, p, "#found", "12 pictures in boatshed")
	for _, name := range []string{"boatshed-eight-boats-on-racks", "boatshed-paddles-by-the-door"} {
		hit(t, p, fmt.Sprintf(`input[aria-label="Choose %s"]`, name))
	}
	waitText(t, p, "#acts-bar", "2 ticked")
	p.MustElement("#subject").MustInput("In the shed")
	hit(t, p, `[data-key="n"]`)
	plan := waitText(t, p, ".plan", "Preview of the new names").MustText()
	assert.Contains(t, plan, "boatshed-eight-boats-on-racks", "before")
	assert.Contains(t, plan, "Drawn from what you say it shows", "and how it came to that")
	hit(t, p, ".plan .primary", "Rename")
	waitText(t, p, ".wall", "boatshed-in-the-shed-1")
	p.MustNavigate(h.app + "/pages").MustWaitLoad()
	waitText(t, p, ".card", "Where things hang[\\s\\S]*Changed since it went live")
	p.MustNavigate(h.app + "/shelves?q=eight-boats").MustWaitLoad()
	waitText(t, p, "#found", "1 picture")

	// Deleting is refused with the place; what is on no page comes back from the bin.
	hit(t, p, "#acts input[name=picture]")
	hit(t, p, "#acts-bar .quiet", "Throw away")
	waitText(t, p, "#notice", "It is on 1 page: Where things hang")
	p.MustNavigate(h.app + "/shelves?q=life-vests").MustWaitLoad()
	hit(t, p, "#acts input[name=picture]")
	hit(t, p, "#acts-bar .quiet", "Throw away")
	waitFor(t, p, `document.getElementById('found')?.textContent.startsWith('0')`)
	p.MustNavigate(h.app + "/arrivals").MustWaitLoad()
	hit(t, p, ".binned summary")
	hit(t, p, ".binned button", "Bring back")
	waitFor(t, p, `!document.querySelector('.binned')`)
	p.MustNavigate(h.app + "/shelves?q=life-vests").MustWaitLoad()
	waitText(t, p, "#found", "1 picture")
}

func TestSearchAndFiltersOnTheShelves(t *testing.T) {
	h := start(t, "demo")
	p := open(t, browser(t), h.app+"/shelves", 1280, 800, 1)
	waitText(t, p, "#found", "37 pictures")
	require.NoError(t, p.KeyActions().Type('/').Do())
	waitFor(t, p, `document.activeElement.id === 'search'`)
	require.NoError(t, p.InsertText("firs mist"))
	require.NoError(t, p.Keyboard.Type(input.Enter))
	waitText(t, p, "#found", "^1 picture")
	waitText(t, p, ".wall", "touring-island-in-the-mist")
	p.MustNavigate(h.app + "/shelves").MustWaitLoad()
	hit(t, p, ".questions a", "without a description")
	waitText(t, p, "#found", "^3 pictures")
	hit(t, p, ".views a", "Rows")
	waitFor(t, p, `document.querySelectorAll('.rows-view tbody tr').length === 3`)
	hit(t, p, ".rows-view a", "boatshed-life-vests-drying")
	waitText(t, p, "h1", "boatshed-life-vests-drying")
	p.MustElement(".words [name=alt]").MustInput("Life vests dry on a wooden wall")
	hit(t, p, ".words .primary", "Save")
	waitText(t, p, ".past", "Described: “Life vests dry")

	p.MustNavigate(h.app + "/rules?part=names").MustWaitLoad()
	before := p.MustElement("#example-name").MustText()
	p.MustElement(`[id="r/naming/case"]`).MustSelect("capitals")
	waitFor(t, p, fmt.Sprintf(`document.getElementById('example-name').textContent !== %q`, before))
	assert.Regexp(t, `^[A-Z][a-z]+-[A-Z]`, p.MustElement("#example-name").MustText(), "the builder shows the pattern on a real picture")
}
