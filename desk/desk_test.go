package desk_test

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
	"mivlet/core/facts"
	"mivlet/core/page"
	"mivlet/core/rules"
	"mivlet/desk"
	"mivlet/desk/access"
	"mivlet/desk/bench"
	"mivlet/desk/pages"
	"mivlet/desk/pictures"
	"mivlet/desk/publish"
	"mivlet/desk/snapshot"
	"mivlet/edge/tesseract"
	"mivlet/edge/visitor"
	"mivlet/store"
	"mivlet/store/datafolder"
)

// bench is a desk on a fresh folder with a section, a page and a site.
type fixture struct {
	*desk.Desk
	t     *testing.T
	store *datafolder.Folder
	dir   string
	mu    sync.Mutex // over now
	now   time.Time
	page  uint
	// tamper changes what the site serves; nil where it serves what was published.
	tamper func(path string, data []byte) []byte
}

// clock goes on by a second each time it is looked at.
func (b *fixture) clock() time.Time {
	b.mu.Lock()
	defer b.mu.Unlock()
	b.now = b.now.Add(time.Second)
	return b.now
}

func fresh(t *testing.T) *fixture {
	t.Helper()
	return freshWith(t, func(*desk.Options) {})
}

// freshWith is fresh with other options.
func freshWith(t *testing.T, set func(*desk.Options)) *fixture {
	t.Helper()
	b := &fixture{t: t, dir: t.TempDir(), now: time.Date(2026, 11, 2, 12, 0, 0, 0, time.UTC)}
	var err error
	b.store, err = datafolder.Open(b.dir)
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, b.store.Close()) })
	r := rules.Default()
	r.Sections = []rules.Section{{Code: "juniors", Title: "Juniors", Sign: "wave", Folder: "juniors"}, {Code: "touring", Title: "Touring", Sign: "peak", Folder: "touring"}}
	r.Hiding.LeaveFace = true // most tests bring pictures of nobody in
	require.NoError(t, b.store.SaveRules(r, "Ines", "to begin with", b.now))
	site := httptest.NewServer(http.HandlerFunc(b.serve))
	t.Cleanup(site.Close)
	o := desk.Options{SiteURL: site.URL, Now: b.clock, Reader: tesseract.Reader{Patience: time.Minute}, Visitor: visitor.New()}
	set(&o)
	b.Desk, err = desk.New(&b.store.Store, o)
	require.NoError(t, err)
	t.Cleanup(b.Jobs.End)
	p := store.Page{Section: "juniors", Slug: "autumn", Version: 1, UpdatedAt: b.now, Doc: page.Doc{Version: page.Version, Title: "Autumn",
		Blocks: []page.Block{{ID: "a", Kind: page.Text, Text: "One."}, {ID: "b", Kind: page.Text, Text: "Two."}}}}
	require.NoError(t, b.store.AddPage(&p))
	b.page = p.ID
	return b
}

// describe gives a picture another description, and leaves its other words alone.
func describe(d *desk.Desk, id uint, alt string) error {
	v, err := d.Bench.View(id)
	if err != nil {
		return err
	}
	w := pictures.WordsOf(v.Picture)
	w.Alt = alt
	return d.Pictures.SetWords(id, v.Step, w)
}

// serve is the least site there can be.
func (b *fixture) serve(w http.ResponseWriter, r *http.Request) {
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
	if b.tamper != nil {
		data = b.tamper(r.URL.Path, data)
	}
	_, _ = w.Write(data)
}

func plainLayout(w io.Writer, p publish.SitePage) error {
	_, err := io.WriteString(w, "<!doctype html><title>"+p.Title+"</title><main>"+p.Main+"</main>")
	return err
}

// photo is a JPEG of noise over a gradient; seed makes it another one. Each is made once:
// nobody may write on it.
func photo(w, h int, seed uint64) []byte {
	key := [3]uint64{uint64(w), uint64(h), seed}
	if made, ok := photos.Load(key); ok {
		return made.([]byte)
	}
	made := newPhoto(w, h, seed)
	photos.Store(key, made)
	return made
}

var photos sync.Map

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

