package desk_test

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"io"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"mivlet/core/consent"
	"mivlet/core/recipe"
	"mivlet/desk"
	"mivlet/desk/access"
	"mivlet/desk/bench"
	"mivlet/desk/pictures"
	"mivlet/desk/shelves"
	"mivlet/desk/withdraw"
	"mivlet/store"
	"mivlet/store/datafolder"
)

// What is erased is gone: no file, no page of the database, no log of it holds the
// picture's bytes or its words any more.
func TestNothingIsLeftOfWhatIsErased(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	const alt, caption, name = "Xantippe paddles past the pier", "Xantippe again, quite unmistakable", "juniors-xantippe-paddles"
	original := photo(1600, 1000, 1)
	picture := b.arrive("Xantippe 0417.JPG", original).ID
	require.NoError(t, b.Bench.Send([]uint{picture}, bench.Assignment{Slot: "column", Section: "juniors"}))
	require.NoError(t, b.Pictures.SetName(picture, name))
	require.NoError(t, b.Pictures.SetName(picture, name+"-again")) // the first one stays as a former name
	require.NoError(t, b.Pictures.SetWords(picture, pictures.Newest, pictures.Words{Alt: alt, Caption: caption, Hidden: "Xantippe Quillfeather"}))
	b.refuses(picture, "Xantippe's mother") // answered by a veil below
	v := box(200, 200, 400, 300)
	require.NoError(t, b.Bench.Edit(picture, recipe.Edit{Op: recipe.OpVeil, Veil: &v}))
	c, err := b.Bench.View(picture)
	require.NoError(t, err)
	e := c.Consents[0]
	e.Veils = b.veils(picture)
	require.NoError(t, b.Pictures.SetConsent(picture, pictures.ConsentMark(e0(c)), e, ""))
	block := b.place(picture)
	placed, _ := b.view().Doc.Block(block)
	placed.Placement.Caption, placed.Placement.Alt = caption, "Xantippe, described for this page"
	require.NoError(t, b.Pages.SetPlacement(b.page, block, 0, b.mark(block), *placed.Placement))
	b.publish()
	require.NoError(t, b.Pages.SetText(b.page, "a", b.mark("a"), "Other words."))
	b.publish()
	variant, err := b.Shelves.NewVariant(picture)
	require.NoError(t, err)
	for _, id := range []uint{picture, variant} {
		_, _, err = b.Derive.Look(id)
		require.NoError(t, err)
		_, err = b.Derive.Stage(id, -1)
		require.NoError(t, err)
	}
	_, err = b.Measure.AddSheet("the same file.jpg", bytes.NewReader(original), 1)
	require.NoError(t, err)
	_, err = b.Derive.TextLines(picture)
	require.NoError(t, err)
	other := b.ready("juniors-other", 2) // must stay as it is
	files := filesOf(t, b.dir)

	_, err = b.Withdraw.Erase(t.Context(), picture, withdraw.Erasing{Why: "no"})
	refusal(t, err, access.Bad, "Say why")
	receipt, err := b.Withdraw.Erase(t.Context(), picture, withdraw.Erasing{Why: "The family asked for it", Variants: true, Names: true})
	require.NoError(t, err)
	t.Log(receipt)
	for _, words := range []string{alt, caption, "Xantippe", "xantippe", "Xantippe 0417.JPG", "Quillfeather"} {
		assert.Empty(t, holding(t, b.dir, []byte(words)), words)
	}
	assert.Empty(t, holding(t, b.dir, original[2000:2100]), "bytes of the original")
	for hash, data := range files {
		if strings.Contains(string(data), "Xantippe") || bytes.Equal(data, original) {
			assert.False(t, b.store.Files.Has(hash), "a page or a file of it")
		}
	}
	for _, id := range []uint{picture, variant} {
		_, err = b.Shelves.PictureCard(id)
		refusal(t, err, access.Missing, "not here any more")
	}
	sheets, err := b.Measure.Sheets()
	require.NoError(t, err)
	assert.Empty(t, sheets)
	assert.NotContains(t, b.livePage(), "Xantippe")
	assert.Contains(t, b.livePage(), "Other words.", "the rest of the live page stays")
	report, err := b.Publish.CheckLive(t.Context(), b.page)
	require.NoError(t, err)
	assert.True(t, report.OK(), "%+v", report.Checks)

	left := strings.Join(receipt.Left, "\n")
	assert.Contains(t, left, "copies that visitors' browsers keep, until 3 Nov 2026", "a day later, as the house rules say")
	trail, err := b.People.Trail(store.TrailFilter{Most: 1})
	require.NoError(t, err)
	assert.Contains(t, trail[0].What, "The family asked for it")
	card, err := b.Shelves.PictureCard(other)
	require.NoError(t, err)
	assert.Equal(t, "juniors-other", card.Name)
	b.whole()
}

