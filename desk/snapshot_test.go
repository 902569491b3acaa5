package desk_test

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
	"mivlet/core/page"
	"mivlet/core/recipe"
	"mivlet/core/rules"
	"mivlet/core/veil"
	"mivlet/desk/access"
	"mivlet/desk/bench"
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
	changes := map[string]func(b *fixture, picture uint, n int){
		"a veil": func(b *fixture, picture uint, n int) {
			v := veil.Veil{Shape: veil.Rect, Bounds: image.Rect(4*n%240, 20, 4*n%240+60, 80), Style: veil.Colour}
			assert.NoError(b.t, b.Bench.Edit(picture, recipe.Edit{Op: recipe.OpVeil, Veil: &v}))
		},
		"another file": func(b *fixture, picture uint, n int) {
			_, err := b.Shelves.SwapFile(picture, "better.jpg", bytes.NewReader(photo(320, 320, uint64(1000+n))))
			assert.NoError(b.t, err)
		},
		"other rules": func(b *fixture, _ uint, n int) {
			assert.NoError(b.t, b.House.ChangeRules(func(r rules.Rules) (rules.Rules, error) { return r.Set("/slots/thumb/budget", fmt.Sprint(200_000+n)) }))
			job, err := b.House.ApplyRules("another budget")
			if assert.NoError(b.t, err) {
				job.Wait()
			}
		},
		"a refusal": func(b *fixture, picture uint, n int) {
			assert.NoError(b.t, b.Pictures.SetConsent(picture, "", consent.Entry{Whom: fmt.Sprint("number ", n), State: consent.Refused}, ""))
		},
		"other words": func(b *fixture, picture uint, n int) {
			assert.NoError(b.t, describe(b.Desk, picture, fmt.Sprintf("Boat number %d on a quiet lake", n)))
		},
		"off the page and thrown away": func(b *fixture, picture uint, _ int) {
			if b.view().Live() {
				assert.NoError(b.t, b.Publish.TakePageOff(b.page))
			}
			for _, block := range b.view().Blocks {
				if block.Placement != nil {
					assert.NoError(b.t, b.Pages.TakeOff(b.page, block.ID, 0, block.Mark()))
				}
			}
			assert.NoError(b.t, b.Shelves.ThrowAway(picture))
		},
	}
	for name, change := range changes {
		t.Run(name, func(t *testing.T) {
			if testing.Short() && name != "a veil" {
				t.Skip("one change is enough to look for races")
			}
			t.Parallel()
			b := fresh(t)
			a := b.arrive("DSC_0001.JPG", photo(320, 320, 1))
			require.NoError(t, b.Bench.Send([]uint{a.ID}, bench.Assignment{Slot: "side", Section: "juniors"}))
			require.NoError(t, b.Pictures.SetName(a.ID, "juniors-boat"))
			require.NoError(t, describe(b.Desk, a.ID, "A boat"))
			b.placeIn(a.ID, "side")
			published, refused, step := 0, 0, 1
			if testing.Short() {
				step = 4
			}
			for n := 1; ; n += step {
				b.asBefore(a.ID)
				before, seen := b.liveFiles(), b.view().Seen
				s := &seam{n: n, do: func() { change(b, a.ID, n); before = b.liveFiles() }}
				b.store.Database().Watch(s.watch)
				_, err := b.Publish.Publish(context.Background(), b.page, seen, "", plainLayout)
				s.done.Wait()
				b.store.Database().Watch(nil)
				if s.seen < n {
					break // there are no more seams
				}
				if err != nil {
					refusal(t, err, access.Clash, "")
					refused++
					assert.Equal(t, before, b.liveFiles(), "seam %d: refused, and nothing changed for visitors", n)
					continue
				}
				published++
				b.traceable(fmt.Sprintf("seam %d", n))
			}
			assert.Greater(t, refused*step, 3, "changes before the transaction are noticed")
			assert.Positive(t, published, "changes after it come afterwards")
		})
	}
}

// asBefore undoes what a change did, and brings the page live as it is.
func (b *fixture) asBefore(picture uint) {
	b.t.Helper()
	if err := b.Shelves.BringBack(picture); err != nil {
		require.NoError(b.t, err)
	}
	v, err := b.Bench.View(picture)
	require.NoError(b.t, err)
	for _, e := range v.Consents {
		require.NoError(b.t, b.Pictures.DropConsent(picture, e.ID, pictures.ConsentMark(e), "it was noted by mistake"))
	}
	if !b.view().Shows(picture) {
		b.placeIn(picture, "side")
	}
	b.publish()
}

// liveFiles are the files that visitors get, by path and content.
func (b *fixture) liveFiles() map[string]string {
	b.t.Helper()
	files, err := b.store.FilesOf(b.page)
	require.NoError(b.t, err)
	all := map[string]string{}
	for _, f := range files {
		all[f.Path+" "+f.Hash] = f.CutKey
	}
	return all
}