// arrive brings a photo as far as Arrivals.
func (b *fixture) arrive(name string, data []byte) pictures.Arrival {
	b.t.Helper()
	a, err := b.Pictures.Arrive(name, bytes.NewReader(data), "juniors")
	require.NoError(b.t, err)
	return a
}

// ready brings a photo through the whole walk.
func (b *fixture) ready(name string, seed uint64) uint {
	b.t.Helper()
	a := b.arrive("DSC_0001.JPG", photo(1600, 1000, seed))
	require.NoError(b.t, b.Bench.Send([]uint{a.ID}, bench.Assignment{Slot: "column", Section: "juniors"}))
	require.NoError(b.t, b.Pictures.SetName(a.ID, name))
	require.NoError(b.t, describe(b.Desk, a.ID, "A boat on a quiet lake"))
	return a.ID
}

// place puts a picture on the page and returns its block.
func (b *fixture) place(picture uint) string {
	b.t.Helper()
	block, err := b.Pages.Insert(b.page, page.Behind("a"), page.Placement{Picture: picture, Slot: "column", Caption: "Quiet"})
	require.NoError(b.t, err)
	return block
}

// placeIn places a picture in a slot.
func (b *fixture) placeIn(picture uint, slot string) string {
	b.t.Helper()
	block, err := b.Pages.Insert(b.page, page.Behind("a"), page.Placement{Picture: picture, Slot: slot})
	require.NoError(b.t, err)
	return block
}

func (b *fixture) view() pages.PageView {
	b.t.Helper()
	v, err := b.Pages.Page(b.page)
	require.NoError(b.t, err)
	return v
}

// publish signs the page as it is now and publishes it.
func (b *fixture) publish() snapshot.Report {
	b.t.Helper()
	report, err := b.Publish.Publish(context.Background(), b.page, b.view().Seen, "", plainLayout)
	require.NoError(b.t, err)
	return report
}

// images are the pictures of the live page, in reading order.
func (b *fixture) images() []*goquery.Selection {
	b.t.Helper()
	doc, err := goquery.NewDocumentFromReader(strings.NewReader(b.livePage()))
	require.NoError(b.t, err)
	var all []*goquery.Selection
	doc.Find("main figure img").Each(func(_ int, s *goquery.Selection) { all = append(all, s) })
	return all
}

// visit fetches an address of the site.
func (b *fixture) visit(address string) (status int, data []byte) {
	b.t.Helper()
	res, err := http.Get(b.SiteURL() + address)
	require.NoError(b.t, err)
	defer res.Body.Close()
	data, err = io.ReadAll(res.Body)
	require.NoError(b.t, err)
	return res.StatusCode, data
}

// veils are the names of the veils of a picture.
func (b *fixture) veils(id uint) []string {
	b.t.Helper()
	v, err := b.Bench.View(id)
	require.NoError(b.t, err)
	return v.Work.Recipe.VeilIDs()
}

// refuses notes that somebody on a picture said no.
func (b *fixture) refuses(id uint, whom string, veils ...string) {
	b.t.Helper()
	require.NoError(b.t, b.Pictures.SetConsent(id, "", consent.Entry{Whom: whom, State: consent.Refused, Veils: veils}, ""))
}

// mark stands for a block as it is now.
func (b *fixture) mark(block string) string {
	found, _ := b.view().Doc.Block(block)
	return found.Mark()
}

func (b *fixture) files() int {
	n := 0
	require.NoError(b.t, filepath.WalkDir(filepath.Join(b.dir, "files"), func(_ string, d os.DirEntry, err error) error {
		if err == nil && !d.IsDir() {
			n++
		}
		return err
	}))
	return n
}

func refusal(t *testing.T, err error, kind access.Kind, says string) {
	t.Helper()
	var r *access.Refusal
	if assert.ErrorAs(t, err, &r) {
		assert.Equal(t, kind, r.Kind, r.Error())
		assert.Contains(t, r.Error(), says)
		assert.NotEmpty(t, r.Next, "a refusal says what to do next")
	}
}