// e0 is the first entry about who is seen.
func e0(c bench.View) consent.Entry { return c.Consents[0] }

// filesOf reads all kept files, by their hashes.
func filesOf(t *testing.T, dir string) map[string][]byte {
	t.Helper()
	all := map[string][]byte{}
	names, err := filepath.Glob(filepath.Join(dir, "files", "??", "*"))
	require.NoError(t, err)
	for _, n := range names {
		data, err := os.ReadFile(n)
		require.NoError(t, err)
		all[filepath.Base(n)] = data
	}
	return all
}

// whole holds the data folder against its own check.
func (b *fixture) whole() {
	b.t.Helper()
	r, err := datafolder.Verify(b.dir, time.Hour)
	require.NoError(b.t, err)
	assert.Empty(b.t, r.Faults)
}

// What somebody is making of a picture while it is erased is gone with it.
func TestErasingBesideWorkThatGoesOn(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	picture := b.ready("juniors-xantippe", 1)
	b.place(picture)
	var wg sync.WaitGroup
	slots := []string{"thumb", "side", "half", "column", "wide", "link", "strip"}
	if testing.Short() {
		slots = slots[:2] // enough to look for races
	}
	for _, slot := range slots {
		wg.Go(func() { _, _ = b.Cuts.MakeCuts(picture, slot) })
	}
	seen := b.view().Seen
	wg.Go(func() { _, _ = b.Publish.Publish(context.Background(), b.page, seen, "", plainLayout) })
	wg.Go(func() {
		_, err := b.Withdraw.Erase(context.Background(), picture, withdraw.Erasing{Why: "The family asked for it", Names: true})
		assert.NoError(t, err)
	})
	wg.Wait()
	assert.Empty(t, holding(t, b.dir, []byte("xantippe")))
	named, err := b.store.NamedFiles()
	require.NoError(t, err)
	for hash, data := range filesOf(t, b.dir) {
		assert.True(t, named[hash] || !bytes.HasPrefix(data, []byte("\xff\xd8")), "a cut is left that no record names")
	}
	b.whole()
}

// With a variant that stays, the original stays, and the receipt says so. Where nobody
// asks for it, the names stay in the trail.
func TestWhatErasingLeavesIsTold(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	picture := b.ready("juniors-boat", 1)
	variant, err := b.Shelves.NewVariant(picture)
	require.NoError(t, err)
	receipt, err := b.Withdraw.Erase(t.Context(), picture, withdraw.Erasing{Why: "The family asked for it"})
	require.NoError(t, err)
	assert.Contains(t, strings.Join(receipt.Left, "\n"), "which is made of the same file and keeps it")
	_, _, err = b.Derive.Look(variant)
	assert.NoError(t, err)
	assert.NotEmpty(t, holding(t, b.dir, []byte("juniors-boat")), "the trail still names it")
	assert.Empty(t, holding(t, b.dir, []byte("A boat on a quiet lake, erased")))
	b.whole()
}