// traceable holds what is live against the house: where the page is not listed as
// changed, it is what the draft gives now, file by file; where it is, its files are those
// of the version that is recorded with them.
func (b *fixture) traceable(when string) {
	b.t.Helper()
	pages, err := b.Pages.Pages()
	require.NoError(b.t, err)
	files, err := b.store.FilesOf(b.page)
	require.NoError(b.t, err)
	for _, f := range files {
		if f.PictureID == 0 {
			continue
		}
		cuts, err := b.store.Cuts(f.PictureID, f.CutKey)
		require.NoError(b.t, err)
		var hashes []string
		for _, c := range cuts {
			hashes = append(hashes, c.Hash)
		}
		assert.Contains(b.t, hashes, f.Hash, "%s: it is the cut that is recorded", when)
		pic, err := b.store.Picture(f.PictureID)
		require.NoError(b.t, err)
		if pages[0].Differs {
			continue
		}
		now, err := b.Cuts.MakeCuts(f.PictureID, "side")
		require.NoError(b.t, err)
		hashes = nil
		for _, c := range now {
			hashes = append(hashes, c.Hash)
		}
		assert.Contains(b.t, hashes, f.Hash, "%s: not listed as changed, so it is what the picture is now", when)
		assert.Equal(b.t, pic.OriginalHash, f.Original, when)
	}
	for _, v := range b.view().Findings {
		exposed, err := b.Bench.Exposures(v.Picture.ID)
		require.NoError(b.t, err)
		assert.True(b.t, v.Level != "stop" || len(exposed) > 0, "%s: what says stop now and is live is offered to be withdrawn", when)
	}
}

// What was signed is what goes live: whoever publishes a state that is not the newest is
// told what has changed, and by whom.
func TestOnlyWhatWasSeenIsPublished(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	picture := b.ready("juniors-boat", 1)
	b.place(picture)
	_, odo := b.two()
	seen := b.view().Seen
	assert.Equal(t, seen, snapshot.ParseSeen(seen.String()))
	require.NoError(t, describe(odo, picture, "Another boat on a lake"))
	_, err := b.Publish.Publish(t.Context(), b.page, seen, "", plainLayout)
	refusal(t, err, access.Clash, "juniors-boat: Described: “Another boat on a lake” (Odo)")
	assert.False(t, b.view().Live())
	for _, none := range []string{"", "1", "x.1", "1.1.5", "1.1.5-", "1.1.-5", "99999999999999999999.1"} {
		_, err := b.Publish.Publish(t.Context(), b.page, snapshot.ParseSeen(none), "", plainLayout)
		refusal(t, err, access.Bad, "which version of the page")
	}
	assert.True(t, b.publish().OK())
}

// Another file in the place of the old one: everything that shows the old one is known.
func TestASwappedFileIsCutAnew(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	picture := b.ready("juniors-boat", 1)
	b.place(picture)
	b.publish()
	old := b.images()[0].AttrOr("src", "")
	_, before := b.visit(old)
	_, err := b.Shelves.SwapFile(picture, "better.jpg", bytes.NewReader(photo(1600, 1000, 77)))
	require.NoError(t, err)
	pages, err := b.Pages.Pages()
	require.NoError(t, err)
	assert.True(t, pages[0].Differs, "the page is listed as changed")
	exposed, err := b.Bench.Exposures(picture)
	require.NoError(t, err)
	require.Len(t, exposed, 1)
	assert.Contains(t, exposed[0].Why, "another file was swapped in")
	b.publish()
	_, after := b.visit(b.images()[0].AttrOr("src", ""))
	assert.NotEqual(t, before, after, "the new file is cut")
	status, _ := b.visit(old)
	assert.Equal(t, 410, status, "the old one is gone (RFC 9110, 15.5.11)")
}

// What was edited while a better file was on its way is carried over to it.
func TestAVeilDrawnDuringASwapIsKept(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	picture := b.ready("juniors-boat", 1)
	r, w := io.Pipe()
	data := photo(1600, 1000, 77)
	swapped := make(chan error, 1)
	go func() { _, err := b.Shelves.SwapFile(picture, "better.jpg", r); swapped <- err }()
	_, err := w.Write(data[:1000])
	require.NoError(t, err)
	v := box(200, 200, 400, 300)
	require.NoError(t, b.Bench.Edit(picture, recipe.Edit{Op: recipe.OpVeil, Veil: &v}))
	_, err = w.Write(data[1000:])
	require.NoError(t, err)
	require.NoError(t, w.Close())
	require.NoError(t, <-swapped)
	assert.Len(t, b.veils(picture), 1)
}