func TestWhatIsRefusedLeavesNothing(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	whole := photo(400, 300, 1)
	for name, c := range map[string]struct {
		data []byte
		kind access.Kind
		says string
	}{
		"empty.jpg":  {nil, access.Bad, "is empty"},
		"letter.jpg": {[]byte("Dear club"), access.Bad, "its content is text"},
		"half.jpg":   {whole[:len(whole)/2], access.Bad, "ends in the middle"},
		"film.mp4":   {[]byte("\x00\x00\x00\x18ftypmp42\x00\x00\x00\x00mp42isom"), access.Bad, "a video"},
	} {
		_, err := b.Pictures.Arrive(name, bytes.NewReader(c.data), "juniors")
		refusal(t, err, c.kind, c.says)
	}
	_, err := b.Pictures.Arrive("huge.jpg", io.LimitReader(endless{}, 70_000_000), "juniors")
	refusal(t, err, access.TooMuch, "60 MB")
	_, err = b.Pictures.Arrive("a.jpg", bytes.NewReader(whole), "nobody")
	refusal(t, err, access.Bad, "no section")
	_, err = b.Pictures.Arrive("a.jpg", io.MultiReader(bytes.NewReader(whole[:100]), brokenLine{}), "juniors")
	assert.ErrorContains(t, err, "the line broke")
	assert.Zero(t, b.files())
	waiting, err := b.Pictures.Waiting()
	require.NoError(t, err)
	assert.Empty(t, waiting)
}

type endless struct{}

func (endless) Read(p []byte) (int, error) { return len(p), nil }

type brokenLine struct{}

func (brokenLine) Read([]byte) (int, error) { return 0, errors.New("the line broke") }

func TestArrivalKnowsItsTwin(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	first := b.arrive(`C:\card\DSC_0001.JPG`, photo(400, 300, 1))
	assert.Equal(t, "DSC_0001.JPG", first.OriginalName, "folders of another machine are no part of the name")
	assert.Nil(t, first.Twin)
	second := b.arrive("again.jpg", photo(400, 300, 1))
	require.NotNil(t, second.Twin)
	assert.Equal(t, first.ID, second.Twin.ID)
	assert.Equal(t, 3, b.files(), "one original, its working copy, its thumbnail")
	require.NoError(t, b.Shelves.ThrowAway(first.ID))
	third := b.arrive("third.jpg", photo(400, 300, 1))
	assert.Equal(t, second.ID, third.Twin.ID, "what lies in the bin is no twin")
	require.NoError(t, b.Shelves.BringBack(first.ID))
	waiting, err := b.Pictures.Waiting()
	require.NoError(t, err)
	assert.Len(t, waiting, 3)
}

func TestSendingIsAllOrNothing(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	a := b.arrive("a.jpg", photo(400, 300, 1))
	refusal(t, b.Bench.Send([]uint{a.ID, 999}, bench.Assignment{Slot: "column", Section: "juniors"}), access.Missing, "not here")
	refusal(t, b.Bench.Send([]uint{a.ID}, bench.Assignment{Slot: "poster", Section: "juniors"}), access.Bad, "No slot")
	refusal(t, b.Bench.Send([]uint{a.ID}, bench.Assignment{Slot: "column", Section: "nobody"}), access.Bad, "No section")
	refusal(t, b.Bench.Send(nil, bench.Assignment{Slot: "column", Section: "juniors"}), access.Bad, "No picture")
	waiting, err := b.Pictures.Waiting()
	require.NoError(t, err)
	assert.Len(t, waiting, 1)
	require.NoError(t, b.Bench.Send([]uint{a.ID}, bench.Assignment{Slot: "side", Section: "touring"}))
	on, err := b.Bench.View(a.ID)
	require.NoError(t, err)
	assert.Equal(t, "touring", on.Section)
	assert.Equal(t, "Side picture", on.Slot.Title)
}

