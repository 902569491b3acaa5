package withdraw_test

import (
	"bytes"
	"context"
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
	"mivlet/desk/desktest"
	"mivlet/desk/pictures"
	"mivlet/desk/withdraw"
	"mivlet/store"
)

// What is erased is gone: no file, no page of the database, no log of it holds the
// picture's bytes or its words any more.
func TestNothingIsLeftOfWhatIsErased(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	const alt, caption, name = "Xantippe paddles past the pier", "Xantippe again, quite unmistakable", "juniors-xantippe-paddles"
	original := desktest.Photo(1600, 1000, 1)
	picture := b.Arrive("Xantippe 0417.JPG", original).ID
	require.NoError(t, b.Bench.Send([]uint{picture}, bench.Assignment{Slot: "column", Section: "juniors"}))
	require.NoError(t, b.Pictures.SetName(picture, name))
	require.NoError(t, b.Pictures.SetName(picture, name+"-again")) // the first one stays as a former name
	require.NoError(t, b.Pictures.SetWords(picture, pictures.Newest, pictures.Words{Alt: alt, Caption: caption, Hidden: "Xantippe Quillfeather"}))
	b.Refuses(picture, "Xantippe's mother") // answered by a veil below
	v := desktest.BoxVeil(200, 200, 400, 300)
	require.NoError(t, b.Bench.Edit(picture, recipe.Edit{Op: recipe.OpVeil, Veil: &v}))
	c, err := b.Bench.View(picture)
	require.NoError(t, err)
	e := c.Consents[0]
	e.Veils = b.VeilsOf(picture)
	require.NoError(t, b.Pictures.SetConsent(picture, pictures.ConsentMark(e0(c)), e, ""))
	block := b.Place(picture)
	placed, _ := b.PageView().Doc.Block(block)
	placed.Placement.Caption, placed.Placement.Alt = caption, "Xantippe, described for this page"
	require.NoError(t, b.Pages.SetPlacement(b.PageID, block, 0, b.MarkOf(block), *placed.Placement))
	b.GoLive()
	require.NoError(t, b.Pages.SetText(b.PageID, "a", b.MarkOf("a"), "Other words."))
	b.GoLive()
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
	other := b.Ready("juniors-other", 2) // must stay as it is
	files := desktest.FilesOf(t, b.Dir)

	_, err = b.Withdraw.Erase(t.Context(), picture, withdraw.Erasing{Why: "no"})
	desktest.Refusal(t, err, access.Bad, "Say why")
	receipt, err := b.Withdraw.Erase(t.Context(), picture, withdraw.Erasing{Why: "The family asked for it", Variants: true, Names: true})
	require.NoError(t, err)
	t.Log(receipt)
	for _, words := range []string{alt, caption, "Xantippe", "xantippe", "Xantippe 0417.JPG", "Quillfeather"} {
		assert.Empty(t, holding(t, b.Dir, []byte(words)), words)
	}
	assert.Empty(t, holding(t, b.Dir, original[2000:2100]), "bytes of the original")
	for hash, data := range files {
		if strings.Contains(string(data), "Xantippe") || bytes.Equal(data, original) {
			assert.False(t, b.Kept.Files.Has(hash), "a page or a file of it")
		}
	}
	for _, id := range []uint{picture, variant} {
		_, err = b.Shelves.PictureCard(id)
		desktest.Refusal(t, err, access.Missing, "not here any more")
	}
	sheets, err := b.Measure.Sheets()
	require.NoError(t, err)
	assert.Empty(t, sheets)
	assert.NotContains(t, b.LivePage(), "Xantippe")
	assert.Contains(t, b.LivePage(), "Other words.", "the rest of the live page stays")
	report, err := b.Visits.Check(t.Context(), b.PageID)
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
	b.IsWhole()
}

// e0 is the first entry about who is seen.
func e0(c bench.View) consent.Entry { return c.Consents[0] }

