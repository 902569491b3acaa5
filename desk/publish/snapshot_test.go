package publish_test

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"io"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/consent"
	"mivlet/core/facts"
	"mivlet/core/page"
	"mivlet/core/recipe"
	"mivlet/core/rules"
	"mivlet/core/veil"
	"mivlet/desk/access"
	"mivlet/desk/bench"
	"mivlet/desk/desktest"
	"mivlet/desk/pictures"
	"mivlet/desk/publish"
	"mivlet/desk/snapshot"
)

// seam does something once, right after the nth statement of what runs meanwhile. A
// statement that runs while somebody writes has what is done wait for its end.
type seam struct {
	n    int
	do   func()
	mu   sync.Mutex
	seen int
	busy bool
	done sync.WaitGroup
}

func (s *seam) watch(_ string, writing bool) {
	s.mu.Lock()
	if s.busy {
		s.mu.Unlock()
		return
	}
	s.seen++
	now := s.seen == s.n
	s.busy = now
	s.mu.Unlock()
	if !now {
		return
	}
	if writing {
		s.done.Go(s.do)
		return
	}
	s.do()
}

// A change is injected at every seam of publishing: after every statement that it runs.
// Each time either what is live shows the change, or nothing was published, or the page
// was published before the change came and is listed as changed.
func TestAChangeAtEverySeamOfPublishing(t *testing.T) {
	t.Parallel()
	changes := map[string]func(b *desktest.Fixture, picture uint, n int){
		"a veil": func(b *desktest.Fixture, picture uint, n int) {
			v := veil.Veil{Shape: veil.Rect, Bounds: image.Rect(4*n%240, 20, 4*n%240+60, 80), Style: veil.Colour}
			assert.NoError(b.T, b.Bench.Edit(picture, recipe.Edit{Op: recipe.OpVeil, Veil: &v}))
		},
		"another file": func(b *desktest.Fixture, picture uint, n int) {
			_, err := b.Shelves.SwapFile(picture, "better.jpg", bytes.NewReader(desktest.Photo(320, 320, uint64(1000+n))))
			assert.NoError(b.T, err)
		},
		"other rules": func(b *desktest.Fixture, _ uint, n int) {
			assert.NoError(b.T, b.House.ChangeRules(func(r rules.Rules) (rules.Rules, error) { return r.Set("/slots/thumb/budget", fmt.Sprint(200_000+n)) }))
			job, err := b.House.ApplyRules("another budget")
			if assert.NoError(b.T, err) {
				job.Wait()
			}
		},
		"a refusal": func(b *desktest.Fixture, picture uint, n int) {
			assert.NoError(b.T, b.Pictures.SetConsent(picture, "", consent.Entry{Whom: fmt.Sprint("number ", n), State: consent.Refused}, ""))
		},
		"other words": func(b *desktest.Fixture, picture uint, n int) {
			assert.NoError(b.T, desktest.Describe(b.Desk, picture, fmt.Sprintf("Boat number %d on a quiet lake", n)))
		},
		"off the page and thrown away": func(b *desktest.Fixture, picture uint, _ int) {
			if b.PageView().Live() {
				assert.NoError(b.T, b.Publish.TakePageOff(b.PageID))
			}
			for _, block := range b.PageView().Blocks {
				if block.Placement != nil {
					assert.NoError(b.T, b.Pages.TakeOff(b.PageID, block.ID, 0, block.Mark()))
				}
			}
			assert.NoError(b.T, b.Shelves.ThrowAway(picture))
		},
	}
	for name, change := range changes {
		t.Run(name, func(t *testing.T) {
			if testing.Short() && name != "a veil" {
				t.Skip("one change is enough to look for races")
			}
			t.Parallel()
			b := desktest.Fresh(t)
			a := b.Arrive("DSC_0001.JPG", desktest.Photo(320, 320, 1))
			require.NoError(t, b.Bench.Send([]uint{a.ID}, bench.Assignment{Slot: "side", Section: "juniors"}))
			require.NoError(t, b.Pictures.SetName(a.ID, "juniors-boat"))
			require.NoError(t, desktest.Describe(b.Desk, a.ID, "A boat"))
			b.PlaceIn(a.ID, "side")
			published, refused, step := 0, 0, 1
			if testing.Short() {
				step = 4
			}
			for n := 1; ; n += step {
				b.AsBefore(a.ID)
				before, seen := b.LiveFiles(), b.PageView().Seen
				s := &seam{n: n, do: func() { change(b, a.ID, n); before = b.LiveFiles() }}
				b.Kept.Database().Watch(s.watch)
				_, err := b.Publish.Publish(context.Background(), b.PageID, seen, "", desktest.PlainLayout)
				s.done.Wait()
				b.Kept.Database().Watch(nil)
				if s.seen < n {
					break // there are no more seams
				}
				if err != nil {
					desktest.Refusal(t, err, access.Clash, "")
					refused++
					assert.Equal(t, before, b.LiveFiles(), "seam %d: refused, and nothing changed for visitors", n)
					continue
				}
				published++
				b.Traceable(fmt.Sprintf("seam %d", n))
			}
			assert.Greater(t, refused*step, 3, "changes before the transaction are noticed")
			assert.Positive(t, published, "changes after it come afterwards")
		})
	}
}