func TestStepsBackAndForth(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	id := b.ready("juniors-first", 1)
	require.NoError(t, b.Bench.SetFrame(id, image.Rect(100, 100, 900, 700)))
	require.NoError(t, b.Bench.SetFrame(id, image.Rect(100, 100, 900, 700)))
	on, err := b.Bench.View(id)
	require.NoError(t, err)
	assert.Len(t, on.Steps, 5, "an act that changes nothing leaves no step")
	assert.True(t, on.Undo() >= 0)
	assert.False(t, on.Redo() >= 0)

	require.NoError(t, b.Bench.GoTo(id, 1))
	on, err = b.Bench.View(id)
	require.NoError(t, err)
	assert.Empty(t, on.Work.Name)
	assert.Equal(t, image.Rect(0, 0, 1600, 1000), on.Frame)
	assert.True(t, on.Redo() >= 0)
	require.NoError(t, b.Bench.GoTo(id, 4))
	on, err = b.Bench.View(id)
	require.NoError(t, err)
	assert.Equal(t, image.Rect(100, 100, 900, 700), on.Frame)
	refusal(t, b.Bench.GoTo(id, 99), access.Missing, "no such step")
	refusal(t, b.Bench.SetFrame(id, image.Rect(-5, 0, 100, 100)), access.Bad, "leaves the picture")
}

func TestANameThatBreaksTheConventionComesBackMended(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	b.ready("juniors-first-launch", 1)
	second := b.ready("juniors-second", 2)
	for typed, proposal := range map[string]string{
		"First Launch!":        "juniors-first-launch-2", // the mended one is taken: the next number
		"juniors-first-launch": "juniors-first-launch-2",
		"DSC_0417":             "juniors-a-boat-on-a-quiet-lake", // nothing to mend: drawn from the alt text
	} {
		var refused *pictures.NameRefusal
		require.ErrorAs(t, b.Pictures.SetName(second, typed), &refused, typed)
		assert.Equal(t, proposal, refused.Proposal, typed)
		assert.NotEmpty(t, refused.Problems)
	}
	on, err := b.Bench.View(second)
	require.NoError(t, err)
	assert.Equal(t, "juniors-second", on.Work.Name, "refused, and the old name is kept")
}

func TestUndoDoesNotTakeANameThatHasGoneToAnother(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	first := b.ready("juniors-heron", 1)
	require.NoError(t, b.Pictures.SetName(first, "juniors-crane"))
	b.ready("juniors-heron", 2)
	refusal(t, b.Bench.GoTo(first, 2), access.Clash, "belongs to another picture")
}

func TestCutsAreMadeOnceAndFollowTheRecipe(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	id := b.ready("juniors-boat", 1)
	cuts, err := b.Cuts.MakeCuts(id, "")
	require.NoError(t, err)
	require.Len(t, cuts, 2)
	assert.Equal(t, [2]int{640, 400}, [2]int{cuts[0].Width, cuts[0].Height})
	assert.Equal(t, [2]int{1280, 800}, [2]int{cuts[1].Width, cuts[1].Height})
	files := b.files()
	again, err := b.Cuts.MakeCuts(id, "")
	require.NoError(t, err)
	assert.Equal(t, cuts, again)
	assert.Equal(t, files, b.files())

	require.NoError(t, b.Bench.SetFrame(id, image.Rect(0, 0, 1000, 1000)))
	square, err := b.Cuts.MakeCuts(id, "")
	require.NoError(t, err)
	assert.Equal(t, [2]int{640, 640}, [2]int{square[0].Width, square[0].Height})
	assert.Equal(t, [2]int{1000, 1000}, [2]int{square[1].Width, square[1].Height}, "never enlarged")
	_, err = b.Cuts.OpenCut(square[0].Hash)
	assert.NoError(t, err)
	_, err = b.Cuts.OpenCut(b.picture(id).OriginalHash)
	var r *access.Refusal
	assert.ErrorAs(t, err, &r, "an original is no cut")
}

func (b *fixture) picture(id uint) store.Picture {
	p, err := b.store.Picture(id)
	require.NoError(b.t, err)
	return p
}