// What somebody is making of a picture while it is erased is gone with it.
func TestErasingBesideWorkThatGoesOn(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	picture := b.Ready("juniors-xantippe", 1)
	b.Place(picture)
	var wg sync.WaitGroup
	slots := []string{"thumb", "side", "half", "column", "wide", "link", "strip"}
	if testing.Short() {
		slots = slots[:2] // enough to look for races
	}
	for _, slot := range slots {
		wg.Go(func() { _, _ = b.Cuts.MakeCuts(picture, slot) })
	}
	seen := b.PageView().Seen
	wg.Go(func() { _, _ = b.Publish.Publish(context.Background(), b.PageID, seen, "", desktest.PlainLayout) })
	wg.Go(func() {
		_, err := b.Withdraw.Erase(context.Background(), picture, withdraw.Erasing{Why: "The family asked for it", Names: true})
		assert.NoError(t, err)
	})
	wg.Wait()
	assert.Empty(t, holding(t, b.Dir, []byte("xantippe")))
	named, err := b.Kept.NamedFiles()
	require.NoError(t, err)
	for hash, data := range desktest.FilesOf(t, b.Dir) {
		assert.True(t, named[hash] || !bytes.HasPrefix(data, []byte("\xff\xd8")), "a cut is left that no record names")
	}
	b.IsWhole()
}

// Backups that have it are told: each of a few, and many in one line.
func TestBackupsOfWhatIsErasedAreTold(t *testing.T) {
	t.Parallel()
	for written, says := range map[int][]string{
		2:   {"the backup of 3 Nov 2026, 03:00", "the backup of 4 Nov 2026, 03:00"},
		300: {"the backups from 3 Nov 2026 to 29 Aug 2027, of which 300 were written, as far as they are kept"},
	} {
		b := desktest.Fresh(t)
		b.SetTime(time.Date(2026, 11, 2, 12, 0, 0, 0, time.UTC))
		picture := b.Ready("juniors-boat", 1)
		for day := range written {
			require.NoError(t, b.Kept.AddTrace(store.Trace{At: time.Date(2026, 11, 3+day, 3, 0, 0, 0, time.UTC), What: store.BackupText + ": 7 files"}))
		}
		b.SetTime(time.Date(2027, 9, 1, 12, 0, 0, 0, time.UTC))
		receipt, err := b.Withdraw.Erase(t.Context(), picture, withdraw.Erasing{Why: "The family asked for it"})
		require.NoError(t, err)
		var told []string
		for _, line := range receipt.Left {
			if strings.HasPrefix(line, "the backup") {
				told = append(told, line)
			}
		}
		assert.Equal(t, says, told)
	}
}

// With a variant that stays, the original stays, and the receipt says so. Where nobody
// asks for it, the names stay in the trail.
func TestWhatErasingLeavesIsTold(t *testing.T) {
	t.Parallel()
	b := desktest.FreshInFolder(t, func(*desk.Options) {})
	picture := b.Ready("juniors-boat", 1)
	variant, err := b.Shelves.NewVariant(picture)
	require.NoError(t, err)
	receipt, err := b.Withdraw.Erase(t.Context(), picture, withdraw.Erasing{Why: "The family asked for it"})
	require.NoError(t, err)
	assert.Contains(t, strings.Join(receipt.Left, "\n"), "which is made of the same file and keeps it")
	_, _, err = b.Derive.Look(variant)
	assert.NoError(t, err)
	assert.NotEmpty(t, holding(t, b.Dir, []byte("juniors-boat")), "the trail still names it")
	assert.Empty(t, holding(t, b.Dir, []byte("A boat on a quiet lake, erased")))
	b.IsWhole()
}