// What was signed is what goes live: whoever publishes a state that is not the newest is
// told what has changed, and by whom.
func TestOnlyWhatWasSeenIsPublished(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	picture := b.Ready("juniors-boat", 1)
	b.Place(picture)
	_, odo := b.TwoPeople()
	seen := b.PageView().Seen
	assert.Equal(t, seen, snapshot.ParseSeen(seen.String()))
	require.NoError(t, desktest.Describe(odo, picture, "Another boat on a lake"))
	_, err := b.Publish.Publish(t.Context(), b.PageID, seen, "", desktest.PlainLayout)
	desktest.Refusal(t, err, access.Clash, "juniors-boat: Described: “Another boat on a lake” (Odo)")
	assert.False(t, b.PageView().Live())
	for _, none := range []string{"", "1", "x.1", "1.1.5", "1.1.5-", "1.1.-5", "99999999999999999999.1"} {
		_, err := b.Publish.Publish(t.Context(), b.PageID, snapshot.ParseSeen(none), "", desktest.PlainLayout)
		desktest.Refusal(t, err, access.Bad, "which version of the page")
	}
	assert.True(t, b.GoLive().OK())
}

// Another file in the place of the old one: everything that shows the old one is known.
func TestASwappedFileIsCutAnew(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	picture := b.Ready("juniors-boat", 1)
	b.Place(picture)
	b.GoLive()
	old := b.Images()[0].AttrOr("src", "")
	_, before := b.Visit(old)
	_, err := b.Shelves.SwapFile(picture, "better.jpg", bytes.NewReader(desktest.Photo(1600, 1000, 77)))
	require.NoError(t, err)
	pages, err := b.Pages.Pages()
	require.NoError(t, err)
	assert.True(t, pages[0].Differs, "the page is listed as changed")
	exposed, err := b.Bench.Exposures(picture)
	require.NoError(t, err)
	require.Len(t, exposed, 1)
	assert.Contains(t, exposed[0].Why, "another file was swapped in")
	b.GoLive()
	_, after := b.Visit(b.Images()[0].AttrOr("src", ""))
	assert.NotEqual(t, before, after, "the new file is cut")
	status, _ := b.Visit(old)
	assert.Equal(t, 410, status, "the old one is gone (RFC 9110, 15.5.11)")
}

