// Package desktest sets a small house up for the tests of the rooms: a section, a page, a
// site that serves what is published, a clock, and ways to bring a picture as far as a test
// needs it.
package desktest

import (
	"bytes"
	"context"
	"errors"
	"image"
	"image/color"
	"image/jpeg"
	"io"
	"math/rand/v2"
	"net/http"
	"net/http/httptest"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/PuerkitoBio/goquery"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/consent"
	"mivlet/core/page"
	"mivlet/core/raster"
	"mivlet/core/rules"
	"mivlet/desk"
	"mivlet/desk/access"
	"mivlet/desk/bench"
	"mivlet/desk/pages"
	"mivlet/desk/pictures"
	"mivlet/desk/publish"
	"mivlet/desk/visit"
	"mivlet/edge/tesseract"
	"mivlet/edge/visitor"
	"mivlet/store"
	"mivlet/store/datafolder"
)

// Fixture is a desk on a fresh folder with a section, a page and a site.
type Fixture struct {
	*desk.Desk
	T      *testing.T
	Kept   *datafolder.Folder
	Dir    string
	mu     sync.Mutex // over now
	now    time.Time
	PageID uint
	// tamper changes what the site serves; nil where it serves what was published.
	Tamper func(path string, data []byte) []byte
}

// Time is what the house's clock says.
func (b *Fixture) Time() time.Time {
	b.mu.Lock()
	defer b.mu.Unlock()
	return b.now
}

// SetTime sets the house's clock.
func (b *Fixture) SetTime(to time.Time) {
	b.mu.Lock()
	defer b.mu.Unlock()
	b.now = to
}

// clock goes on by a second each time it is looked at.
func (b *Fixture) clock() time.Time {
	b.mu.Lock()
	defer b.mu.Unlock()
	b.now = b.now.Add(time.Second)
	return b.now
}

// Reads is an option of a house that reads the text in pictures, which takes long.
func Reads(o *desk.Options) { o.Reader = tesseract.Reader{Patience: time.Minute} }

// Fresh is a house that has just been set up, without looking for faces and without reading
// text.
func Fresh(t *testing.T) *Fixture {
	t.Helper()
	return FreshWith(t, func(*desk.Options) {})
}

// FreshWith is fresh with other options.
func FreshWith(t *testing.T, set func(*desk.Options)) *Fixture {
	t.Helper()
	return fresh(t, set, Lay)
}

// FreshInFolder is fresh with other options, for tests that look at what lies in the data folder.
func FreshInFolder(t *testing.T, set func(*desk.Options)) *Fixture {
	t.Helper()
	return fresh(t, set, layInFolder)
}

func fresh(t *testing.T, set func(*desk.Options), lay func(testing.TB, string)) *Fixture {
	t.Helper()
	b := &Fixture{T: t, Dir: t.TempDir(), now: time.Date(2026, 11, 2, 12, 0, 0, 0, time.UTC)}
	lay(t, b.Dir)
	var err error
	b.Kept, err = datafolder.Open(b.Dir)
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, b.Kept.Close()) })
	r := rules.Default()
	r.Sections = []rules.Section{{Code: "juniors", Title: "Juniors", Sign: "wave", Folder: "juniors"}, {Code: "touring", Title: "Touring", Sign: "peak", Folder: "touring"}}
	r.ServeUpTo(2)            // half of the files show as much of what tests are about
	r.Hiding.LeaveFace = true // most tests bring pictures of nobody in
	require.NoError(t, b.Kept.SaveRules(r, "Ines", "to begin with", b.now))
	site := httptest.NewServer(http.HandlerFunc(b.serve))
	t.Cleanup(site.Close)
	o := desk.Options{Encoded: &remembered, SiteURL: site.URL, Now: b.clock, Visitor: visitor.New()}
	set(&o)
	b.Desk, err = desk.New(&b.Kept.Store, o)
	require.NoError(t, err)
	t.Cleanup(b.Jobs.End)
	p := store.Page{Section: "juniors", Slug: "autumn", Version: 1, UpdatedAt: b.now, Doc: page.Doc{Version: page.Version, Title: "Autumn",
		Blocks: []page.Block{{ID: "a", Kind: page.Text, Text: "One."}, {ID: "b", Kind: page.Text, Text: "Two."}}}}
	require.NoError(t, b.Kept.AddPage(&p))
	b.PageID = p.ID
	return b
}