// What nothing refers to is swept away, and nothing else, however much goes on beside.
func TestSweepingBesideWorkThatGoesOn(t *testing.T) {
	t.Parallel()
	b := freshWith(t, func(o *desk.Options) { o.Grace = time.Hour })
	// What arrives lay there already, left over since long: the very thing a sweep takes.
	leftOver := func(file []byte) {
		hash := sha256.Sum256(file)
		name := hex.EncodeToString(hash[:])
		path, old := filepath.Join(b.dir, "files", name[:2], name), time.Now().AddDate(0, 0, -100)
		assert.NoError(t, os.MkdirAll(filepath.Dir(path), 0o700))
		assert.NoError(t, os.WriteFile(path+".left", file, 0o600))
		assert.NoError(t, os.Chtimes(path+".left", old, old))
		assert.NoError(t, os.Rename(path+".left", path))
	}
	var work, sweep sync.WaitGroup
	ended := make(chan struct{})
	sweeps := 0
	sweep.Go(func() {
		for {
			assert.NoError(t, b.Tidy())
			sweeps++
			select {
			case <-ended:
				return
			default:
			}
		}
	})
	rounds := 4
	if testing.Short() {
		rounds = 1 // enough to look for races
	}
	for n := range 3 {
		work.Go(func() {
			for i := range rounds {
				file := photo(400, 300, uint64(4*n+i))
				leftOver(file)
				a, err := b.Pictures.Arrive("a.jpg", bytes.NewReader(file), "juniors")
				if !assert.NoError(t, err) {
					return
				}
				assert.NoError(t, b.Bench.Send([]uint{a.ID}, bench.Assignment{Slot: "thumb", Section: "juniors"}))
				_, err = b.Cuts.MakeCuts(a.ID, "thumb")
				assert.NoError(t, err)
				_, err = b.Shelves.SwapFile(a.ID, "b.jpg", bytes.NewReader(photo(400, 300, uint64(100+n)))) // one content of several pictures
				assert.NoError(t, err)
				assert.NoError(t, b.Shelves.ThrowAway(a.ID))
			}
		})
	}
	work.Wait()
	close(ended)
	sweep.Wait()
	t.Logf("swept %d times beside the work", sweeps)
	b.whole()
	// Thrown away long enough ago, everything of them goes.
	b.mu.Lock()
	b.now = b.now.AddDate(0, 0, 40)
	b.mu.Unlock()
	b.age()
	require.NoError(t, b.Tidy())
	assert.Empty(t, filesOf(t, b.dir), "nothing refers to anything any more")
}

// age makes all kept files look as if they were kept long ago.
func (b *fixture) age() {
	b.t.Helper()
	old := time.Now().Add(-100 * 24 * time.Hour)
	for hash := range filesOf(b.t, b.dir) {
		require.NoError(b.t, os.Chtimes(filepath.Join(b.dir, "files", hash[:2], hash), old, old))
	}
}

// Old cuts, stage copies and thumbnails of frames go; what is live, or was, stays.
func TestWhatTheSweepKeeps(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	picture := b.ready("juniors-boat", 1)
	b.place(picture)
	b.publish()
	first := b.images()[0].AttrOr("src", "")
	v := box(200, 200, 400, 300)
	require.NoError(t, b.Bench.Edit(picture, recipe.Edit{Op: recipe.OpVeil, Veil: &v}))
	cuts, err := b.Cuts.MakeCuts(picture, "half")
	require.NoError(t, err)
	require.NoError(t, b.Bench.DropVeil(picture, pictures.Newest, b.veils(picture)[0]))
	b.now = b.now.AddDate(0, 0, 8)
	b.age()
	require.NoError(t, b.Tidy())
	assert.False(t, b.store.Files.Has(cuts[0].Hash), "a cut with a veil that was taken off")
	status, _ := b.visit(first)
	assert.Equal(t, 200, status, "what visitors see stays")
	f, _, err := b.Derive.Thumb(picture)
	require.NoError(t, err)
	f.Close()
	original, _, err := b.Shelves.OpenOriginal(picture)
	require.NoError(t, err)
	data, err := io.ReadAll(original)
	require.NoError(t, err)
	original.Close()
	assert.Equal(t, photo(1600, 1000, 1), data)
	b.whole()
}