// While the hand moves, bytes are an estimate; it has to be near the truth.
func TestEstimatesAreNearTheTruth(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	for _, name := range []string{"DSC_0430.JPG", "IMG_2093.JPG", "P1040860.JPG"} {
		data, err := os.ReadFile("../demo/pictures/" + name)
		require.NoError(t, err)
		a := b.arrive(name, data)
		require.NoError(t, b.Bench.Send([]uint{a.ID}, bench.Assignment{Slot: "column", Section: "juniors"}))
		about, err := b.Bench.Measured(a.ID, image.Rectangle{}, "")
		require.NoError(t, err)
		_, err = b.Cuts.MakeCuts(a.ID, "")
		require.NoError(t, err)
		exact, err := b.Bench.Measured(a.ID, image.Rectangle{}, "")
		require.NoError(t, err)
		for i := range about.Figures.Cuts {
			assert.False(t, about.Figures.Cuts[i].Exact)
			assert.True(t, exact.Figures.Cuts[i].Exact)
			assert.InEpsilon(t, exact.Figures.Cuts[i].Bytes, about.Figures.Cuts[i].Bytes, 0.3, "%s at %v", name, about.Figures.Cuts[i].Density)
		}
	}
}

func TestPlacingAndTakingOff(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	id := b.ready("juniors-boat", 1)
	block := b.place(id)
	assert.Equal(t, store.Shelf, b.picture(id).Station)
	v := b.view()
	require.Len(t, v.Blocks, 3)
	assert.Equal(t, block, v.Blocks[1].ID)
	refusal(t, b.Shelves.ThrowAway(id), access.Clash, "Autumn")

	require.NoError(t, b.Pages.TakeOff(b.page, block, 0, b.mark(block)))
	assert.Equal(t, store.Bench, b.picture(id).Station, "back on the bench, not lost")
	v = b.view()
	assert.Len(t, v.Blocks, 2)
	require.NoError(t, b.Pages.PageStep(b.page, v.Version, v.Step-1), "and undo puts it back")
	v = b.view()
	assert.Len(t, v.Blocks, 3)
	assert.Equal(t, store.Shelf, b.picture(id).Station)

	require.NoError(t, b.Pages.SetPlacement(b.page, block, 0, b.mark(block), page.Placement{Slot: "side", Side: page.Left, Caption: " Still "}))
	p := b.view().Blocks[1].Placement
	assert.Equal(t, page.Placement{Picture: id, Slot: "side", Side: page.Left, Caption: "Still"}, *p)
}

func TestPlacingIsRefusedWithItsReason(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	raw := b.arrive("DSC_0001.JPG", photo(1600, 1000, 1))
	_, err := b.Pages.Insert(b.page, page.Gap{}, page.Placement{Picture: raw.ID, Slot: "column"})
	refusal(t, err, access.Bad, "only just arrived")
	id := b.ready("juniors-boat", 2)
	_, err = b.Pages.Insert(b.page, page.Gap{}, page.Placement{Picture: id, Slot: "column", Side: page.Left})
	refusal(t, err, access.Bad, "no text has room beside it")
	refusal(t, b.Pages.TakeOff(b.page, "a", 0, b.mark("a")), access.Missing, "not on the page")
	assert.Len(t, b.view().Blocks, 2)
}

func TestPublishing(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	id := b.ready("juniors-boat", 1)
	b.place(id)
	report, err := b.Publish.Publish(context.Background(), b.page, b.view().Seen, "", plainLayout)
	require.NoError(t, err)
	assert.True(t, report.OK(), "%+v", report.Checks)
	v := b.view()
	assert.True(t, v.Live())
	assert.False(t, v.Differs)
	require.NotNil(t, v.Report)

	// A change on the bench shows on the pages that want publishing again.
	require.NoError(t, b.Bench.SetFrame(id, image.Rect(0, 0, 1000, 1000)))
	assert.True(t, b.view().Differs)
	counts, err := b.Pages.Counts()
	require.NoError(t, err)
	assert.EqualValues(t, 1, counts.Changed)

	// What says stop is refused, and visitors still see the page as it was.
	before := b.livePage()
	require.NoError(t, describe(b.Desk, id, ""))
	_, err = b.Publish.Publish(context.Background(), b.page, b.view().Seen, "", plainLayout)
	refusal(t, err, access.Bad, "juniors-boat is not ready")
	assert.Equal(t, before, b.livePage())

	require.NoError(t, describe(b.Desk, id, "A boat, framed square"))
	_, err = b.Publish.Publish(context.Background(), b.page, b.view().Seen, "", plainLayout)
	require.NoError(t, err)
	assert.Contains(t, b.livePage(), "A boat, framed square")
	assert.NotEqual(t, before, b.livePage())
}