// noRecords are the records of a house in which nothing is. Bringing them up to date from the first
// version on is done once for all tests.
var noRecords = sync.OnceValues(func() ([]byte, error) {
	dir, err := os.MkdirTemp("", "mivlet-empty-")
	if err != nil {
		return nil, err
	}
	defer os.RemoveAll(dir)
	kept, err := datafolder.Open(dir)
	if err != nil {
		return nil, err
	}
	if err := kept.Close(); err != nil {
		return nil, err
	}
	return os.ReadFile(filepath.Join(dir, datafolder.DatabaseName))
})

// remembered are the files of cuts that some test has made, so that the next does not make
// the same from the same.
var remembered memo

type memo struct{ sync.Map }

func (m *memo) Get(key string) ([]raster.Encoded, bool) {
	all, ok := m.Load(key)
	if !ok {
		return nil, false
	}
	return all.([]raster.Encoded), true
}

func (m *memo) Put(key string, all []raster.Encoded) { m.Store(key, all) }

// Describe gives a picture another description, and leaves its other words alone.
func Describe(d *desk.Desk, id uint, alt string) error {
	v, err := d.Bench.View(id)
	if err != nil {
		return err
	}
	w := pictures.WordsOf(v.Picture)
	w.Alt = alt
	return d.Pictures.SetWords(id, v.Step, w)
}

// serve is the least site there can be.
func (b *Fixture) serve(w http.ResponseWriter, r *http.Request) {
	f, err := b.Publish.Published(r.URL.Path, r.URL.Query().Get("v"))
	switch {
	case errors.Is(err, publish.ErrGone):
		w.WriteHeader(http.StatusGone)
		return
	case err != nil:
		http.NotFound(w, r)
		return
	}
	defer f.Close()
	w.Header().Set("Content-Type", f.MediaType)
	data, _ := io.ReadAll(f)
	if marked := page.MarkedSpots(data); f.Page != 0 && len(marked) > 0 {
		frames, err := b.Banners.Frames(f.Page, marked)
		if err != nil {
			http.Error(w, err.Error(), http.StatusInternalServerError)
			return
		}
		data = page.FillSpots(data, func(spot string) string { return frames[spot] })
	}
	if b.Tamper != nil {
		data = b.Tamper(r.URL.Path, data)
	}
	_, _ = w.Write(data)
}

// PlainLayout is the least page around what is published.
func PlainLayout(w io.Writer, p publish.SitePage) error {
	top := ""
	if p.Top != nil {
		top = "<header class=\"" + p.Top.Classes + "\">" + p.Top.HTML + "</header>"
	}
	_, err := io.WriteString(w, "<!doctype html><head><title>"+p.Title+"</title>"+p.Head+"</head>"+top+"<main>"+p.Main+"</main>")
	return err
}

// Photo is a JPEG of noise over a gradient; seed makes it another one. Each is made once:
// nobody may write on it.
func Photo(w, h int, seed uint64) []byte {
	key := [3]uint64{uint64(w), uint64(h), seed}
	if made, ok := Photos.Load(key); ok {
		return made.([]byte)
	}
	made := newPhoto(w, h, seed)
	Photos.Store(key, made)
	return made
}

var Photos sync.Map

// newPhoto makes what Photo returns.
func newPhoto(w, h int, seed uint64) []byte {
	noise := rand.New(rand.NewPCG(seed, 1))
	m := image.NewRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			n := noise.IntN(24)
			m.SetRGBA(x, y, color.RGBA{uint8(x*200/w + n), uint8(y*200/h + n), uint8(90 + n), 255})
		}
	}
	var b bytes.Buffer
	if err := jpeg.Encode(&b, m, nil); err != nil {
		panic(err)
	}
	return b.Bytes()
}

// Arrive brings a photo as far as Arrivals.
func (b *Fixture) Arrive(name string, data []byte) pictures.Arrival {
	b.T.Helper()
	a, err := b.Pictures.Arrive(name, bytes.NewReader(data), "juniors")
	require.NoError(b.T, err)
	return a
}