// Two different files never share an address, on the site and in an archive: two
// unnamed pictures of equal width, equal files of two pictures, and one picture in two
// slots of equal width.
func TestTwoFilesNeverShareAnAddress(t *testing.T) {
	t.Parallel()
	for _, mark := range []string{"query", "suffix"} {
		b := fresh(t)
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
			ids = append(ids, b.arrive("IMG_0001.JPG", photo(1600, 1000, seed)).ID)
		}
		require.NoError(t, b.Bench.Send(ids, bench.Assignment{Slot: "column", Section: "juniors"}))
		for i, id := range ids {
			require.NoError(t, describe(b.Desk, id, fmt.Sprintf("Boat number %d", i)))
			b.place(id)
		}
		_, err = b.Pages.Insert(b.page, page.Behind("a"), page.Placement{Picture: ids[0], Slot: "again"})
		require.NoError(t, err)
		report, err := b.Publish.Publish(t.Context(), b.page, b.view().Seen, "They get their names tomorrow.", plainLayout)
		require.NoError(t, err)
		assert.True(t, report.OK(), "%+v", report.Checks)

		want := map[string]string{} // content by address, as the pictures' own cuts have it
		for _, img := range b.images() {
			for _, candidate := range strings.Split(img.AttrOr("srcset", ""), ",") {
				address := strings.Fields(candidate)[0]
				status, data := b.visit(address)
				require.Equal(t, 200, status)
				sum := hashOf(data)
				if other, ok := want[address]; ok {
					assert.Equal(t, other, sum, "%s: %s", mark, address)
				}
				want[address] = sum
			}
		}
		assert.Len(t, want, 8, "%s: four pictures in two densities have eight addresses", mark)
		files, err := b.store.FilesOf(b.page)
		require.NoError(t, err)
		shown := map[uint]int{}
		for _, f := range files {
			shown[f.PictureID]++
		}
		assert.Equal(t, []int{4, 2, 2}, []int{shown[ids[0]], shown[ids[1]], shown[ids[2]]}, "%s: each is traced to its picture", mark)

		var archive bytes.Buffer
		require.NoError(t, b.Publish.PageArchive(&archive, b.page, publish.Dressing{}))
		assert.Len(t, picturesIn(t, archive.Bytes()), 8, "%s: the archive has them all", mark)
	}
}

// An address that never was answers 404, one that was taken off 410; neither gives
// another file (RFC 9110, 15.5.5 and 15.5.11).
func TestUnknownAndWithdrawnAddresses(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	picture := b.ready("juniors-boat", 1)
	b.place(picture)
	b.publish()
	first := b.images()[0].AttrOr("src", "")
	bare, _, _ := strings.Cut(first, "?")
	for address, want := range map[string]int{first: 200, bare: 200, bare + "?v=ffffffffffffffff": 404, bare + "?v=f": 404, bare + "?v=%25": 404, "/juniors/other.jpg": 404} {
		status, _ := b.visit(address)
		assert.Equal(t, want, status, address)
	}
	require.NoError(t, b.Bench.SetFrame(picture, image.Rect(0, 0, 1500, 900)))
	b.publish()
	second := b.images()[0].AttrOr("src", "")
	require.NotEqual(t, first, second)
	for address, want := range map[string]int{first: 410, second: 200, bare: 200} {
		status, _ := b.visit(address)
		assert.Equal(t, want, status, address)
	}
	require.NoError(t, b.Publish.TakePageOff(b.page))
	for address, want := range map[string]int{first: 410, second: 410, bare: 410, "/juniors/autumn": 410} {
		status, _ := b.visit(address)
		assert.Equal(t, want, status, address)
	}
}

// The visitor's check compares contents: a file that is another one is noticed, though
// its type and its size are right.
func TestTheCheckNoticesAnotherFile(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	picture := b.ready("juniors-boat", 1)
	b.place(picture)
	assert.True(t, b.publish().OK())
	other := b.ready("juniors-other", 2)
	cuts, err := b.Cuts.MakeCuts(other, "")
	require.NoError(t, err)
	blob, err := b.store.Files.Open(cuts[0].Hash)
	require.NoError(t, err)
	defer blob.Close()
	wrong, err := io.ReadAll(blob)
	require.NoError(t, err)
	b.tamper = func(path string, data []byte) []byte {
		if strings.HasSuffix(path, "-640.jpg") {
			return wrong
		}
		return data
	}
	report, err := b.Publish.CheckLive(t.Context(), b.page)
	require.NoError(t, err)
	assert.False(t, report.OK())
	b.tamper = func(path string, data []byte) []byte { return bytes.Replace(data, []byte("One."), []byte("Two."), 1) }
	report, err = b.Publish.CheckLive(t.Context(), b.page)
	require.NoError(t, err)
	assert.False(t, report.OK(), "words that nobody signed")
	b.tamper = nil
	report, err = b.Publish.CheckLive(t.Context(), b.page)
	require.NoError(t, err)
	assert.True(t, report.OK(), "%+v", report.Checks)
}