// What was edited while a better file was on its way is carried over to it.
func TestAVeilDrawnDuringASwapIsKept(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	picture := b.Ready("juniors-boat", 1)
	r, w := io.Pipe()
	data := desktest.Photo(1600, 1000, 77)
	swapped := make(chan error, 1)
	go func() { _, err := b.Shelves.SwapFile(picture, "better.jpg", r); swapped <- err }()
	_, err := w.Write(data[:1000])
	require.NoError(t, err)
	v := desktest.BoxVeil(200, 200, 400, 300)
	require.NoError(t, b.Bench.Edit(picture, recipe.Edit{Op: recipe.OpVeil, Veil: &v}))
	_, err = w.Write(data[1000:])
	require.NoError(t, err)
	require.NoError(t, w.Close())
	require.NoError(t, <-swapped)
	assert.Len(t, b.VeilsOf(picture), 1)
}

// Two different files never share an address, on the site and in an archive: two
// unnamed pictures of equal width, equal files of two pictures, and one picture in two
// slots of equal width.
func TestTwoFilesNeverShareAnAddress(t *testing.T) {
	t.Parallel()
	if testing.Short() {
		t.Skip("slow")
	}
	for _, mark := range []string{"query", "suffix"} {
		b := desktest.Fresh(t)
		require.NoError(t, b.House.ChangeRules(func(r rules.Rules) (rules.Rules, error) {
			r.Placing.CutMark = mark
			same := r.Slots[0]
			same.ID, same.Title, same.Budget = "again", "Again", 20_000
			r.Slots = append(r.Slots, same)
			return r, nil
		}))
		_, err := b.House.ApplyRules("a second slot as wide as the first")
		require.NoError(t, err)
		var ids []uint
		for _, seed := range []uint64{1, 2, 2} { // the last two are the same file
			ids = append(ids, b.Arrive("IMG_0001.JPG", desktest.Photo(1600, 1000, seed)).ID)
		}
		require.NoError(t, b.Bench.Send(ids, bench.Assignment{Slot: "column", Section: "juniors"}))
		for i, id := range ids {
			require.NoError(t, desktest.Describe(b.Desk, id, fmt.Sprintf("Boat number %d", i)))
			b.Place(id)
		}
		_, err = b.Pages.Insert(b.PageID, page.Behind("a"), page.Placement{Picture: ids[0], Slot: "again"})
		require.NoError(t, err)
		report, err := b.Publish.Publish(t.Context(), b.PageID, b.PageView().Seen, "They get their names tomorrow.", desktest.PlainLayout)
		require.NoError(t, err)
		assert.True(t, report.OK(), "%+v", report.Checks)

		want := map[string]string{} // content by address, as the pictures' own cuts have it
		for _, img := range b.Images() {
			for _, candidate := range strings.Split(img.AttrOr("srcset", ""), ",") {
				address := strings.Fields(candidate)[0]
				status, data := b.Visit(address)
				require.Equal(t, 200, status)
				sum := hashOf(data)
				if other, ok := want[address]; ok {
					assert.Equal(t, other, sum, "%s: %s", mark, address)
				}
				want[address] = sum
			}
		}
		assert.Len(t, want, 4+4+4+3, "%s: three pictures in four widths, one of them lighter once more in three: the smallest is the same file", mark)
		files, err := b.Kept.FilesOf(b.PageID)
		require.NoError(t, err)
		shown := map[uint]int{}
		for _, f := range files {
			if f.For == "" { // not what stands for the page elsewhere
				shown[f.PictureID]++
			}
		}
		assert.Equal(t, []int{7, 4, 4}, []int{shown[ids[0]], shown[ids[1]], shown[ids[2]]}, "%s: each is traced to its picture", mark)

		var archive bytes.Buffer
		require.NoError(t, b.Publish.PageArchive(&archive, b.PageID, publish.Dressing{}))
		assert.Len(t, picturesIn(t, archive.Bytes()), 15, "%s: the archive has them all", mark)
	}
}