// A picture is taken off the air on the pages of all sections; its own people may do it.
func TestTakingAPictureOffTheAir(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	picture := b.Ready("juniors-boat", 1)
	b.Place(picture)
	desktest.Refusal(t, b.Withdraw.Withdraw(t.Context(), picture), access.Bad, "No live page and no banner shows")
	b.GoLive()
	src, before := b.Images()[0].AttrOr("src", ""), b.Images()[0]
	exposed, err := b.Bench.Exposures(picture)
	require.NoError(t, err)
	assert.Empty(t, exposed, "nothing has happened to it")
	v := desktest.BoxVeil(200, 200, 400, 300)
	require.NoError(t, b.Bench.Edit(picture, recipe.Edit{Op: recipe.OpVeil, Veil: &v}))
	exposed, err = b.Bench.Exposures(picture)
	require.NoError(t, err)
	require.Len(t, exposed, 1)
	assert.Contains(t, exposed[0].Why, "a veil was drawn on it")

	require.NoError(t, b.Withdraw.Withdraw(t.Context(), picture))
	after := b.Images()[0]
	for _, side := range []string{"width", "height"} {
		assert.Equal(t, before.AttrOr(side, ""), after.AttrOr(side, "-"))
	}
	for _, gone := range []string{"srcset", "sizes"} {
		assert.Empty(t, after.AttrOr(gone, ""))
	}
	status, _ := b.Visit(src)
	assert.Equal(t, 410, status)
	status, space := b.Visit(after.AttrOr("src", ""))
	assert.Equal(t, 200, status)
	assert.Contains(t, string(space), "<svg")
	assert.True(t, b.PageView().Differs, "the page wants publishing again")
	assert.True(t, b.PageView().Report.OK(), "%+v", b.PageView().Report.Checks)
	b.IsWhole()
	b.GoLive()
	assert.True(t, strings.HasSuffix(strings.Split(b.Images()[0].AttrOr("src", ""), "?")[0], "juniors-boat-640.jpg"))
	exposed, err = b.Bench.Exposures(picture)
	require.NoError(t, err)
	assert.Empty(t, exposed)
}

// What stands for a page alone, in lists and where it is shared, is found and erased as what
// stands on it is.
func TestACoverIsErasedWithEverythingOfIt(t *testing.T) {
	t.Parallel()
	b := desktest.Fresh(t)
	front, err := b.Covers.BeginFront("juniors", "")
	require.NoError(t, err)
	picture := b.Ready("juniors-boat", 1)
	require.NoError(t, b.Covers.Set(b.PageID, "", picture))
	require.NoError(t, b.Covers.SetLink(b.PageID, "", picture))
	b.GoLive()
	v, err := b.Pages.Page(front)
	require.NoError(t, err)
	_, err = b.Publish.Publish(t.Context(), front, v.Seen, "", desktest.PlainLayout)
	require.NoError(t, err)
	var made []string
	for _, id := range []uint{front, b.PageID} {
		files, err := b.Kept.FilesOf(id)
		require.NoError(t, err)
		for _, f := range files {
			if f.PictureID == picture {
				made = append(made, f.Hash)
			}
		}
	}
	require.GreaterOrEqual(t, len(made), 9, "three shapes in two densities, a link picture, and a tile on the front page")

	_, err = b.Withdraw.Erase(t.Context(), picture, withdraw.Erasing{Why: "The family asked for it", Names: true})
	require.NoError(t, err)
	kept := desktest.FilesOf(t, b.Dir)
	for _, hash := range made {
		assert.NotContains(t, kept, hash)
	}
	for _, data := range kept {
		assert.NotContains(t, string(data), "juniors-boat", "no address of it stays")
	}
	p, err := b.Kept.Page(b.PageID)
	require.NoError(t, err)
	assert.Nil(t, p.Doc.Cover)
	assert.Nil(t, p.Doc.Shared)
	ids, err := b.Kept.PagesThatShowed(picture)
	require.NoError(t, err)
	assert.Empty(t, ids)
	for _, id := range []uint{front, b.PageID} {
		r, err := b.Visits.Check(t.Context(), id)
		require.NoError(t, err)
		assert.True(t, r.OK(), "%v", r.Checks)
	}
	b.IsWhole()
}