// An earlier live version is put back only where nothing speaks against its pictures;
// its words and its arrangement are offered otherwise.
func TestWhatMayBePutBack(t *testing.T) {
	t.Parallel()
	for name, c := range map[string]struct {
		change func(b *fixture, picture uint)
		why    string
	}{
		"nothing": {func(*fixture, uint) {}, ""},
		"a veil taken off": {func(b *fixture, picture uint) {
			require.NoError(b.t, b.Bench.DropVeil(picture, pictures.Newest, b.veils(picture)[0]))
		}, ""},
		"words": {func(b *fixture, picture uint) { require.NoError(b.t, describe(b.Desk, picture, "Another boat")) }, ""},
		"another veil": {func(b *fixture, picture uint) {
			v := box(500, 400, 100, 60)
			require.NoError(b.t, b.Bench.Edit(picture, recipe.Edit{Op: recipe.OpVeil, Veil: &v}))
		}, "a veil was drawn"},
		"the veil moved": {func(b *fixture, picture uint) {
			v := box(250, 250, 300, 200)
			v.ID = b.veils(picture)[0]
			require.NoError(b.t, b.Bench.SetVeil(picture, pictures.Newest, v))
		}, "a veil was drawn"},
		"another file": {func(b *fixture, picture uint) {
			_, err := b.Shelves.SwapFile(picture, "b.jpg", bytes.NewReader(photo(660, 500, 9)))
			require.NoError(b.t, err)
		}, "another file was swapped in"},
		"a refusal":         {func(b *fixture, picture uint) { b.refuses(picture, "the one in red") }, "refused"},
		"a covered refusal": {func(b *fixture, picture uint) { b.refuses(picture, "the one in red", b.veils(picture)[0]) }, ""},
		"a consent that has ended": {func(b *fixture, picture uint) {
			until := b.now.AddDate(0, 0, 2)
			require.NoError(b.t, b.Pictures.SetConsent(picture, "", consent.Entry{Whom: "the one in red", State: consent.Allowed, Until: until.Format(time.DateOnly)}, ""))
			b.now = until
		}, "the permission of someone in juniors-boat has ended"},
		"thrown away": {func(b *fixture, picture uint) {
			require.NoError(b.t, b.Publish.ThrowAwayFrom(b.t.Context(), picture, plainLayout))
		}, "thrown away"},
		"gone from the bin": {func(b *fixture, picture uint) {
			require.NoError(b.t, b.Publish.ThrowAwayFrom(b.t.Context(), picture, plainLayout))
			b.now = b.now.AddDate(0, 0, 40)
			_, err := b.Shelves.EmptyBin()
			require.NoError(b.t, err)
		}, "gone for good"},
	} {
		t.Run(name, func(t *testing.T) {
			b := fresh(t)
			picture := b.arrive("DSC_0001.JPG", photo(660, 500, 1)).ID
			require.NoError(t, b.Bench.Send([]uint{picture}, bench.Assignment{Slot: "side", Section: "juniors"}))
			require.NoError(t, b.Pictures.SetName(picture, "juniors-boat"))
			require.NoError(t, describe(b.Desk, picture, "A boat"))
			v := box(200, 200, 300, 200)
			require.NoError(t, b.Bench.Edit(picture, recipe.Edit{Op: recipe.OpVeil, Veil: &v}))
			block := b.placeIn(picture, "side")
			b.publish()
			lives, err := b.Publish.Lives(b.page)
			require.NoError(t, err)
			old := lives[0].ID
			require.NoError(t, b.Pages.SetText(b.page, "a", b.mark("a"), "Other words."))
			b.publish()
			c.change(b, picture)
			before := b.liveFiles()
			_, err = b.Publish.PutBack(t.Context(), b.page, old)
			if c.why == "" {
				require.NoError(t, err)
				assert.Contains(t, b.livePage(), "One.")
				return
			}
			var outdated *publish.Outdated
			require.ErrorAs(t, err, &outdated)
			assert.Contains(t, outdated.What, c.why)
			assert.Equal(t, before, b.liveFiles(), "nothing changed for visitors")
			require.NoError(t, b.Publish.PutBackWords(b.page, outdated.Version))
			doc := b.view().Doc
			first, _ := doc.Block("a")
			assert.Equal(t, "One.", first.Text)
			there := name != "thrown away" && name != "gone from the bin"
			again, _ := doc.Block(block)
			require.NotNil(t, again.Placement)
			assert.Equal(t, there, again.Placement.Picture == picture, "a picture that is gone leaves a place that waits")
			assert.Equal(t, before, b.liveFiles(), "visitors see it when it is published")
		})
	}
}