// An address that never was answers 404, one that was taken off 410; neither gives
// another file (RFC 9110, 15.5.5 and 15.5.11).
func TestUnknownAndWithdrawnAddresses(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	picture := b.Ready("juniors-boat", 1)
	b.Place(picture)
	b.GoLive()
	first := b.Images()[0].AttrOr("src", "")
	bare, _, _ := strings.Cut(first, "?")
	for address, want := range map[string]int{first: 200, bare: 200, bare + "?v=ffffffffffffffff": 404, bare + "?v=f": 404, bare + "?v=%25": 404, "/juniors/other.jpg": 404} {
		status, _ := b.Visit(address)
		assert.Equal(t, want, status, address)
	}
	require.NoError(t, b.Bench.SetFrame(picture, image.Rect(0, 0, 1500, 900), facts.Upright))
	b.GoLive()
	second := b.Images()[0].AttrOr("src", "")
	require.NotEqual(t, first, second)
	for address, want := range map[string]int{first: 410, second: 200, bare: 200} {
		status, _ := b.Visit(address)
		assert.Equal(t, want, status, address)
	}
	require.NoError(t, b.Publish.TakePageOff(b.PageID))
	for address, want := range map[string]int{first: 410, second: 410, bare: 410, "/juniors/autumn": 410} {
		status, _ := b.Visit(address)
		assert.Equal(t, want, status, address)
	}
}

// The visitor's check compares contents: a file that is another one is noticed, though
// its type and its size are right.
func TestTheCheckNoticesAnotherFile(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	picture := b.Ready("juniors-boat", 1)
	b.Place(picture)
	assert.True(t, b.GoLive().OK())
	other := b.Ready("juniors-other", 2)
	cuts, err := b.Cuts.MakeCuts(other, "")
	require.NoError(t, err)
	blob, err := b.Kept.Files.Open(cuts[0].Hash)
	require.NoError(t, err)
	defer blob.Close()
	wrong, err := io.ReadAll(blob)
	require.NoError(t, err)
	b.Tamper = func(path string, data []byte) []byte {
		if strings.HasSuffix(path, "-640.jpg") {
			return wrong
		}
		return data
	}
	report, err := b.Visits.Check(t.Context(), b.PageID)
	require.NoError(t, err)
	assert.False(t, report.OK())
	b.Tamper = func(path string, data []byte) []byte { return bytes.Replace(data, []byte("One."), []byte("Two."), 1) }
	report, err = b.Visits.Check(t.Context(), b.PageID)
	require.NoError(t, err)
	assert.False(t, report.OK(), "words that nobody signed")
	b.Tamper = nil
	report, err = b.Visits.Check(t.Context(), b.PageID)
	require.NoError(t, err)
	assert.True(t, report.OK(), "%+v", report.Checks)
}