func (b *fixture) livePage() string {
	f, err := b.Publish.Published("/juniors/autumn", "")
	require.NoError(b.t, err)
	defer f.Close()
	data, err := io.ReadAll(f)
	require.NoError(b.t, err)
	return string(data)
}

func TestALayoutThatFailsPublishesNothing(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	b.place(b.ready("juniors-boat", 1))
	_, err := b.Publish.Publish(context.Background(), b.page, b.view().Seen, "", func(io.Writer, publish.SitePage) error { return errors.New("no layout") })
	require.ErrorContains(t, err, "no layout")
	_, err = b.Publish.Published("/juniors/autumn", "")
	assert.ErrorIs(t, err, store.ErrNotFound)
	assert.False(t, b.view().Live())
}

// The check after publishing has to see what a visitor would suffer from.
func TestTheLookAgainSeesTrouble(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	id := b.ready("juniors-boat", 1)
	b.place(id)
	_, err := b.Publish.Publish(context.Background(), b.page, b.view().Seen, "", plainLayout)
	require.NoError(t, err)
	cuts, err := b.Cuts.MakeCuts(id, "")
	require.NoError(t, err)
	file := filepath.Join(b.dir, "files", cuts[1].Hash[:2], cuts[1].Hash)

	swap := func(data []byte) snapshot.Report {
		require.NoError(t, os.WriteFile(file, data, 0o600))
		r, err := b.Publish.CheckLive(context.Background(), b.page)
		require.NoError(t, err)
		return r
	}
	good, err := os.ReadFile(file)
	require.NoError(t, err)
	assert.False(t, swap(photo(100, 80, 1)).OK(), "another size than the page says")
	assert.False(t, swap([]byte("gone")).OK(), "no picture at all")
	withComment := append(append(append([]byte{}, good[:2]...), 0xFF, 0xFE, 0, 6, 's', 'e', 'c', 'r'), good[2:]...)
	assert.False(t, swap(withComment).OK(), "something hidden inside")
	assert.True(t, swap(good).OK())
	require.NoError(t, os.Remove(file))
	r, err := b.Publish.CheckLive(context.Background(), b.page)
	require.NoError(t, err)
	assert.False(t, r.OK(), "a file that does not come")
}

// An animation goes live as one: a small copy that stands still is the classic
// mishap.
func TestAnAnimationGoesLiveMoving(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	data, err := os.ReadFile("../demo/pictures/paddle-stroke.gif")
	require.NoError(t, err)
	a := b.arrive("paddle-stroke.gif", data)
	require.NoError(t, b.Bench.Send([]uint{a.ID}, bench.Assignment{Slot: "side", Section: "juniors"}))
	require.NoError(t, b.Pictures.SetName(a.ID, "juniors-paddle-stroke"))
	require.NoError(t, describe(b.Desk, a.ID, "One paddle stroke, from the side"))
	block, err := b.Pages.Insert(b.page, page.Behind("a"), page.Placement{Picture: a.ID, Slot: "side"})
	require.NoError(t, err)
	assert.NotEmpty(t, block)
	report, err := b.Publish.Publish(context.Background(), b.page, b.view().Seen, "", plainLayout)
	require.NoError(t, err)
	assert.True(t, report.OK(), "%+v", report.Checks)
	cuts, err := b.Cuts.MakeCuts(a.ID, "side")
	require.NoError(t, err)
	f, err := b.Cuts.OpenCut(cuts[0].Hash)
	require.NoError(t, err)
	defer f.Close()
	cut, err := facts.Read(f)
	require.NoError(t, err)
	assert.Equal(t, 24, cut.Frames)
	assert.Equal(t, a.Facts.DurationMS, cut.DurationMS)
	assert.Equal(t, 300, cut.Stored.W)
}