// The bin is emptied while the program runs, not only when it starts.
func TestTheBinIsEmptiedOnTime(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	picture := b.ready("juniors-boat", 1)
	require.NoError(t, b.Shelves.ThrowAway(picture))
	ctx, stop := context.WithCancel(t.Context())
	ended := make(chan struct{})
	go func() { defer close(ended); b.Upkeep(ctx, 5*time.Millisecond) }()
	there := func() bool { _, err := b.store.Picture(picture); return err == nil }
	require.Never(t, func() bool { return !there() }, 50*time.Millisecond, 10*time.Millisecond, "it has its days")
	b.mu.Lock()
	b.now = b.now.AddDate(0, 0, 31)
	b.mu.Unlock()
	require.Eventually(t, func() bool { return !there() }, 20*time.Second, 10*time.Millisecond)
	stop()
	<-ended
}

// A picture that visitors see is not thrown away silently; it is taken off everywhere,
// published and thrown away in one go, or not at all.
func TestThrowingAwayWhatIsLive(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	picture := b.ready("juniors-boat", 1)
	block := b.place(picture)
	b.publish()
	require.NoError(t, b.Pages.TakeOff(b.page, block, 0, b.mark(block))) // off the draft, and still live
	err := b.Shelves.ThrowAway(picture)
	var used *shelves.OnPages
	require.ErrorAs(t, err, &used)
	assert.Contains(t, used.What, "Autumn (live)")
	assert.True(t, used.Uses[0].OnLive && !used.Uses[0].OnDraft)
	refusal(t, b.Publish.ThrowAwayFrom(t.Context(), picture, plainLayout), access.Clash, "other changes")
	require.NoError(t, b.Pages.PageStep(b.page, b.view().Version, b.view().Undo()))

	b.publish()
	src := b.images()[0].AttrOr("src", "")
	require.NoError(t, b.Publish.ThrowAwayFrom(t.Context(), picture, plainLayout))
	assert.Empty(t, b.images())
	assert.False(t, b.view().Differs)
	status, _ := b.visit(src)
	assert.Equal(t, 410, status)
	binned, err := b.Pictures.Binned()
	require.NoError(t, err)
	assert.Len(t, binned, 1)
	refusal(t, b.Pages.PageStep(b.page, b.view().Version, b.view().Undo()), access.Missing, "thrown away")
}

// A picture is taken off the air on the pages of all sections; its own people may do it.
func TestTakingAPictureOffTheAir(t *testing.T) {
	t.Parallel()
	b := fresh(t)
	picture := b.ready("juniors-boat", 1)
	b.place(picture)
	refusal(t, b.Withdraw.Withdraw(t.Context(), picture), access.Bad, "No live page shows")
	b.publish()
	src, before := b.images()[0].AttrOr("src", ""), b.images()[0]
	exposed, err := b.Bench.Exposures(picture)
	require.NoError(t, err)
	assert.Empty(t, exposed, "nothing has happened to it")
	v := box(200, 200, 400, 300)
	require.NoError(t, b.Bench.Edit(picture, recipe.Edit{Op: recipe.OpVeil, Veil: &v}))
	exposed, err = b.Bench.Exposures(picture)
	require.NoError(t, err)
	require.Len(t, exposed, 1)
	assert.Contains(t, exposed[0].Why, "a veil was drawn on it")

	require.NoError(t, b.Withdraw.Withdraw(t.Context(), picture))
	after := b.images()[0]
	for _, side := range []string{"width", "height"} {
		assert.Equal(t, before.AttrOr(side, ""), after.AttrOr(side, "-"))
	}
	for _, gone := range []string{"srcset", "sizes"} {
		assert.Empty(t, after.AttrOr(gone, ""))
	}
	status, _ := b.visit(src)
	assert.Equal(t, 410, status)
	status, space := b.visit(after.AttrOr("src", ""))
	assert.Equal(t, 200, status)
	assert.Contains(t, string(space), "<svg")
	assert.True(t, b.view().Differs, "the page wants publishing again")
	assert.True(t, b.view().Report.OK(), "%+v", b.view().Report.Checks)
	b.whole()
	b.publish()
	assert.True(t, strings.HasSuffix(strings.Split(b.images()[0].AttrOr("src", ""), "?")[0], "juniors-boat-640.jpg"))
	exposed, err = b.Bench.Exposures(picture)
	require.NoError(t, err)
	assert.Empty(t, exposed)
}