// An earlier live version is put back only where nothing speaks against its pictures;
// its words and its arrangement are offered otherwise.
func TestWhatMayBePutBack(t *testing.T) {
	t.Parallel()
	if testing.Short() {
		t.Skip("slow")
	}
	for name, c := range map[string]struct {
		change func(b *desktest.Fixture, picture uint)
		why    string
	}{
		"nothing": {func(*desktest.Fixture, uint) {}, ""},
		"a veil taken off": {func(b *desktest.Fixture, picture uint) {
			require.NoError(b.T, b.Bench.DropVeil(picture, pictures.Newest, b.VeilsOf(picture)[0]))
		}, ""},
		"words": {func(b *desktest.Fixture, picture uint) {
			require.NoError(b.T, desktest.Describe(b.Desk, picture, "Another boat"))
		}, ""},
		"another veil": {func(b *desktest.Fixture, picture uint) {
			v := desktest.BoxVeil(500, 400, 100, 60)
			require.NoError(b.T, b.Bench.Edit(picture, recipe.Edit{Op: recipe.OpVeil, Veil: &v}))
		}, "a veil was drawn"},
		"the veil moved": {func(b *desktest.Fixture, picture uint) {
			v := desktest.BoxVeil(250, 250, 300, 200)
			v.ID = b.VeilsOf(picture)[0]
			require.NoError(b.T, b.Bench.SetVeil(picture, pictures.Newest, v))
		}, "a veil was drawn"},
		"another file": {func(b *desktest.Fixture, picture uint) {
			_, err := b.Shelves.SwapFile(picture, "b.jpg", bytes.NewReader(desktest.Photo(660, 500, 9)))
			require.NoError(b.T, err)
		}, "another file was swapped in"},
		"a refusal":         {func(b *desktest.Fixture, picture uint) { b.Refuses(picture, "the one in red") }, "refused"},
		"a covered refusal": {func(b *desktest.Fixture, picture uint) { b.Refuses(picture, "the one in red", b.VeilsOf(picture)[0]) }, ""},
		"a consent that has ended": {func(b *desktest.Fixture, picture uint) {
			until := b.Time().AddDate(0, 0, 2)
			require.NoError(b.T, b.Pictures.SetConsent(picture, "", consent.Entry{Whom: "the one in red", State: consent.Allowed, Until: until.Format(time.DateOnly)}, ""))
			b.SetTime(until)
		}, "the permission of someone in juniors-boat has ended"},
		"thrown away": {func(b *desktest.Fixture, picture uint) {
			require.NoError(b.T, b.Publish.ThrowAwayFrom(b.T.Context(), picture, desktest.PlainLayout))
		}, "thrown away"},
		"gone from the bin": {func(b *desktest.Fixture, picture uint) {
			require.NoError(b.T, b.Publish.ThrowAwayFrom(b.T.Context(), picture, desktest.PlainLayout))
			b.SetTime(b.Time().AddDate(0, 0, 40))
			_, err := b.Shelves.EmptyBin()
			require.NoError(b.T, err)
		}, "gone for good"},
	} {
		t.Run(name, func(t *testing.T) {
			b := desktest.Fresh(t)
			picture := b.Arrive("DSC_0001.JPG", desktest.Photo(660, 500, 1)).ID
			require.NoError(t, b.Bench.Send([]uint{picture}, bench.Assignment{Slot: "side", Section: "juniors"}))
			require.NoError(t, b.Pictures.SetName(picture, "juniors-boat"))
			require.NoError(t, desktest.Describe(b.Desk, picture, "A boat"))
			v := desktest.BoxVeil(200, 200, 300, 200)
			require.NoError(t, b.Bench.Edit(picture, recipe.Edit{Op: recipe.OpVeil, Veil: &v}))
			block := b.PlaceIn(picture, "side")
			b.GoLive()
			lives, err := b.Publish.Lives(b.PageID)
			require.NoError(t, err)
			old := lives[0].ID
			require.NoError(t, b.Pages.SetText(b.PageID, "a", b.MarkOf("a"), "Other words."))
			b.GoLive()
			c.change(b, picture)
			before := b.LiveFiles()
			_, err = b.Publish.PutBack(t.Context(), b.PageID, old)
			if c.why == "" {
				require.NoError(t, err)
				assert.Contains(t, b.LivePage(), "One.")
				return
			}
			var outdated *publish.Outdated
			require.ErrorAs(t, err, &outdated)
			assert.Contains(t, outdated.What, c.why)
			assert.Equal(t, before, b.LiveFiles(), "nothing changed for visitors")
			require.NoError(t, b.Publish.PutBackWords(b.PageID, outdated.Version))
			doc := b.PageView().Doc
			first, _ := doc.Block("a")
			assert.Equal(t, "One.", first.Text)
			there := name != "thrown away" && name != "gone from the bin"
			again, _ := doc.Block(block)
			require.NotNil(t, again.Placement)
			assert.Equal(t, there, again.Placement.Picture == picture, "a picture that is gone leaves a place that waits")
			assert.Equal(t, before, b.LiveFiles(), "visitors see it when it is published")
		})
	}
}