// Ready brings a photo through the whole walk.
func (b *Fixture) Ready(name string, seed uint64) uint {
	b.T.Helper()
	a := b.Arrive("DSC_0001.JPG", Photo(1600, 1000, seed))
	require.NoError(b.T, b.Bench.Send([]uint{a.ID}, bench.Assignment{Slot: "column", Section: "juniors"}))
	require.NoError(b.T, b.Pictures.SetName(a.ID, name))
	require.NoError(b.T, Describe(b.Desk, a.ID, "A boat on a quiet lake"))
	return a.ID
}

// Place puts a picture on the page and returns its block.
func (b *Fixture) Place(picture uint) string {
	b.T.Helper()
	block, err := b.Pages.Insert(b.PageID, page.Behind("a"), page.Placement{Picture: picture, Slot: "column", Caption: "Quiet"})
	require.NoError(b.T, err)
	return block
}

// PlaceIn places a picture in a slot.
func (b *Fixture) PlaceIn(picture uint, slot string) string {
	b.T.Helper()
	block, err := b.Pages.Insert(b.PageID, page.Behind("a"), page.Placement{Picture: picture, Slot: slot})
	require.NoError(b.T, err)
	return block
}

// PageView is the page as its screen shows it.
func (b *Fixture) PageView() pages.PageView {
	b.T.Helper()
	v, err := b.Pages.Page(b.PageID)
	require.NoError(b.T, err)
	return v
}

// GoLive signs the page as it is now and publishes it.
func (b *Fixture) GoLive() visit.Report {
	b.T.Helper()
	report, err := b.Publish.Publish(context.Background(), b.PageID, b.PageView().Seen, "", PlainLayout)
	require.NoError(b.T, err)
	return report
}

// Images are the pictures of the live page, in reading order.
func (b *Fixture) Images() []*goquery.Selection {
	b.T.Helper()
	doc, err := goquery.NewDocumentFromReader(strings.NewReader(b.LivePage()))
	require.NoError(b.T, err)
	var all []*goquery.Selection
	doc.Find("main figure img").Each(func(_ int, s *goquery.Selection) { all = append(all, s) })
	return all
}

// Visit fetches an address of the site.
func (b *Fixture) Visit(address string) (status int, data []byte) {
	b.T.Helper()
	res, err := http.Get(b.SiteURL() + address)
	require.NoError(b.T, err)
	defer res.Body.Close()
	data, err = io.ReadAll(res.Body)
	require.NoError(b.T, err)
	return res.StatusCode, data
}

// VeilsOf are the names of the veils of a picture.
func (b *Fixture) VeilsOf(id uint) []string {
	b.T.Helper()
	v, err := b.Bench.View(id)
	require.NoError(b.T, err)
	return v.Work.Recipe.VeilIDs()
}

// Refuses notes that somebody on a picture said no.
func (b *Fixture) Refuses(id uint, whom string, veils ...string) {
	b.T.Helper()
	require.NoError(b.T, b.Pictures.SetConsent(id, "", consent.Entry{Whom: whom, State: consent.Refused, Veils: veils}, ""))
}

// MarkOf stands for a block as it is now.
func (b *Fixture) MarkOf(block string) string {
	found, _ := b.PageView().Doc.Block(block)
	return found.Mark()
}

// CountFiles is how many files are kept.
func (b *Fixture) CountFiles() int {
	n := 0
	require.NoError(b.T, b.Kept.Files.List(func(store.FileInfo) error { n++; return nil }))
	return n
}

// Refusal holds an error to be a refusal of a kind that says something.
func Refusal(t *testing.T, err error, kind access.Kind, says string) {
	t.Helper()
	var r *access.Refusal
	if assert.ErrorAs(t, err, &r) {
		assert.Equal(t, kind, r.Kind, r.Error())
		assert.Contains(t, r.Error(), says)
		assert.NotEmpty(t, r.Next, "a refusal says what to do next")
	}
}

// Endless never ends.
type Endless struct{}

// Read fills all of p.
func (Endless) Read(p []byte) (int, error) { return len(p), nil }

// PictureOf is the record of a picture.
func (b *Fixture) PictureOf(id uint) store.Picture {
	p, err := b.Kept.Picture(id)
	require.NoError(b.T, err)
	return p
}

// LivePage is the page as visitors get it.
func (b *Fixture) LivePage() string {
	f, err := b.Publish.Published("/juniors/autumn", "")
	require.NoError(b.T, err)
	defer f.Close()
	data, err := io.ReadAll(f)
	require.NoError(b.T, err)
	return string(data)
}
